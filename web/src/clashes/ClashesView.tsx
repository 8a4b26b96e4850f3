import Button from "@mui/material/Button";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useDeferredValue, useMemo, useState } from "react";
import type { Place } from "../keyboard/strip";
import { useKeyChoice, useShownOnStrip } from "../keyboard/strip";
import { byPosition } from "../keyboard/strokes";
import { useLens } from "../shared/lens";
import screen from "../shared/screen.module.css";
import { useSetupName } from "../shared/setupsInWords";
import { Trouble, Waiting } from "../shared/states";
import { useAddress } from "../shared/useAddress";
import styles from "./Clashes.module.css";
import { Decided } from "./Decided";
import { FilterBar } from "./FilterBar";
import type { Tab } from "./filters";
import { addressOf, filterParts, filtersFrom, isAsked, matches, NOTHING, shown } from "./filters";
import { NothingThere } from "./NothingThere";
import { RowList } from "./RowList";
import { SeveralPanel } from "./SeveralPanel";
import { differing, sidesOf } from "./sides";
import type { Group } from "./useClashes";
import { useClashes, useDecided, useMeant } from "./useClashes";
import { useKeysAsked } from "./useKeysAsked";

const NOBODY: ReadonlySet<string> = new Set();
const NONE: Group[] = [];

/** Where presses stop: one row a group, its press running through the stations to where it is taken. */
export function ClashesView() {
  const [lens] = useLens();
  const [params, change] = useAddress();
  const tab = (params.get("show") ?? "open") as Tab;
  const everywhere = lens?.everywhere ?? false;
  const clashes = useClashes(lens?.setup.setup, everywhere);
  const there = useClashes(lens?.against?.setup, false);
  const meant = useMeant(lens?.setup.setup, everywhere, tab === "meant");
  const decided = useDecided("", 1);
  const asked = filterParts(params);
  const filters = useMemo(() => filtersFrom(new URLSearchParams(asked)), [asked]);
  const nameOf = useSetupName();
  const strokes = useKeysAsked(lens, filters.keys);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(NOBODY);
  useKeyChoice((code, held) => change(addressOf({ keys: byPosition(code, held) })));
  const data = clashes.data;
  const sides = useMemo(
    () => sidesOf(data?.groups ?? NONE, lens?.against ? (there.data?.groups ?? NONE) : null),
    [data, there.data, lens?.against],
  );
  const open = useMemo(() => sides.groups.filter((g) => g.allowed === null), [sides]);
  const allowed = useMemo(() => sides.groups.filter((g) => g.allowed !== null), [sides]);
  const all = tab === "meant" ? (meant.data?.groups ?? NONE) : tab === "allowed" ? allowed : open;
  const found = useMemo(() => all.filter((g) => matches(g, filters, strokes, nameOf)), [all, filters, strokes, nameOf]);
  // The rows are drawn first: how many of each kind there are may come a moment later.
  const counted = useDeferredValue(found);
  const told = useDeferredValue(data);
  const wanted = lens?.onlyDiffers ? found.filter((g) => differing(sides, g)) : found;
  // What is allowed, or was meant, is looked at whatever its severity.
  const rows = shown(
    wanted,
    tab === "open" ? filters : { ...filters, severities: ["blocker", "high", "medium", "low"] },
  );
  const at = params.get("clash");
  const picked = rows.find((g) => g.identity === at);
  const { stroke = null, subject } = picked ?? {};
  const where = picked ? placeOf(picked) : null;
  useShownOnStrip(stroke?.modifiers ?? null, stroke?.code ?? null, subject?.command_name ?? "", where);
  if (clashes.isError) return <Trouble error={clashes.error} again={() => clashes.refetch()} />;
  if (!data || !lens) return <Waiting what="the clashes" />;
  const several = rows.filter((g) => chosen.has(g.identity));
  const show = (next: Tab | null) => {
    if (!next) return;
    setChosen(NOBODY);
    change({ show: next === "open" ? null : next, clash: null }, true);
  };
  return (
    <div className={styles.screen}>
      <div className={screen.top}>
        <h1>Where presses stop</h1>
        <span role="status">
          <b>{open.length}</b> {open.length === 1 ? "group" : "groups"} to decide, <b>{data.people}</b> people,{" "}
          {data.setups} {data.setups === 1 ? "setup" : "setups"}
          {tab !== "decided" && rows.length !== all.length && (
            <>
              ; <b>{rows.length}</b> in sight
            </>
          )}
        </span>
        {tab !== "decided" && isAsked(filters) && (
          <Button color="inherit" onClick={() => change(addressOf(NOTHING))}>
            Ask for all
          </Button>
        )}
        <span className={screen.right}>
          <ToggleButtonGroup
            exclusive
            size="small"
            value={tab}
            onChange={(_, next: Tab | null) => show(next)}
            aria-label="Which clashes"
          >
            <ToggleButton value="open">To decide {open.length}</ToggleButton>
            <ToggleButton value="allowed">Allowed {allowed.length}</ToggleButton>
            <ToggleButton value="decided">Decided {decided.data?.total ?? ""}</ToggleButton>
            <ToggleButton value="meant">Meant by the maker {meant.data?.groups.length ?? ""}</ToggleButton>
          </ToggleButtonGroup>
        </span>
      </div>
      {tab === "decided" ? (
        <Decided />
      ) : (
        <>
          <FilterBar lens={lens} data={told ?? data} groups={counted} tab={tab} filters={filters} change={change} />
          {several.length > 0 && <SeveralPanel key={tab} groups={several} tab={tab} onDone={() => setChosen(NOBODY)} />}
          {tab === "meant" && meant.isPending ? (
            <Waiting what="what makers meant" />
          ) : rows.length === 0 ? (
            <NothingThere
              tab={tab}
              asked={rows.length !== all.length}
              clear={() => change({ ...addressOf(NOTHING), "f.severity": null, differs: null })}
            />
          ) : (
            <RowList
              groups={rows}
              tab={tab}
              at={at}
              setAt={(id) => change({ clash: id })}
              chosen={chosen}
              onChosen={setChosen}
              sideOf={(g: Group) => sides.of.get(g.identity) ?? null}
              against={lens.against?.short ?? ""}
              stale={clashes.isPlaceholderData && tab !== "meant"}
            />
          )}
        </>
      )}
    </div>
  );
}

/** Where a clash is: its press is looked at there, whatever the lens has in focus. */
function placeOf({ seen_in, focus }: Group): Place {
  return { setup: seen_in, program: focus?.program ?? null, scope: focus?.scope ?? null };
}
