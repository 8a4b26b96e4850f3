import Button from "@mui/material/Button";
import { memo, useCallback, useMemo, useState } from "react";
import { One } from "../app/fields";
import type { Lens } from "../app/lens";
import { useAction } from "../app/own/own";
import { Words } from "../app/Words";
import type { Judgement } from "../keyboard/PressField";
import { PressField } from "../keyboard/PressField";
import { STATE_WORDS } from "./cells";
import type { Filters } from "./filters";
import styles from "./Standard.module.css";
import type { Standard } from "./useStandard";

interface StandardFiltersProps {
  lens: Lens;
  data: Standard;
  filters: Filters;
  change: (part: Partial<Filters>) => void;
  onCopy: () => void;
  csv: string;
}

const STATES = [
  { id: "open", name: "not there yet" },
  ...(["differs", "unbound", "clashes", "cannot", "excepted", "agrees"] as const).map((id) => ({
    id,
    name: STATE_WORDS[id],
  })),
  { id: "no_line", name: "no line" },
];

/** What rows and columns are chosen by. */
export const StandardFilters = memo(function StandardFilters(props: StandardFiltersProps) {
  const { lens, data, filters, change, onCopy, csv } = props;
  const [byKeys, setByKeys] = useState(filters.keys !== "");
  const [asks, setAsks] = useState(false);
  const groups = useMemo(() => [...new Set(data.tasks.map((t) => t.group))].filter(Boolean), [data.tasks]);
  const onJudged = useCallback(
    (j: Judgement | null) => {
      if (j) change({ keys: j.shortcut.text });
    },
    [change],
  );
  useAction("words", () => document.getElementById("words")?.focus());
  useAction("keys", () => {
    setByKeys(true);
    setAsks(true);
  });
  const select = (label: string, name: keyof Filters, choices: { id: string; name: string }[], none = "any") => (
    <div className={styles.select}>
      <One label={label} none={none} value={filters[name]} choices={choices} onChange={(v) => change({ [name]: v })} />
    </div>
  );
  return (
    <search className={styles.filters} aria-label="Choose tasks and programs">
      <Words id="words" value={filters.words} onChange={(words) => change({ words })} width={120} />
      {select("State", "state", STATES)}
      {select(
        "Group",
        "group",
        groups.map((g) => ({ id: g, name: g })),
      )}
      {select("Program", "program", data.programs)}
      {select("Family", "family", data.families)}
      {lens.everywhere && select("Department", "department", data.departments, "all")}
      {lens.everywhere &&
        select(
          "Keyboard",
          "layout",
          data.layouts.map((id) => ({ id, name: id })),
          "all",
        )}
      <Button
        variant={byKeys ? "contained" : "outlined"}
        color="inherit"
        aria-pressed={byKeys}
        onClick={() => {
          setByKeys(!byKeys);
          setAsks(true);
          change({ keys: "" });
        }}
      >
        By keys
      </Button>
      <span className={styles.right}>
        <Button color="inherit" onClick={onCopy}>
          Copy as CSV
        </Button>
        <Button color="inherit" component="a" href={csv} download>
          All as a file
        </Button>
      </span>
      {byKeys && (
        <div className={styles.byKeys}>
          <PressField
            label="Press to look for"
            setup={lens.setup.setup}
            program={lens.program}
            scope={lens.scope}
            onJudged={onJudged}
            listening={asks}
          />
          {filters.keys && <span>In sight: tasks that have {filters.keys} in the standard or in a program.</span>}
        </div>
      )}
    </search>
  );
});
