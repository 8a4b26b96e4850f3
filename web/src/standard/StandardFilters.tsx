import Button from "@mui/material/Button";
import { memo, useCallback, useMemo, useState } from "react";
import { ByKeys, KeysToLookFor } from "../keyboard/ByKeys";
import type { Judgement } from "../keyboard/PressField";
import { One } from "../shared/fields";
import type { Lens } from "../shared/lens";
import { useAction } from "../shared/own/own";
import { Words } from "../shared/Words";
import { STATE_WORDS } from "./cells";
import type { Filters } from "./filters";
import styles from "./Standard.module.css";
import { StandardSheets } from "./StandardSheets";
import type { Standard, Through } from "./useStandard";
import { useDrafts } from "./useStandard";

interface StandardFiltersProps {
  lens: Lens;
  data: Standard;
  filters: Filters;
  change: (part: Partial<Filters>) => void;
  onCopy: () => void;
  through: Through;
  draft: number | null;
  onDraft: (id: number | null) => void;
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
  const { lens, data, filters, change, onCopy, through, draft, onDraft } = props;
  const drafts = useDrafts().data ?? [];
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
      <Words id="words" value={filters.words} onChange={(words) => change({ words })} width={96} />
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
      <ByKeys
        on={byKeys}
        onSwitch={() => {
          setByKeys(!byKeys);
          setAsks(true);
          change({ keys: "" });
        }}
      />
      {drafts.length > 0 && (
        <div className={styles.select}>
          <One
            label="What if"
            none="no draft"
            value={drafts.some((d) => d.id === draft) ? String(draft) : ""}
            choices={drafts.map((d) => ({ id: String(d.id), name: `${d.name}, by ${d.by}` }))}
            onChange={(id) => onDraft(id ? Number(id) : null)}
          />
        </div>
      )}
      <Button color="inherit" onClick={onCopy} title="The rows and columns in sight">
        Copy as CSV
      </Button>
      <StandardSheets through={through} />
      {(byKeys || filters.keys !== "") && (
        <div className={styles.byKeys}>
          <KeysToLookFor lens={lens} onJudged={onJudged} listening={asks} />
          {filters.keys && <span>In sight: tasks that have {filters.keys} in the standard or in a program.</span>}
        </div>
      )}
    </search>
  );
});
