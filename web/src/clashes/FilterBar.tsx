import Button from "@mui/material/Button";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { memo, useCallback, useState } from "react";
import { ByKeys, KeysToLookFor } from "../keyboard/ByKeys";
import type { Judgement } from "../keyboard/PressField";
import { One } from "../shared/fields";
import type { Lens } from "../shared/lens";
import { useLenses } from "../shared/lens";
import { useAction } from "../shared/own/own";
import { Sheets } from "../shared/Sheets";
import { Words } from "../shared/Words";
import styles from "./Clashes.module.css";
import type { Filters, Severity, Tab } from "./filters";
import { addressOf, countsOf, SEVERITIES } from "./filters";
import { STATIONS } from "./stations";
import type { Clashes, Group } from "./useClashes";

interface FilterBarProps {
  lens: Lens;
  data: Clashes;
  /** Everything that is looked for, whatever its severity. */
  groups: Group[];
  tab: Tab;
  filters: Filters;
  change: (parts: Record<string, string | null>) => void;
}

/** What rows are chosen by: words, keys, kind, program, station, department, setup, what is new, how bad it is. */
export const FilterBar = memo(function FilterBar(props: FilterBarProps) {
  const { lens, data, groups, tab, filters, change } = props;
  const lenses = useLenses().data ?? [];
  const [byKeys, setByKeys] = useState(filters.keys !== "");
  // An address that asks for keys shows them; only who asks now gets the focus.
  const [asks, setAsks] = useState(false);
  const set = (part: Partial<Filters>) => change(addressOf(part));
  const counts = countsOf(groups);
  const onJudged = useCallback(
    (j: Judgement | null) => {
      if (j) change(addressOf({ keys: j.shortcut.text }));
    },
    [change],
  );
  useAction("words", () => document.getElementById("words")?.focus());
  useAction("keys", () => {
    setByKeys(true);
    setAsks(true);
  });
  const programs = [...new Map(data.groups.map((g) => [g.subject.program, g.subject.program_name]))];
  return (
    <search className={styles.filters} aria-label="Choose clashes">
      <Words id="words" value={filters.words} onChange={(words) => set({ words })} width={104} />
      <div className={styles.select}>
        <One
          label="Kind"
          none="any"
          value={filters.kind}
          choices={data.kinds.filter((k) => k.id === filters.kind || data.groups.some((g) => g.kind === k.id))}
          onChange={(kind) => set({ kind })}
        />
      </div>
      <div className={styles.select}>
        <One
          label="Program"
          none="any"
          value={filters.program}
          choices={programs.map(([id, name]) => ({ id, name })).toSorted((a, b) => a.name.localeCompare(b.name))}
          onChange={(program) => set({ program })}
        />
      </div>
      <div className={styles.select}>
        <One
          label="Stops at"
          none="any station"
          value={filters.station}
          choices={STATIONS.map((s) => ({ id: s.id, name: `${s.name}, ${s.more}` }))}
          onChange={(station) => set({ station })}
        />
      </div>
      {data.departments.length > 0 && (
        <div className={styles.select}>
          <One
            label="Department"
            none="any"
            value={filters.department}
            choices={data.departments}
            onChange={(department) => set({ department })}
          />
        </div>
      )}
      {lens.everywhere && (
        <div className={styles.select}>
          <One
            label="Setup"
            none="any"
            value={filters.setup}
            choices={lenses.map((l) => ({ id: l.setup, name: l.name }))}
            onChange={(setup) => set({ setup })}
          />
        </div>
      )}
      <ByKeys
        on={byKeys}
        onSwitch={() => {
          setByKeys(!byKeys);
          setAsks(true);
          set({ keys: "" });
        }}
      />
      <Button
        variant={filters.onlyNew ? "contained" : "outlined"}
        color="inherit"
        aria-pressed={filters.onlyNew}
        onClick={() => set({ onlyNew: !filters.onlyNew })}
      >
        New
      </Button>
      {tab === "open" && (
        <ToggleButtonGroup
          size="small"
          value={filters.severities}
          onChange={(_, severities: Severity[]) => set({ severities })}
          aria-label="How bad"
        >
          {SEVERITIES.map((s) => (
            <ToggleButton key={s} value={s}>
              {s} {counts[s]}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      )}
      <Button
        variant={filters.order === "severity" ? "contained" : "outlined"}
        color="inherit"
        aria-pressed={filters.order === "severity"}
        onClick={() => set({ order: filters.order === "people" ? "severity" : "people" })}
        title="Else those that touch most people stand first"
      >
        Worst first
      </Button>
      {tab === "open" && (
        <Sheets
          sheets={[
            { name: "Clashes", path: "/api/clashes", query: { setup: lens.setup.setup, everywhere: lens.everywhere } },
          ]}
        />
      )}
      {byKeys && (
        <div className={styles.byKeys}>
          <KeysToLookFor lens={lens} onJudged={onJudged} listening={asks} />
          {filters.keys && <span>In sight: what {filters.keys.replace("code:", "")} has to do with.</span>}
        </div>
      )}
    </search>
  );
});
