import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { Part } from "../shared/Part";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useAddress } from "../shared/useAddress";
import { useRights } from "../shared/useSession";
import { WorthTold } from "../shared/WorthTold";
import { AskPanel } from "./AskPanel";
import { Curve } from "./Curve";
import { PlanKeyboard } from "./PlanKeyboard";
import styles from "./Propose.module.css";
import { Rows, type Shown } from "./Rows";
import { asAsked, platformsOf, settle, settledOn } from "./settled";
import type { AskedOf, Line, Point, Proposal } from "./useProposals";
import { useAsk, useDraftOf, usePoint, useProposal, useProposals, useStop } from "./useProposals";

const ANYTHING: AskedOf = {
  platform: "windows",
  together: [],
  pins: [],
  kept: [],
  bans: [],
  spared: [],
  departments: [],
  without: [],
  elsewhere: {},
  beside: null,
  budget: null,
  seconds: 60,
  curve: true,
};
const PLATFORM: Record<AskedOf["platform"], string> = { windows: "Windows", macos: "macOS", linux: "Linux" };

/** Keys for all tasks at once: asked for, walked along what relearning buys, made a draft of the standard. */
export function ProposeView() {
  const [params, change] = useAddress();
  const rights = useRights();
  const all = useProposals();
  const id = params.get("of") ?? all.data?.[0]?.id ?? null;
  const found = useProposal(id);
  const [asking, setAsking] = useState<AskedOf | null>(null);
  const ask = useAsk((made) => {
    setAsking(null);
    change({ of: made, at: null });
  });
  if (all.isError) return <Trouble error={all.error} again={() => all.refetch()} />;
  if (!all.data || (id !== null && found.isPending)) return <Waiting what="the proposals" />;
  if (found.isError) return <Trouble error={found.error} again={() => found.refetch()} />;
  const now = found.data;
  const panel = asking ?? (now ? null : rights.edit ? ANYTHING : null);
  return (
    <div className={styles.screen}>
      <div className={screen.top}>
        <h1>Propose a standard</h1>
        {now && <span>{told(now.asked)}</span>}
        <span className={screen.right}>
          {all.data.length > 1 && now && (
            <Part
              label="Proposal"
              value={when(now)}
              choices={all.data.map((p) => ({ key: p.id, text: when(p), more: told(p.asked), parts: { of: p.id } }))}
              chosen={now.id}
              change={(parts) => change({ ...parts, at: null })}
            />
          )}
          <Link to="/standard">Standard</Link>
        </span>
      </div>
      {panel && rights.edit && (
        <AskPanel asked={panel} busy={ask.isPending} onChange={setAsking} onAsk={() => ask.mutate(asAsked(panel))} />
      )}
      {!now && !rights.edit && (
        <Empty title="Nobody has asked for a proposal yet." whole>
          <p>Editors have keys chosen for all tasks of a platform at once.</p>
        </Empty>
      )}
      {now && !asking && (
        <Found
          key={now.id}
          proposal={now}
          onAsk={() => setAsking(now.asked)}
          onPin={(pins, platform) => setAsking(settle(now.asked, platform, { pins }))}
          onWithout={(asked) => ask.mutate(asked)}
        />
      )}
    </div>
  );
}

interface FoundProps {
  proposal: Proposal;
  onAsk: () => void;
  onPin: (pins: AskedOf["pins"], platform: AskedOf["platform"]) => void;
  onWithout: (asked: AskedOf) => void;
}

/** How the plan is called that a proposal was asked to be held against. */
const BESIDE = "beside";

