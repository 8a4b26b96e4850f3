import { useVirtualizer } from "@tanstack/react-virtual";
import type { KeyboardEvent, ReactNode } from "react";
import { useEffect, useMemo, useRef, useState } from "react";
import { asCsv, inShares, widthOf } from "./cells";
import { Bar } from "./Figures";
import type { Item } from "./filters";
import { CellBox, KeysCell, ProgramCell } from "./GridCells";
import styles from "./Standard.module.css";
import type { ProgramHead, Standard, Task } from "./useStandard";
import type { At } from "./walking";
import { between, clamp, firstTask, isWithin, landed, stepped } from "./walking";

const ROW = 29;
const GROUP = 23;
const HEADS = 48;
/** The frozen columns: the task, and the standard's keys. */
export const TASK = 204;
export const KEYS = 124;
const FROZEN = TASK + KEYS;

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
    // What unfolds under a row needs room: one that stands low, or isn't in sight, goes to the top.
    const box = scroller.current;
    const line = box?.querySelector(`[data-index="${openAt}"]`);
    const below = box && line ? line.getBoundingClientRect().top - box.getBoundingClientRect().top : Infinity;
    rows.scrollToIndex(openAt, { align: box && below < box.clientHeight * 0.4 ? "auto" : "start" });
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
    const head = scroller.current?.querySelector<HTMLElement>(`[data-head="${column}"]`);
    if (event.key === "ArrowUp" && !ends && !event.shiftKey && head && row === firstTask(items)) {
      head.focus();
      event.preventDefault();
      return;
    }
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
  // From the first row up lead the heads of the programs, sideways from one to the next.
  const onHeadKey = (event: KeyboardEvent) => {
    const at = Number((event.target as HTMLElement).dataset.head);
    const sideways = { ArrowLeft: at - 1, ArrowRight: at + 1 }[event.key];
    const to = event.key === "ArrowDown" ? `[data-cell="${firstTask(items)}/${at}"]` : `[data-head="${sideways}"]`;
    const next = sideways || event.key === "ArrowDown" ? scroller.current?.querySelector<HTMLElement>(to) : null;
    if (!next) return;
    if (event.key === "ArrowDown") setAt({ row: firstTask(items), column: at });
    next.focus();
    event.preventDefault();
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
        <div role="row" aria-rowindex={1} className={styles.heads} style={{ width }} onKeyDown={onHeadKey}>
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
                    {item.task.covered.could > 0 && (
                      <span className={styles.taskBar} title={`${inShares(item.task.covered)} agree`}>
                        <Bar count={item.task.covered} />
                        <span className="unseen">, {inShares(item.task.covered)} agree</span>
                      </span>
                    )}
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

function keyOf(item: Item | undefined, n: number): string {
  if (!item) return String(n);
  // A group that is parted by others has several heads.
  return item.kind === "group" ? `group before ${item.before}` : item.task.id;
}
