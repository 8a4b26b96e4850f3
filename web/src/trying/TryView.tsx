import Button from "@mui/material/Button";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useCallback, useRef, useState } from "react";
import type { Judgement } from "../keyboard/PressField";
import { PressField } from "../keyboard/PressField";
import { useDraftsOnStrip, useKeyChoice, useShownOnStrip } from "../keyboard/strip";
import { byPosition } from "../keyboard/strokes";
import type { Given } from "../keyboard/usePress";
import { Refusal } from "../shared/Consequences";
import type { Lens } from "../shared/lens";
import { useLens, useLenses } from "../shared/lens";
import { useAction } from "../shared/own/own";
import screen from "../shared/screen.module.css";
import { Empty, Waiting } from "../shared/states";
import { useAddress, useSetAddress } from "../shared/useAddress";
import type { Lane } from "./address";
import { laneFrom, laneText } from "./address";
import { DraftsPanel } from "./DraftsPanel";
import { LaneView } from "./LaneView";
import { RecordsView } from "./RecordsView";
import styles from "./Try.module.css";
import { UntestedView } from "./UntestedView";
import { useDrafts, useRecords, useTried, useUntested } from "./useTry";

type Tab = "try" | "records" | "untested";
const MOST = 3;

/** Pressing something to see its way, in up to three places side by side; what was tested, and what nobody has tested yet. */
export function TryView() {
  const [lens] = useLens();
  const [params, change] = useAddress();
  const tab = (params.get("show") ?? "try") as Tab;
  const records = useRecords("", false, 1).data;
  const untested = useUntested().data;
  const show = (next: Tab | null) => next && change({ show: next === "try" ? null : next }, true);
  if (!lens) return <Waiting what="the lens" />;
  return (
    <>
      <div className={screen.top}>
        <h1>Try a press</h1>
        <span>Its way through the stations, in up to three places side by side.</span>
        <span className={screen.right}>
          <ToggleButtonGroup
            exclusive
            size="small"
            value={tab}
            onChange={(_, next: Tab | null) => show(next)}
            aria-label="Trying and testing"
          >
            <ToggleButton value="try">Try</ToggleButton>
            <ToggleButton value="untested">Untested {untested?.length ?? ""}</ToggleButton>
            <ToggleButton value="records">Test records {records?.total ?? ""}</ToggleButton>
          </ToggleButtonGroup>
        </span>
      </div>
      {tab === "records" ? <RecordsView /> : tab === "untested" ? <UntestedView /> : <Trying lens={lens} />}
    </>
  );
}

function lanesFrom(params: URLSearchParams, lens: Lens): Lane[] {
  const asked = params.getAll("lane").map(laneFrom).slice(0, MOST);
  return asked.length > 0 ? asked : [{ setup: lens.setup.setup, program: lens.program, scope: lens.scope }];
}

/** What was given to a press field, as text for the address: recorded keys by their place. */
function textOf(given: Given | null): string {
  if (given === null) return "";
  if ("text" in given) return given.text;
  return given.strokes.map((s) => (s.code ? byPosition(s.code, s.modifiers) : s.modifiers.join("+"))).join(" then ");
}

function Trying({ lens }: { lens: Lens }) {
  const lenses = useLenses().data ?? [];
  const [params, change] = useAddress();
  const setAddress = useSetAddress();
  const [drafts, setDrafts] = useDrafts();
  const [whatIf, setWhatIf] = useState(drafts.length > 0);
  const press = params.get("press") ?? "";
  const lanes = lanesFrom(params, lens);
  const tried = useTried(lanes, press, drafts);
  const stroke = press ? tried.data?.lanes[0]?.presses.at(-1)?.stroke : undefined;
  const outcome = tried.data?.lanes[0]?.outcome ?? "";
  useShownOnStrip(stroke?.modifiers ?? null, stroke?.code ?? null, outcome, lanes[0]);
  useDraftsOnStrip(drafts);
  const setPress = useCallback((next: string) => change({ press: next }), [change]);
  const setLanes = (next: Lane[]) =>
    setAddress((address) => {
      address.delete("lane");
      for (const lane of next) address.append("lane", laneText(lane));
    }, true);
  const onJudged = useCallback(
    (judged: Judgement | null, given: Given | null) => {
      if (judged && given) setPress(textOf(given));
    },
    [setPress],
  );
  useKeyChoice((code, held) => setPress(byPosition(code, held)));
  const field = useRef<HTMLDivElement>(null);
  useAction("keys", () => field.current?.querySelector("input")?.focus());
  const first = lanes[0];
  return (
    <div className={styles.trying}>
      <div className={styles.ask}>
        <div ref={field} role="group" aria-label="Press to try">
          <PressField
            label="Press, click or type"
            setup={first?.setup ?? lens.setup.setup}
            program={first?.program ?? null}
            scope={first?.scope ?? null}
            onJudged={onJudged}
          />
        </div>
        <Button
          variant={whatIf ? "contained" : "outlined"}
          color="inherit"
          aria-expanded={whatIf}
          onClick={() => setWhatIf(!whatIf)}
        >
          What if {drafts.length > 0 ? `(${drafts.length})` : "…"}
        </Button>
      </div>
      {whatIf && (
        <DraftsPanel
          setup={first?.setup ?? lens.setup.setup}
          drafts={drafts}
          onDrafts={setDrafts}
          told={press ? (tried.data?.drafts ?? null) : null}
        />
      )}
      {tried.isError && (
        <div className={styles.refusal}>
          <Refusal error={tried.error} />
        </div>
      )}
      {press === "" ? (
        <Empty title="Nothing is pressed yet.">
          <p>Press something above, click a key of the keyboard below, or type a shortcut: its way is drawn here.</p>
        </Empty>
      ) : (
        <section
          className={styles.lanes}
          style={{ gridTemplateColumns: `repeat(${lanes.length}, minmax(0, 1fr))` }}
          aria-label="Lanes"
        >
          {lanes.map((lane, n) => (
            <LaneView
              // biome-ignore lint/suspicious/noArrayIndexKey: two lanes may be the same place for a moment
              key={n}
              lane={lane}
              lenses={lenses}
              tried={tried.data?.lanes[n]}
              press={press}
              number={n + 1}
              onLane={(next) => setLanes(lanes.map((l, at) => (at === n ? next : l)))}
              onRemove={lanes.length > 1 ? () => setLanes(lanes.filter((_, at) => at !== n)) : null}
            />
          ))}
        </section>
      )}
      {press !== "" && lanes.length < MOST && first && (
        <div className={styles.more}>
          <Button variant="outlined" color="inherit" onClick={() => setLanes([...lanes, lanes.at(-1) ?? first])}>
            Another place beside it
          </Button>
        </div>
      )}
    </div>
  );
}
