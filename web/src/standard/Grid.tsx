import { useVirtualizer } from "@tanstack/react-virtual";
import type { KeyboardEvent, ReactNode } from "react";
import { memo, useEffect, useMemo, useRef, useState } from "react";
import { Caps } from "../keyboard/Caps";
import { asCsv, byPeople, inWords, plainly, widthOf } from "./cells";
import type { Item } from "./filters";
import styles from "./Standard.module.css";
import type { Cell, ProgramHead, Standard, State, Task } from "./useStandard";

const ROW = 29;
const GROUP = 23;
const HEADS = 48;
/** The frozen columns: the task, and the standard's keys. */
export const TASK = 204;
export const KEYS = 124;
const FROZEN = TASK + KEYS;

export interface At {
  row: number;
  column: number;
}

interface GridProps {
  data: Standard;
  items: Item[];
  programs: ProgramHead[];
  open: string | null;
  onOpen: (task: string | null, program: string | null) => void;
  onProgram: (program: string) => void;
  /** What stands under the row that is open. */
  panel: (task: Task) => ReactNode;
  onSelect: (task: Task, program: ProgramHead | null) => void;
  onCopied: (cells: number) => void;
}

/** Tasks down, programs across. Heads, tasks and the standard's keys stay while the rest goes by; only what is in sight is on
 * the page. It is walked like a sheet: arrows, Home, End, pages; Shift with them selects, Ctrl C copies, Enter unfolds a row. */
