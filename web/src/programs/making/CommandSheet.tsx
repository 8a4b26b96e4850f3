import Button from "@mui/material/Button";
import type { KeyboardEvent } from "react";
import { memo, useDeferredValue, useMemo, useState } from "react";
import type { Schemas } from "../../api/client";
import { Words } from "../../shared/Words";
import type { Draft, Row } from "./draft";
import styles from "./Making.module.css";
import { PLATFORMS } from "./useCatalogue";

type Task = Schemas["ListedTaskOut"];
// Rows that stand in sight at once, and from how many on words help.
const MOST = 200;
const FEW = 40;

interface SheetProps {
  draft: Draft;
  faults: Map<number, string>;
  chosen: ReadonlySet<number>;
  tasks: Task[];
  disabled: boolean;
  onRow: (row: number, part: Partial<Row>) => void;
  onChoose: (row: number, on: boolean) => void;
  onAll: (rows: number[]) => void;
}

/** The commands as rows that are typed over: up and down with the arrow keys, the rest of a row when it is chosen. */
export function CommandSheet({ draft, faults, chosen, tasks, disabled, onRow, onChoose, onAll }: SheetProps) {
  const platforms = PLATFORMS.filter((p) => draft.platforms.includes(p.id));
  const [words, setWords] = useState("");
  const [most, setMost] = useState(MOST);
  const looked = useDeferredValue(words);
  const found = useMemo(() => draft.rows.filter((r) => isLike(r, looked)), [draft.rows, looked]);
  // What somebody is at stays in sight, however long the sheet is.
  const shown = found.filter((r, n) => n < most || r.id === null || faults.has(r.row) || chosen.has(r.row));
  const columns = `28px ${platforms.map(() => "minmax(110px, 1fr)").join(" ")} minmax(150px, 1.5fr) minmax(90px, 0.8fr) minmax(130px, 1.2fr)`;
  return (
    <>
      <datalist id="tasks-known">
        {tasks.map((t) => (
          <option key={t.id} value={t.name} />
        ))}
      </datalist>
      <div className={styles.tools}>
        <label className={styles.all}>
          <input
            type="checkbox"
            checked={chosen.size > 0 && chosen.size >= found.length}
            onChange={(e) => onAll(e.target.checked ? found.map((r) => r.row) : [])}
          />
          {chosen.size > 0 ? `${chosen.size} chosen` : looked ? `Choose all ${found.length} found` : "Choose all"}
        </label>
        {draft.rows.length > FEW && (
          <>
            <Words value={words} onChange={setWords} width={200} placeholder="name, group or keys" />
            <span role="status">{looked ? `${found.length.toLocaleString("en")} found` : ""}</span>
          </>
        )}
      </div>
      <fieldset aria-label="Commands" className={styles.sheet} onKeyDown={walk}>
        <div className={styles.heads} aria-hidden="true" style={{ gridTemplateColumns: columns }}>
          <span />
          {platforms.map((p) => (
            <span key={p.id}>Keys on {p.name}</span>
          ))}
          <span>What it does</span>
          <span>Group</span>
          <span>Task</span>
        </div>
        {shown.map((r) => (
          <CommandLine
            key={r.row}
            row={r}
            fault={faults.get(r.row) ?? ""}
            chosen={chosen.has(r.row)}
            platforms={platforms}
            columns={columns}
            tasks={tasks}
            disabled={disabled}
            onRow={onRow}
            onChoose={onChoose}
          />
        ))}
      </fieldset>
      {found.length > shown.length && (
        <Button color="inherit" onClick={() => setMost(most + MOST)}>
          Show more: {shown.length.toLocaleString("en")} of {found.length.toLocaleString("en")} are here
        </Button>
      )}
    </>
  );
}

function isLike(row: Row, words: string): boolean {
  if (!words.trim()) return true;
  const text = [row.name, row.group, row.otherWords, ...Object.values(row.keys)].join(" ").toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((w) => text.includes(w));
}

