import { useVirtualizer } from "@tanstack/react-virtual";
import type { KeyboardEvent } from "react";
import { useEffect, useRef, useState } from "react";
import screen from "../shared/screen.module.css";
import type { Asked } from "./asked";
import { CommandLine, type LineActs } from "./CommandLine";
import styles from "./Commands.module.css";
import type { CommandRow } from "./useCommands";
import { useLines } from "./useCommands";

const ROW = 47;

interface CommandListProps {
  asked: Asked;
  through: string;
  lines: number;
  /** The place of the row that was open from the beginning. */
  begin: number | null;
  at: string;
  onOpen: (row: CommandRow | null) => void;
  onFold: (id: string, closed: boolean) => void;
  chosen: ReadonlySet<string>;
  onChosen: (chosen: ReadonlySet<string>) => void;
  onAll: (on: boolean) => void;
  /** All of a group that was found is chosen, too; by the id of its head. */
  onGroup: (id: string) => void;
}

/** The rows, however many: only those in sight are asked for and drawn. Arrows lead from row to row, Shift with them chooses,
 * Enter tells the life of one at the side. */
export function CommandList(props: CommandListProps) {
  const { asked, through, lines, begin, at, onOpen, onFold, chosen, onChosen, onAll, onGroup } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const [place, setPlace] = useState(0);
  const wants = useRef<number | null>(null);
  const virtual = useVirtualizer({
    count: lines,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 5,
    useFlushSync: false,
    initialRect: { width: 900, height: 500 },
  });
  const items = virtual.getVirtualItems();
  const lineAt = useLines(asked, through, items[0]?.index ?? 0, items.at(-1)?.index ?? 0);
  const last = lines - 1;
  const here = Math.max(0, Math.min(place, last));
  const question = JSON.stringify(asked);
  const first = useRef(true);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another question begins at its top, the first one at the open row
  useEffect(() => {
    if (first.current && begin !== null) {
      setPlace(begin);
      virtual.scrollToIndex(begin, { align: "center" });
    } else {
      setPlace(0);
      scroller.current?.scrollTo({ top: 0 });
    }
    first.current = false;
  }, [question]);
  // A row far away has to be drawn before it can have the focus; whenever it is, it gets it.
  useEffect(() => {
    if (wants.current === null) return;
    const row = scroller.current?.querySelector<HTMLElement>(`[data-index="${wants.current}"] [data-row]`);
    if (!row) return;
    wants.current = null;
    row.focus({ preventScroll: true });
  });
  const go = (index: number) => {
    const next = Math.max(0, Math.min(last, index));
    setPlace(next);
    virtual.scrollToIndex(next);
    wants.current = next;
  };
  const choose = (ids: string[], on: boolean) => {
    const next = new Set(chosen);
    for (const id of ids) {
      if (on) next.add(id);
      else next.delete(id);
    }
    onChosen(next);
  };
  const onKey = (event: KeyboardEvent) => {
    const target = event.target;
    if (!(target instanceof HTMLElement) || !target.matches("[data-row], [data-choose]")) return;
    if (event.ctrlKey || event.altKey || event.metaKey) return;
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? ROW) / ROW) - 2);
    const steps: Record<string, number> = { ArrowDown: 1, ArrowUp: -1, PageDown: page, PageUp: -page };
    const step = steps[event.key];
    if (step !== undefined && event.shiftKey) {
      const next = Math.max(0, Math.min(last, here + step));
      const span = Array.from({ length: Math.abs(next - here) + 1 }, (_, n) => Math.min(here, next) + n);
      choose(
        span.flatMap((n) => lineAt(n)?.row?.id ?? []),
        true,
      );
      go(next);
    } else if (step !== undefined) go(here + step);
    else if (event.key === "Escape" && at !== "") onOpen(null);
    else if (event.key === "Home") go(0);
    else if (event.key === "End") go(last);
    else return;
    event.preventDefault();
  };
  const acts = useRef<LineActs | null>(null);
  acts.current = {
    open: (row, n) => {
      setPlace(n);
      onOpen(row.id === at ? null : row);
    },
    fold: onFold,
    choose: (id, on) => choose([id], on),
    chooseGroup: onGroup,
  };
  return (
    <div className={styles.scroller} ref={scroller}>
      <div className={`${styles.heads} ${screen.heads}`}>
        <input
          type="checkbox"
          checked={chosen.size > 0}
          onChange={() => onAll(chosen.size === 0)}
          aria-label="Choose all that were found"
        />
        <div className={styles.g} aria-hidden="true">
          <span>Keys</span>
          <span>What they do</span>
          <span>Through the layers</span>
          <span>Task</span>
          <span>People</span>
        </div>
      </div>
      <ul aria-label="Commands" className={styles.rows} style={{ height: virtual.getTotalSize() }} onKeyDown={onKey}>
        {items.map((v) => {
          const line = lineAt(v.index);
          return (
            <CommandLine
              key={v.key}
              line={line}
              at={v.index}
              total={lines}
              start={v.start}
              open={line?.row?.id === at && at !== ""}
              chosen={line?.row ? chosen.has(line.row.id) : false}
              inTabOrder={v.index === here}
              acts={acts}
            />
          );
        })}
      </ul>
    </div>
  );
}