export function Grid(props: GridProps) {
  const { data, items, programs, open, onOpen, onSelect } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState<At>({ row: firstTask(items), column: 0 });
  const [anchor, setAnchor] = useState<At | null>(null);
  const wants = useRef(false);
  const most = Math.max(1, ...programs.map((p) => p.people));
  const widths = useMemo(() => programs.map((p) => widthOf(p, most)), [programs, most]);
  const rows = useVirtualizer({
    count: items.length,
    getScrollElement: () => scroller.current,
    estimateSize: (n) => (items[n]?.kind === "group" ? GROUP : ROW),
    getItemKey: (n) => keyOf(items[n], n),
    measureElement: (row) =>
      row.hasAttribute("data-open")
        ? row.getBoundingClientRect().height || ROW
        : row.hasAttribute("data-group")
          ? GROUP
          : ROW,
    overscan: 4,
    scrollPaddingEnd: HEADS,
    useFlushSync: false,
    initialRect: { width: 1100, height: 500 },
  });
  const columns = useVirtualizer({
    horizontal: true,
    count: programs.length,
    getScrollElement: () => scroller.current,
    estimateSize: (n) => widths[n] ?? 100,
    overscan: 1,
    useFlushSync: false,
    initialRect: { width: 1100, height: 500 },
    // What is frozen covers as much as is scrolled by.
    scrollPaddingEnd: FROZEN,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: columns are measured anew where they are others
  useEffect(() => columns.measure(), [widths]);
  const row = Math.min(at.row, Math.max(0, items.length - 1));
  const column = Math.min(at.column, programs.length);
  const openAt = open === null ? -1 : items.findIndex((i) => i.kind === "task" && i.task.id === open);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only where another row is opened; the list may change around it
  useEffect(() => {
    if (openAt < 0) return;
    rows.scrollToIndex(openAt, { align: "auto" });
    setAt((old) => ({ ...old, row: openAt }));
  }, [open]);
  // A cell far away has to be drawn before it can have the focus; whenever it is, it gets it.
  useEffect(() => {
    if (!wants.current) return;
    const cell = scroller.current?.querySelector<HTMLElement>(`[data-cell="${row}/${column}"]`);
    if (!cell) return;
    wants.current = false;
    cell.focus({ preventScroll: true });
  });
  const move = (next: At, selects: boolean) => {
    const to = { row: landed(items, next.row, row), column: clamp(next.column, 0, programs.length) };
    setAnchor(selects ? (anchor ?? { row, column }) : null);
    setAt(to);
    rows.scrollToIndex(to.row, { align: "auto" });
    if (to.column > 0) columns.scrollToIndex(to.column - 1, { align: "auto" });
    wants.current = true;
    const item = items[to.row];
    if (item?.kind === "task") onSelect(item.task, programs[to.column - 1] ?? null);
  };
  const selected = anchor ? between(anchor, { row, column }) : null;
  const copy = () => {
    const range = selected ?? between({ row, column }, { row, column });
    const tasks = items.slice(range.top, range.bottom + 1).flatMap((i) => (i.kind === "task" ? [i.task] : []));
    const chosen = programs.slice(Math.max(0, range.left - 1), range.right);
    void navigator.clipboard?.writeText(asCsv(tasks, chosen)).then(() => props.onCopied(tasks.length * chosen.length));
  };
  const onKey = (event: KeyboardEvent) => {
    const target = event.target;
    if (!(target instanceof HTMLElement) || !target.matches("[data-cell]")) return;
    const ends = event.ctrlKey || event.metaKey;
    if (event.altKey) return;
    if (ends && event.key.toLowerCase() === "c") copy();
    else if (event.key === "Enter" || event.key === " ") {
      const item = items[row];
      if (item?.kind !== "task") return;
      onOpen(item.task.id === open ? null : item.task.id, programs[column - 1]?.id ?? null);
    } else if (event.key === "Escape" && (open !== null || anchor)) {
      if (anchor) setAnchor(null);
      else onOpen(null, null);
    } else {
      const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? ROW) / ROW) - 3);
      const next = stepped(event.key, ends, { row, column }, page, items.length, programs.length);
      if (!next) return;
      move(next, event.shiftKey);
    }
    event.preventDefault();
    event.stopPropagation();
  };
  const shown = columns.getVirtualItems();
  const width = FROZEN + columns.getTotalSize();
  const broken = useMemo(() => new Set(data.families.filter((f) => !f.whole).map((f) => f.id)), [data.families]);
  return (
    <div className={styles.scroller} ref={scroller}>
      <div
        role="grid"
        aria-label="Tasks by programs"
        aria-rowcount={items.length + 1}
        aria-colcount={programs.length + 2}
        className={styles.grid}
        style={{ width, minWidth: "100%" }}
        onKeyDown={onKey}
        tabIndex={-1}
      >
        <div role="row" aria-rowindex={1} className={styles.heads} style={{ width }}>
          <span role="columnheader" aria-colindex={1} className={styles.taskHead}>
            Task
          </span>
          <span role="columnheader" aria-colindex={2} className={styles.keysHead}>
            Standard
          </span>
          {shown.map((c) => {
            const program = programs[c.index];
            return program ? (
              <ProgramCell
                key={program.id}
                program={program}
                left={FROZEN + c.start}
                width={c.size}
                index={c.index + 3}
                onClick={props.onProgram}
              />
            ) : null;
          })}
        </div>
        <div className={styles.rows} style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map((v) => {
            const item = items[v.index];
            if (!item) return null;
            if (item.kind === "group") {
              return (
                <div
                  key={v.key}
                  role="row"
                  aria-rowindex={v.index + 2}
                  data-index={v.index}
                  data-group=""
                  ref={rows.measureElement}
                  className={styles.group}
                  style={{ transform: `translateY(${v.start}px)` }}
                >
                  <span role="rowheader" aria-colspan={programs.length + 2}>
                    {item.name}
                  </span>
                </div>
              );
            }
            const isOpen = item.task.id === open;
            return (
              <div
                key={v.key}
                data-index={v.index}
                data-open={isOpen ? "" : undefined}
                ref={rows.measureElement}
                className={styles.item}
                style={{ transform: `translateY(${v.start}px)` }}
                role="presentation"
              >
                <div role="row" aria-rowindex={v.index + 2} className={`${styles.row} ${isOpen ? styles.openRow : ""}`}>
                  <span
                    role="rowheader"
                    aria-colindex={1}
                    className={`${styles.task} ${item.family ? styles[`f_${item.family}`] : ""} ${
                      item.task.family && broken.has(item.task.family) ? styles.broken : ""
                    }`}
                  >
                    <span className={styles.name}>{item.task.name}</span>
                    {item.task.protected && <small>protected</small>}
                    {item.family && (
                      <span className="unseen">
                        , family{item.task.family && broken.has(item.task.family) ? ", its shape is broken" : ""}
                      </span>
                    )}
                  </span>
                  <KeysCell
                    task={item.task}
                    row={v.index}
                    open={isOpen}
                    inTabOrder={v.index === row && column === 0}
                    selected={isWithin(selected, v.index, 0)}
                    onClick={() => {
                      setAt({ row: v.index, column: 0 });
                      setAnchor(null);
                      onOpen(isOpen ? null : item.task.id, null);
                    }}
                  />
                  {shown.map((c) => {
                    const program = programs[c.index];
                    if (!program) return null;
                    return (
                      <CellBox
                        key={program.id}
                        task={item.task}
                        program={program}
                        cell={item.task.cells.find((x) => x.program === program.id)}
                        place={`${v.index}/${c.index + 1}`}
                        left={FROZEN + c.start}
                        width={c.size}
                        inTabOrder={v.index === row && column === c.index + 1}
                        selected={isWithin(selected, v.index, c.index + 1)}
                        onClick={() => {
                          setAt({ row: v.index, column: c.index + 1 });
                          setAnchor(null);
                          onSelect(item.task, program);
                          onOpen(item.task.id, program.id);
                        }}
                      />
                    );
                  })}
                </div>
                {isOpen && (
                  <div role="row" className={styles.panelRow}>
                    <div role="gridcell" aria-colspan={programs.length + 2} className={styles.panelHolder}>
                      {props.panel(item.task)}
                    </div>
                  </div>
                )}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

interface ProgramCellProps {
  program: ProgramHead;
  left: number;
  width: number;
  index: number;
  onClick: (program: string) => void;
}

/** A program with its bar of agreement; the head opens what its figure counts. */
const ProgramCell = memo(function ProgramCell({ program, left, width, index, onClick }: ProgramCellProps) {
  const share = program.covered.could ? (100 * program.covered.agree) / program.covered.could : 0;
  return (
    <span role="columnheader" aria-colindex={index} className={styles.head} style={{ left, width }}>
      <button
        type="button"
        className="plain"
        tabIndex={-1}
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

function KeysCell({ task, row, open, inTabOrder, selected, onClick }: KeysCellProps) {
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
function CellBox({ task, program, cell, place, left, width, inTabOrder, selected, onClick }: CellBoxProps) {
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

function keyOf(item: Item | undefined, n: number): string {
  if (!item) return String(n);
  // A group that is parted by others has several heads.
  return item.kind === "group" ? `group before ${item.before}` : item.task.id;
}

function firstTask(items: Item[]): number {
  return Math.max(
    0,
    items.findIndex((i) => i.kind === "task"),
  );
}

function clamp(n: number, least: number, most: number): number {
  return Math.max(least, Math.min(most, n));
}

/** The row of a task at or beyond some row, in the direction from which it is come to. */
export function landed(items: Item[], wanted: number, from: number): number {
  const step = wanted >= from ? 1 : -1;
  for (const way of [step, -step]) {
    for (let n = clamp(wanted, 0, items.length - 1); n >= 0 && n < items.length; n += way) {
      if (items[n]?.kind === "task") return n;
    }
  }
  return from;
}

/** Where a key leads from a cell, or null for keys that lead nowhere. */
export function stepped(key: string, ends: boolean, at: At, page: number, rows: number, columns: number): At | null {
  const { row, column } = at;
  switch (key) {
    case "ArrowDown":
      return { row: ends ? rows - 1 : row + 1, column };
    case "ArrowUp":
      return { row: ends ? 0 : row - 1, column };
    case "ArrowRight":
      return { row, column: ends ? columns : column + 1 };
    case "ArrowLeft":
      return { row, column: ends ? 0 : column - 1 };
    case "PageDown":
      return { row: row + page, column };
    case "PageUp":
      return { row: row - page, column };
    case "Home":
      return { row: ends ? 0 : row, column: 0 };
    case "End":
      return { row: ends ? rows - 1 : row, column: columns };
    default:
      return null;
  }
}

interface Range {
  top: number;
  bottom: number;
  left: number;
  right: number;
}

function between(one: At, other: At): Range {
  return {
    top: Math.min(one.row, other.row),
    bottom: Math.max(one.row, other.row),
    left: Math.min(one.column, other.column),
    right: Math.max(one.column, other.column),
  };
}

function isWithin(range: Range | null, row: number, column: number): boolean {
  return range !== null && row >= range.top && row <= range.bottom && column >= range.left && column <= range.right;
}
