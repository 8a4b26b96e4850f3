import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Link } from "react-router";
import { One } from "../shared/fields";
import { wordsOf } from "../shared/Says";
import { saveKey } from "../shared/saveKey";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import { useSettled } from "../shared/useSettled";
import { WorthTold } from "../shared/WorthTold";
import { DraftedWave } from "./DraftedWave";
import styles from "./Rollouts.module.css";
import type { Draft, DraftWave, Drawn } from "./useRollouts";
import { useBegin, useDrawn, useOffered, useReleaseWorth } from "./useRollouts";
import { counted, firstDraft, isWhole, newWave } from "./words";

const MOST_WAVES = 12;

/** Planning a release: what goes out, in which waves, and what that would do before it begins. */
export function PlanView() {
  const rights = useRights();
  const offered = useOffered();
  const [draft, setDraft] = useState<Draft>(firstDraft);
  const settled = JSON.parse(useSettled(JSON.stringify(draft))) as Draft;
  const begin = useBegin();
  if (!rights.release) {
    return (
      <Empty whole title="Releases are planned by releasers.">
        <p>
          <Link to="/machines/releases">Look at those there are</Link>
        </p>
      </Empty>
    );
  }
  if (offered.isError) return <Trouble error={offered.error} again={() => offered.refetch()} />;
  if (!offered.data) return <Waiting what="what can go out" />;
  const { documents, departments, machines } = offered.data;
  const waves = draft.plan.waves;
  const setPlan = (part: Partial<Draft["plan"]>) => setDraft((d) => ({ ...d, plan: { ...d.plan, ...part } }));
  const setWave = (n: number, wave: DraftWave) => setPlan({ waves: waves.map((w, i) => (i === n ? wave : w)) });
  const able = isWhole(draft) && !begin.isPending;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Ctrl+Enter begins it
    <div style={{ display: "contents" }} onKeyDown={saveKey(() => able && begin.mutate(draft))}>
      <div className={screen.top}>
        <h1>Plan a release</h1>
        <span className={screen.right}>
          <Link to="/machines/releases">All releases</Link>
        </span>
      </div>
      <div className={styles.drawing}>
        <div className={styles.plan}>
          <div className={styles.draft}>
            <div style={{ width: 330 }}>
              <One
                label="What goes out"
                value={draft.of?.[0] ?? ""}
                choices={documents.map((d) => ({ id: d.key, name: `${d.name}, revision ${d.number}` }))}
                none="everything that is released"
                onChange={(id) => setDraft((d) => ({ ...d, of: id === "" ? [] : [id] }))}
              />
            </div>
            <TextField
              label="Keys that are given up work on for days"
              type="number"
              value={draft.plan.overlap_days ?? 0}
              onChange={(e) => setPlan({ overlap_days: Math.max(0, Math.min(365, Number(e.target.value) || 0)) })}
              sx={{ width: 260 }}
            />
          </div>
          {waves.map((wave, n) => (
            <DraftedWave
              // biome-ignore lint/suspicious/noArrayIndexKey: a wave has no other identity than its place
              key={n}
              wave={wave}
              number={n}
              departments={departments}
              machines={machines}
              onChange={(w) => setWave(n, w)}
              onGone={waves.length > 1 ? () => setPlan({ waves: waves.filter((_, i) => i !== n) }) : undefined}
            />
          ))}
          <div className={styles.begin}>
            <Button
              color="inherit"
              variant="outlined"
              disabled={waves.length >= MOST_WAVES}
              onClick={() =>
                setPlan({ waves: [...waves.slice(0, -1), newWave("Another wave", "share", 10), ...waves.slice(-1)] })
              }
            >
              One more wave
            </Button>
            <Button variant="contained" disabled={!able} loading={begin.isPending} onClick={() => begin.mutate(draft)}>
              Begin the release
            </Button>
          </div>
        </div>
        <section className={styles.would} aria-label="What it would do">
          {isWhole(settled) ? <WouldDo draft={settled} /> : <p>Say of each wave which machines are in it.</p>}
        </section>
      </div>
    </div>
  );
}

function WouldDo({ draft }: { draft: Draft }) {
  const drawn = useDrawn(draft);
  if (drawn.isError) {
    return (
      <div role="alert">
        {wordsOf(drawn.error).map((line) => (
          <p key={line}>{line}</p>
        ))}
      </div>
    );
  }
  if (!drawn.data) return <Waiting what="what it would do" />;
  return (
    <>
      <Told drawn={drawn.data} />
      <ReleaseWorth draft={draft} />
    </>
  );
}

/** Asked for apart: who plans needn't wait for it. */
function ReleaseWorth({ draft }: { draft: Draft }) {
  const worth = useReleaseWorth(draft.of).data;
  if (!worth || worth.says.length === 0) return null;
  return (
    <>
      <h2>What it is worth</h2>
      <WorthTold worth={worth} />
    </>
  );
}

function Told({ drawn }: { drawn: Drawn }) {
  return (
    <>
      <p role="status">
        <b>{drawn.title}</b> reaches {counted(drawn.machines, "machine")} of {counted(drawn.people, "person", "people")}
        .{drawn.not_in_a_wave > 0 && ` ${counted(drawn.not_in_a_wave, "machine is", "machines are")} in no wave.`}
      </p>
      <h2>Waves</h2>
      <ol>
        {drawn.waves.map((w) => (
          <li key={w.name}>
            <b>{w.name}</b>: {counted(w.many, "machine")}, {counted(w.people, "person", "people")}
            <br />
            <small>
              {w.machines
                .slice(0, 8)
                .map((m) => m.name)
                .join("; ")}
              {w.many > 8 && ` and ${w.many - 8} more`}
            </small>
          </li>
        ))}
      </ol>
      <h2>Who relearns what</h2>
      {drawn.relearned.length === 0 ? (
        <p>Nobody: no key moves against what machines were given last.</p>
      ) : (
        <>
          <p>{counted(drawn.learners, "person", "people")}.</p>
          <ul>
            {drawn.relearned.slice(0, 20).map((r) => (
              <li key={`${r.program} ${r.command} ${r.before} ${r.after}`}>
                {r.command} in {r.program}: {r.before || "no keys"} becomes {r.after || "no keys"}{" "}
                <small>{counted(r.people, "person", "people")}</small>
              </li>
            ))}
          </ul>
        </>
      )}
      {drawn.cannot.length > 0 && (
        <>
          <h2>Can't take it</h2>
          <ul>
            {alike(drawn.cannot).map(([why, names]) => (
              <li key={why}>
                {why} <small>{names.slice(0, 8).join("; ")}</small>
                {names.length > 8 && <small> and {names.length - 8} more</small>}
              </li>
            ))}
          </ul>
        </>
      )}
      {drawn.closes.length > 0 && (
        <>
          <h2>Has to be closed first</h2>
          <ul>
            {drawn.closes.map((c) => (
              <li key={c.program}>
                {c.program} on {counted(c.machines, "machine")}: written after it has ended
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

/** The machines that can't take it for the same reason. */
function alike(cannot: Drawn["cannot"]): [string, string[]][] {
  const found = new Map<string, string[]>();
  for (const { why, machine } of cannot) found.set(why, [...(found.get(why) ?? []), machine]);
  return [...found];
}