function Found({ proposal, onAsk, onPin, onWithout }: FoundProps) {
  const [params, change] = useAddress();
  const rights = useRights();
  const { stop, goOn } = useStop(proposal.id);
  const points = proposal.points;
  const asked = Number(params.get("at")) || null;
  const at = points.find((p) => p.id === asked)?.id ?? points.at(-1)?.id ?? null;
  const point = usePoint(proposal.id, at);
  // What stands below is another point's still: nothing can be done with it, but which rows to look at can be chosen.
  const stale = point.isPlaceholderData;
  const given = proposal.asked.beside ?? null;
  const heldAgainst = params.get("beside") ?? (given ? BESIDE : "");
  const beside = points.find((p) => p.id === Number(heldAgainst))?.id ?? null;
  const own = usePoint(proposal.id, beside);
  const had = usePoint(given?.proposal ?? "", given?.point ?? null);
  const other = heldAgainst === BESIDE ? had : own;
  const isHeld = heldAgainst === BESIDE || beside !== null;
  const shown = (params.get("rows") ?? "changed") as Shown | "keyboard";
  const first = proposal.asked.platform;
  const platforms = point.data?.platforms.length ? point.data.platforms : [first];
  const on = platforms.find((p) => p === params.get("on")) ?? first;
  const here = point.data && only(point.data, on);
  const settled = settledOn(proposal.asked, on);
  const doWithout = (line: Line) => {
    const most = points.at(-1)?.id === at ? (proposal.asked.budget ?? null) : (point.data?.relearned ?? null);
    const without = [...settled.without, ...line.tasks.map((t) => ({ task: t.task, keys: t.keys.text }))];
    onWithout({
      ...settle(proposal.asked, on, { without }),
      beside: at === null ? null : { proposal: proposal.id, point: at },
      budget: most,
      curve: false,
    });
  };
  return (
    <>
      {proposal.state === "working" && (
        <div className={styles.busy} role="status">
          <span>
            {proposal.doing || "Waiting for a worker"}
            {proposal.best !== null && `: ${points_(proposal.best)} so far`}
            {proposal.best !== null && proposal.bound !== null && `, none below ${points_(proposal.bound)}`}
          </span>
          <LinearProgress aria-label="How far it is" />
          {rights.edit && (
            <Button color="inherit" variant="outlined" loading={stop.isPending} onClick={() => stop.mutate()}>
              Stop with the best so far
            </Button>
          )}
        </div>
      )}
      {(proposal.state === "stopped" || (proposal.state === "failed" && points.length > 0)) && rights.edit && (
        <div className={styles.stopped}>
          <span>
            {proposal.state === "stopped" ? "It was stopped with what there was." : "It broke off with what there was."}
          </span>
          <Button color="inherit" variant="outlined" loading={goOn.isPending} onClick={() => goOn.mutate()}>
            Go on from there
          </Button>
        </div>
      )}
      {proposal.says && (
        <p className={proposal.state === "failed" ? styles.failed : styles.note} role="status">
          {proposal.says}
        </p>
      )}
      {points.length > 0 && (
        <Curve
          points={points}
          chosen={at}
          says={stale ? reached(points, at) : point.data ? said(point.data) : ""}
          onChoose={(next) => change({ at: String(next) }, true)}
        />
      )}
      {point.data && (
        <div className={styles.worth}>
          <WorthTold worth={point.data.worth} />
        </div>
      )}
      {point.isError && <Trouble error={point.error} again={() => point.refetch()} />}
      {point.data && here && at !== null && (
        <div className={styles.plan} aria-busy={stale}>
          <div className={styles.bar}>
            <ToggleButtonGroup
              exclusive
              size="small"
              value={shown}
              aria-label="Which rows"
              onChange={(_, next: Shown | "keyboard" | null) =>
                next && change({ rows: next === "changed" ? null : next }, true)
              }
            >
              <ToggleButton value="changed">What changes</ToggleButton>
              <ToggleButton value="all">All tasks {here.lines.length}</ToggleButton>
              <ToggleButton value="keyboard">Keyboard</ToggleButton>
              <ToggleButton value="commands">Keep theirs, make room {here.changes.length}</ToggleButton>
              <ToggleButton value="clashes">Clashes made {here.makes.length}</ToggleButton>
            </ToggleButtonGroup>
            {platforms.length > 1 && (
              <span>
                on{" "}
                <Part
                  label="Platform"
                  value={PLATFORM[on]}
                  choices={platforms.map((p) => ({ key: p, text: PLATFORM[p], parts: { on: p === first ? "" : p } }))}
                  chosen={on}
                  change={(parts) => change({ on: parts.on || null, held: null }, true)}
                />
              </span>
            )}
            {shown === "changed" && (points.length > 1 || given) && (
              <span>
                against{" "}
                <Part
                  label="Held against"
                  value={heldAgainst === BESIDE ? HAD : against(points, beside)}
                  choices={[
                    ...(given ? [{ key: BESIDE, text: HAD, parts: { beside: BESIDE } }] : []),
                    { key: "", text: "the standard as it is", parts: { beside: "" } },
                    ...points
                      .filter((p) => p.id !== at)
                      .map((p) => ({
                        key: String(p.id),
                        text: against(points, p.id),
                        parts: { beside: String(p.id) },
                      })),
                  ]}
                  chosen={heldAgainst}
                  change={(parts) => change({ beside: parts.beside ?? "" })}
                />
              </span>
            )}
            {heldAgainst === BESIDE && had.data && <span role="status">{costs(point.data, had.data)}</span>}
          </div>
          <div className={styles.shown} inert={stale}>
            {shown === "keyboard" ? (
              <PlanKeyboard proposal={proposal.id} point={at} platform={on} />
            ) : (
              <Rows
                point={here}
                against={isHeld && other.data ? only(other.data, on) : null}
                shown={shown}
                pins={settled.pins}
                onPin={rights.edit ? (pins) => onPin(pins, on) : null}
                onWithout={rights.edit && proposal.state !== "working" ? doWithout : null}
              />
            )}
          </div>
          <div className={styles.foot} inert={stale}>
            {rights.edit && <Draft proposal={proposal} at={at} relearned={point.data.relearned} />}
            {rights.edit && (
              <Button variant="outlined" color="inherit" onClick={onAsk}>
                Pin or ban ...
              </Button>
            )}
            <span>{proven(point.data)}</span>
          </div>
        </div>
      )}
      {points.length === 0 && proposal.state !== "working" && rights.edit && (
        <div className={styles.foot}>
          <Button variant="contained" onClick={onAsk}>
            Ask anew
          </Button>
        </div>
      )}
    </>
  );
}

