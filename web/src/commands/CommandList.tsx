import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef } from "react";
import screen from "../shared/screen.module.css";
import { choosing, useWalking } from "../shared/useWalking";
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
  /** How many commands the rows have, those in folded groups with them. */
  found: number;
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
  const { asked, through, lines, found, begin, at, onOpen, onFold, chosen, onChosen, onAll, onGroup } = props;
  const scroller = useRef<HTMLDivElement>(null);
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
  const choose = (ids: string[], on: boolean) => onChosen(choosing(chosen, ids, on));
  const { here, setPlace, onKey } = useWalking({
    scroller,
    lines,
    height: ROW,
    scrollTo: (index) => virtual.scrollToIndex(index),
    chooseSpan: (from, to) =>
      choose(Array.from({ length: to - from + 1 }, (_, n) => lineAt(from + n)?.row?.id ?? []).flat(), true),
    close: () => {
      if (at !== "") onOpen(null);
      return at !== "";
    },
  });
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
          ref={(box) => {
            if (box) box.indeterminate = chosen.size > 0 && chosen.size < found;
          }}
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