/** Up and down lead to the same field of the row above or below. */
function walk(event: KeyboardEvent<HTMLElement>) {
  const step = event.key === "ArrowDown" || event.key === "Enter" ? 1 : event.key === "ArrowUp" ? -1 : 0;
  const at = event.target as HTMLElement;
  // A list of tasks that is open is walked by the same keys.
  if (step === 0 || !(at instanceof HTMLInputElement) || (at.list && event.key !== "Enter")) return;
  const row = at.closest("[data-row]");
  const fields = (of: Element | null | undefined) => [...(of?.querySelectorAll("input") ?? [])];
  let next = step > 0 ? row?.nextElementSibling : row?.previousElementSibling;
  if (next && !next.hasAttribute("data-row")) next = step > 0 ? next.nextElementSibling : next.previousElementSibling;
  const field = fields(next)[fields(row).indexOf(at)];
  if (!field) return;
  event.preventDefault();
  field.focus();
}

interface LineProps {
  row: Row;
  fault: string;
  chosen: boolean;
  platforms: typeof PLATFORMS;
  columns: string;
  tasks: Task[];
  disabled: boolean;
  onRow: (row: number, part: Partial<Row>) => void;
  onChoose: (row: number, on: boolean) => void;
}

const CommandLine = memo(function CommandLine(props: LineProps) {
  const { row, fault, chosen, platforms, columns, tasks, disabled, onRow, onChoose } = props;
  const of = row.name || "new command";
  return (
    <>
      <div
        data-row
        className={`${styles.rowLine} ${chosen ? styles.chosen : ""} ${fault ? styles.faulty : ""} ${row.retired ? styles.retired : ""}`}
        style={{ gridTemplateColumns: columns }}
      >
        <span>
          <input
            type="checkbox"
            aria-label={`Choose ${of}`}
            checked={chosen}
            onChange={(e) => onChoose(row.row, e.target.checked)}
          />
        </span>
        {platforms.map((p) => (
          <span key={p.id}>
            <input
              className={styles.keys}
              aria-label={`Keys of ${of} on ${p.name}`}
              value={row.keys[p.id] ?? ""}
              placeholder="no key"
              disabled={disabled}
              onChange={(e) => onRow(row.row, { keys: { ...row.keys, [p.id]: e.target.value } })}
            />
          </span>
        ))}
        <span>
          <input
            className={styles.name}
            aria-label={`Name of ${of}`}
            value={row.name}
            disabled={disabled}
            onChange={(e) => onRow(row.row, { name: e.target.value })}
          />
        </span>
        <span>
          <input
            aria-label={`Group of ${of}`}
            value={row.group}
            placeholder="no group"
            disabled={disabled}
            onChange={(e) => onRow(row.row, { group: e.target.value })}
          />
        </span>
        <span>
          <TaskField row={row} of={of} tasks={tasks} disabled={disabled} onRow={onRow} />
        </span>
      </div>
      {fault && (
        <p role="alert" className={styles.fault}>
          {fault}
        </p>
      )}
    </>
  );
});

interface TaskFieldProps {
  row: Row;
  of: string;
  tasks: Task[];
  disabled: boolean;
  onRow: (row: number, part: Partial<Row>) => void;
}

/** The task by its name; what is none yet stays as it was when the field is left. */
function TaskField({ row, of, tasks, disabled, onRow }: TaskFieldProps) {
  const name = tasks.find((t) => t.id === row.task)?.name ?? row.task ?? "";
  return (
    <input
      key={`${row.task} ${name}`}
      list="tasks-known"
      aria-label={`Task of ${of}`}
      defaultValue={name}
      placeholder="no task"
      disabled={disabled}
      onBlur={(e) => {
        const asked = e.target.value.trim().toLowerCase();
        const found = tasks.find((t) => t.name.toLowerCase() === asked);
        if (asked === "") {
          if (row.task !== null) onRow(row.row, { task: null });
        } else if (found) {
          if (found.id !== row.task) onRow(row.row, { task: found.id });
        } else e.target.value = name;
      }}
    />
  );
}