function Draft({ proposal, at, relearned }: { proposal: Proposal; at: number; relearned: number }) {
  const go = useNavigate();
  const draft = useDraftOf(proposal.id, at, (made) => go(`/standard?draft=${made}`));
  const name = `Proposal for ${namesOf(proposal.asked)}, ${relearned.toLocaleString("en")} keys relearned`;
  return (
    <Button variant="contained" loading={draft.isPending} onClick={() => draft.mutate(name)}>
      Make it a draft of the standard
    </Button>
  );
}

/** What a plan says of one platform; its figures stay those of all. */
function only(point: Point, platform: AskedOf["platform"]): Point {
  const here = (row: { platform?: AskedOf["platform"] | null }) => (row.platform ?? point.platform) === platform;
  return {
    ...point,
    lines: point.lines.filter(here),
    changes: point.changes.filter(here),
    makes: point.makes.filter(here),
  };
}

function namesOf(asked: AskedOf): string {
  const names = platformsOf(asked).map((p) => PLATFORM[p]);
  return names.length === 1 ? (names[0] ?? "") : `${names.slice(0, -1).join(", ")} and ${names.at(-1)}`;
}

function told(asked: AskedOf): string {
  const parts = [namesOf(asked)];
  const settled = platformsOf(asked).map((p) => settledOn(asked, p));
  const pins = settled.flatMap((s) => s.pins).length;
  const without = settled.flatMap((s) => s.without).length;
  const bans = settled.flatMap((s) => s.bans);
  if (pins) parts.push(`${pins} pinned`);
  if (without) parts.push(without === 1 ? "1 key done without" : `${without} keys done without`);
  if (bans.length) parts.push(`${bans.join(", ")} banned`);
  const alone = asked.spared.length + asked.departments.length;
  if (alone) parts.push(`${alone} left alone`);
  if (asked.budget !== null && asked.budget !== undefined)
    parts.push(`at most ${asked.budget.toLocaleString("en")} relearned`);
  return parts.join("; ");
}

function when(proposal: Proposal): string {
  const at = new Date(proposal.at);
  return `${proposal.by}, ${at.toLocaleDateString("en-GB", { day: "numeric", month: "short" })} ${at.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })}`;
}

function against(points: Proposal["points"], id: number | null): string {
  const found = points.find((p) => p.id === id);
  return found ? `the plan with ${found.relearned.toLocaleString("en")} relearned` : "the standard as it is";
}

const HAD = "the plan that has the key";

/** What doing without a key costs, exactly: the points of the plan that hasn't it against those of the one that has. */
function costs(point: Point, had: Point): string {
  const more = point.judged.points.total - had.judged.points.total;
  if (more === 0) return "Doing without the key costs nothing.";
  return more > 0 ? `Doing without the key costs ${points_(more)}.` : `Doing without the key saves ${points_(-more)}.`;
}

function points_(points: number): string {
  return `${Math.round(points).toLocaleString("en")} points`;
}

/** What is known of a point before all of it is here. */
function reached(points: Proposal["points"], id: number | null): string {
  const found = points.find((p) => p.id === id);
  return found ? `${found.relearned.toLocaleString("en")} relearned, worth ${points_(found.worth)}` : "";
}

function said(point: Point): string {
  const saved = point.today.points.total - point.judged.points.total;
  const share = point.judged.could ? Math.round((100 * point.judged.agree) / point.judged.could) : 100;
  return `${point.relearned.toLocaleString("en")} relearned, worth ${points_(saved)}; ${share} % of what could agree does`;
}

function proven(point: Point): string {
  if (point.status === "optimal" && point.over_all) return "Proven: none for so much relearning is better.";
  const among = point.over_all ? "" : " among the cheapest keys of each task";
  if (point.gap < 0.0005) return `Proven${among}.`;
  return `None${among} can be better by more than ${(100 * point.gap).toFixed(1)} %.`;
}
