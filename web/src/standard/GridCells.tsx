import { memo } from "react";
import { Caps } from "../keyboard/Caps";
import { byPeople, inWords, plainly } from "./cells";
import styles from "./Standard.module.css";
import type { Cell, ProgramHead, State, Task } from "./useStandard";

interface ProgramCellProps {
  program: ProgramHead;
  left: number;
  width: number;
  index: number;
  onClick: (program: string) => void;
}

/** A program with its bar of agreement; the head opens what its figure counts. */
export const ProgramCell = memo(function ProgramCell({ program, left, width, index, onClick }: ProgramCellProps) {
  const share = program.covered.could ? (100 * program.covered.agree) / program.covered.could : 0;
  return (
    <span role="columnheader" aria-colindex={index} className={styles.head} style={{ left, width }}>
      <button
        type="button"
        className="plain"
        tabIndex={-1}
        data-head={index - 2}
        onClick={() => onClick(program.id)}
        title={`${program.people} people; ${plainly(program.covered)} agree, ${byPeople(program.covered)} by people. Press to see what doesn't.`}
      >
        <b>{program.name}</b>
        <small>
          {plainly(program.covered)} · {program.people}
          <span className="unseen"> people</span>
        </small>
        <i className={styles.bar} aria-hidden="true">
          <i style={{ width: `${share}%` }} />
        </i>
      </button>
    </span>
  );
});

interface KeysCellProps {
  task: Task;
  row: number;
  open: boolean;
  inTabOrder: boolean;
  selected: boolean;
  onClick: () => void;
}

export function KeysCell({ task, row, open, inTabOrder, selected, onClick }: KeysCellProps) {
  return (
    <span
      role="gridcell"
      aria-colindex={2}
      className={`${styles.keys} ${selected ? styles.selected : ""}`}
      data-cell={`${row}/0`}
      aria-expanded={open}
      tabIndex={inTabOrder ? 0 : -1}
      onClick={onClick}
      onKeyDown={undefined}
    >
      {task.line ? <Caps shortcut={shortened(task.line.shortcut)} /> : <em className={styles.none}>none yet</em>}
      {task.further.length > 0 && (
        <small
          title={task.further.map((f) => `${f.shortcut.words} for ${f.layouts.join(", ") || "all others"}`).join("; ")}
        >
          +{task.further.length}
        </small>
      )}
      {task.line && <i className={styles.lead} aria-hidden="true" />}
    </span>
  );
}

interface CellBoxProps {
  task: Task;
  program: ProgramHead;
  cell: Cell | undefined;
  place: string;
  left: number;
  width: number;
  inTabOrder: boolean;
  selected: boolean;
  onClick: () => void;
}

const WITH_KEYS: ReadonlySet<State> = new Set<State>(["differs", "clashes", "excepted", "no_line"]);

/** Agreement is a line that goes on; what differs interrupts it with its own keys, what can't or has none is dotted. */
export function CellBox({ task, program, cell, place, left, width, inTabOrder, selected, onClick }: CellBoxProps) {
  const words = inWords(cell, program, task);
  const state = cell?.state ?? "not_offered";
  const first = cell?.keys[0];
  return (
    <span
      role="gridcell"
      aria-colindex={Number(place.split("/")[1]) + 2}
      className={`${styles.cell} ${styles[`c_${state}`]} ${selected ? styles.selected : ""}`}
      style={{ left, width }}
      data-cell={place}
      data-state={state}
      tabIndex={inTabOrder ? 0 : -1}
      title={words}
      onClick={onClick}
      onKeyDown={undefined}
    >
      <span className="unseen">{words}</span>
      {WITH_KEYS.has(state) && first && (
        <span className={styles.has} aria-hidden="true">
          <Caps shortcut={shortened(first)} />
        </span>
      )}
      {state === "cannot" && <em aria-hidden="true">can't</em>}
      {state === "unbound" && <em aria-hidden="true">no key</em>}
      {cell && cell.people < cell.of && (
        <i className={styles.mixed} aria-hidden="true">
          {Math.round((100 * cell.people) / Math.max(1, cell.of))}%
        </i>
      )}
    </span>
  );
}

/** The broadest cap has a sign of its own, so that three keys find room in a column. */
const SHIFT = new Set(["Shift", "Umschalt", "Maj", "Skift"]);

function shortened(shortcut: Cell["keys"][number]): Cell["keys"][number] {
  return { ...shortcut, caps: shortcut.caps.map((press) => press.map((cap) => (SHIFT.has(cap) ? "⇧" : cap))) };
}
