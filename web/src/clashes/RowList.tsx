import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef } from "react";
import screen from "../shared/screen.module.css";
import { choosing, useWalking } from "../shared/useWalking";
import styles from "./Clashes.module.css";
import type { RowActs } from "./ClashRow";
import { ClashRow } from "./ClashRow";
import type { Tab } from "./filters";
import type { Side } from "./sides";
import { STATIONS } from "./stations";
import type { Group } from "./useClashes";
import { useWaysAhead } from "./ways/useWays";

/** How high a closed row is, and the width below which rows are as high as they need. */
const ROW = 43;
const NARROW = 900;

interface RowListProps {
  groups: Group[];
  tab: Tab;
  at: string | null;
  setAt: (identity: string | null) => void;
  chosen: ReadonlySet<string>;
  onChosen: (chosen: ReadonlySet<string>) => void;
  sideOf: (group: Group) => Side | null;
  /** The name of the setup that the lens is held against, "" for none. */
  against: string;
  /** These are still the rows of another lens: nothing can be done with them. */
  stale: boolean;
}

/** Rows of groups, however many: only those in sight are on the page. Arrows lead from row to row, Enter unfolds one, Shift
 * with an arrow chooses several. */
export function RowList({ groups, tab, at, setAt, chosen, onChosen, sideOf, against, stale }: RowListProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const ahead = useWaysAhead();
  const most = Math.max(1, ...groups.map((g) => g.people));
  const last = groups.length - 1;
  const virtual = useVirtualizer({
    count: groups.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    getItemKey: (n) => groups[n]?.identity ?? n,
    // Asking for a height lays the page out: only rows whose height isn't known are asked. In a test nothing is laid out.
    measureElement: (row) =>
      row.hasAttribute("data-open") || window.innerWidth < NARROW ? row.getBoundingClientRect().height || ROW : ROW,
    overscan: 6,
    useFlushSync: false,
    initialRect: { width: 1100, height: 600 },
  });
  const choose = (identities: string[], on: boolean) => onChosen(choosing(chosen, identities, on));
  const { here, place, setPlace, focus, onKey } = useWalking({
    scroller,
    lines: groups.length,
    height: ROW,
    scrollTo: (index) => virtual.scrollToIndex(index),
    chooseSpan: (from, to) =>
      choose(
        groups.slice(from, to + 1).map((g) => g.identity),
        true,
      ),
    close: () => {
      if (at !== null) setAt(null);
      return at !== null;
    },
    begin: groups.findIndex((g) => g.identity === at),
  });
  const first = useRef(true);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only where another row is opened; the list may change around it
  useEffect(() => {
    const n = groups.findIndex((g) => g.identity === at);
    if (n >= 0) virtual.scrollToIndex(n, { align: first.current ? "start" : "auto" });
    first.current = false;
  }, [at]);
  const before = useRef(groups.length);
  useEffect(() => {
    const gone = groups.length < before.current;
    before.current = groups.length;
    // The row that was decided is gone: the one in its place takes the focus, so that the keyboard goes on.
    if (gone && document.activeElement === document.body) focus(Math.min(place, last));
  }, [groups.length, place, last, focus]);
  // What rows call is always the newest, without being another one each time: rows needn't be drawn again for it.
  const acts = useRef<RowActs | null>(null);
  acts.current = {
    focus: (n, group) => {
      setPlace(n);
      ahead(group);
    },
    point: ahead,
    toggle: (group) => setAt(group.identity === at ? null : group.identity),
    close: (n) => {
      setAt(null);
      focus(n);
    },
    choose: (group, on) => choose([group.identity], on),
  };
  const all = groups.every((g) => chosen.has(g.identity));
  return (
    <div className={styles.scroller} ref={scroller}>
      <div className={`${styles.g} ${screen.heads}`}>
        <input
          type="checkbox"
          checked={all}
          onChange={() =>
            choose(
              groups.map((g) => g.identity),
              !all,
            )
          }
          aria-label={`Choose all ${groups.length} that are shown`}
        />
        <span aria-hidden="true">Press</span>
        <span aria-hidden="true">Was meant for</span>
        {STATIONS.map((s) => (
          <span key={s.id} aria-hidden="true" className={styles.station}>
            {s.name}
            <small>{s.more}</small>
          </span>
        ))}
        <span aria-hidden="true">People</span>
      </div>
      <ul
        aria-label="Clashes"
        aria-busy={stale}
        inert={stale}
        className={styles.rows}
        style={{ height: virtual.getTotalSize() }}
        onKeyDown={onKey}
      >
        {virtual.getVirtualItems().map((v) => {
          const group = groups[v.index];
          if (!group) return null;
          return (
            <ClashRow
              key={v.key}
              group={group}
              index={v.index}
              total={groups.length}
              start={v.start}
              measure={virtual.measureElement}
              tab={tab}
              open={group.identity === at}
              chosen={chosen.has(group.identity)}
              most={most}
              inTabOrder={v.index === here}
              side={sideOf(group)}
              against={against}
              acts={acts}
            />
          );
        })}
      </ul>
    </div>
  );
}
