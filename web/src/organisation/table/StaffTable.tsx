import { useVirtualizer } from "@tanstack/react-virtual";
import type { FocusEvent, KeyboardEvent, MouseEvent, RefObject } from "react";
import { memo, useEffect, useRef, useState } from "react";
import { Trouble } from "../../shared/states";
import type { Order, Row, Section, Wanted } from "../useOrganisation";
import { useTable } from "../useOrganisation";
import type { Column } from "./columns";
import type { Selection } from "./selection";
import { isSelected } from "./selection";
import styles from "./Table.module.css";

const ROW = 33;

interface StaffTableProps {
  section: Section;
  columns: Column[];
  wanted: Wanted;
  order: Order;
  onOrder: (by: string) => void;
  selection: Selection;
  onSelect: (id: string) => void;
  onSelectAll: () => void;
  open: string | null;
  onOpen: (row: Row) => void;
  onTotal: (total: number) => void;
}

/** Rows of people or machines, however many: only those in sight are on the page, and only their pages are fetched. */
export function StaffTable(props: StaffTableProps) {
  const { section, columns, wanted, order, selection, open } = props;
  const scroller = useRef<HTMLDivElement>(null);
  // What rows call is always the newest, without being another one each time: rows needn't be drawn again for it.
  const acts = useRef<Acts>(NO_ACTS);
  const wants = useRef<number | null>(null);
  // A row far away has to be drawn before it can have the focus; whenever it is, it gets it.
  useEffect(() => {
    if (wants.current === null) return;
    const row = scroller.current?.querySelector<HTMLElement>(`[data-index="${wants.current}"]`);
    if (!row) return;
    wants.current = null;
    row.focus({ preventScroll: true });
  });
  const [at, setAt] = useState(0);
  const [total, setTotal] = useState(0);
  const virtual = useVirtualizer({
    count: total,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 4,
    // A frame that is drawn a little later is better than one that keeps the page from answering.
    useFlushSync: false,
    initialRect: { width: 1000, height: 420 },
  });
  const shown = virtual.getVirtualItems();
  const table = useTable(section, wanted, order, shown[0]?.index ?? 0, shown.at(-1)?.index ?? 0);
  if (table.total !== null && table.total !== total) {
    setTotal(table.total);
    props.onTotal(table.total);
  }
  if (table.error) return <Trouble error={table.error} again={table.again} />;
  const go = (index: number) => {
    const next = Math.max(0, Math.min(total - 1, index));
    setAt(next);
    virtual.scrollToIndex(next);
    wants.current = next;
  };
  const onKey = (event: KeyboardEvent, index: number) => {
    const row = table.row(index);
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? ROW) / ROW) - 2);
    const steps: Record<string, number> = { ArrowDown: 1, ArrowUp: -1, PageDown: page, PageUp: -page };
    const step = steps[event.key];
    if (step !== undefined) go(index + step);
    else if (event.key === "Home") go(0);
    else if (event.key === "End") go(total - 1);
    else if (event.key === "Enter" && row && event.target === event.currentTarget) props.onOpen(row);
    else if (event.key === " " && row && event.target === event.currentTarget) props.onSelect(row.id);
    else return;
    event.preventDefault();
  };
  acts.current = {
    onKey,
    onClick: (index, row) => {
      setAt(index);
      props.onOpen(row);
    },
    onSelect: props.onSelect,
  };
  const template = `34px ${columns.map((c) => c.width).join(" ")}`;
  const some = selection.all ? selection.except.size < total : selection.chosen.size > 0;
  return (
    <div className={styles.scroller} ref={scroller}>
      <div
        role="grid"
        aria-label={section === "people" ? "People" : "Machines"}
        aria-rowcount={total + 1}
        onMouseOver={tellWhatIsCutOff}
        onFocus={tellWhatIsCutOff}
      >
        <div
          role="row"
          className={styles.heads}
          style={{ gridTemplateColumns: template }}
          aria-rowindex={1}
          tabIndex={-1}
        >
          <span role="columnheader" tabIndex={-1}>
            <input
              type="checkbox"
              checked={selection.all && selection.except.size === 0}
              ref={(box) => {
                if (box) box.indeterminate = some && !(selection.all && selection.except.size === 0);
              }}
              onChange={props.onSelectAll}
              aria-label={`Choose all ${total} that are shown`}
            />
          </span>
          {columns.map((c) => (
            <span
              key={c.id}
              className={c.number ? styles.number : ""}
              role="columnheader"
              tabIndex={-1}
              aria-sort={order.by === c.id ? (order.down ? "descending" : "ascending") : "none"}
            >
              <button type="button" onClick={() => props.onOrder(c.id)}>
                {c.title}
                <i aria-hidden="true">{order.by === c.id ? (order.down ? " ↓" : " ↑") : ""}</i>
              </button>
            </span>
          ))}
        </div>
        <div className={styles.body} style={{ height: virtual.getTotalSize() }}>
          {shown.map((v, place) => {
            const row = table.row(v.index);
            return (
              <TableRow
                // By its place in sight: boxes stay when rows go by, and only their text is set, at a part of the cost.
                // biome-ignore lint/suspicious/noArrayIndexKey: that is the point
                key={place}
                row={row}
                index={v.index}
                start={v.start}
                columns={columns}
                template={template}
                selected={row !== undefined && isSelected(selection, row.id)}
                open={row !== undefined && row.id === open}
                inTabOrder={v.index === Math.min(at, Math.max(0, total - 1))}
                acts={acts}
              />
            );
          })}
        </div>
      </div>
    </div>
  );
}

/** The whole text of a cell as its title, where the cell is too narrow for it; set when it is pointed at, not for every row. */
function tellWhatIsCutOff(event: MouseEvent | FocusEvent) {
  const cell = event.target;
  if (cell instanceof HTMLElement && cell.role === "gridcell") {
    cell.title = cell.scrollWidth > cell.clientWidth ? (cell.textContent ?? "") : "";
  }
}

interface Acts {
  onKey: (event: KeyboardEvent, index: number) => void;
  onClick: (index: number, row: Row) => void;
  onSelect: (id: string) => void;
}

const NO_ACTS: Acts = { onKey: () => undefined, onClick: () => undefined, onSelect: () => undefined };

interface TableRowProps {
  row: Row | undefined;
  index: number;
  start: number;
  columns: Column[];
  template: string;
  selected: boolean;
  open: boolean;
  inTabOrder: boolean;
  acts: RefObject<Acts>;
}

/** One row in sight. Rows come and go by the dozen while people scroll, so a row is drawn again only if it is another one. */
const TableRow = memo(function TableRow(props: TableRowProps) {
  const { row, index, start, columns, template, selected, open, inTabOrder, acts } = props;
  return (
    <div
      role="row"
      data-index={index}
      aria-rowindex={index + 2}
      aria-selected={selected}
      tabIndex={inTabOrder ? 0 : -1}
      className={`${styles.row} ${open ? styles.open : ""}`}
      style={{ gridTemplateColumns: template, transform: `translateY(${start}px)` }}
      onClick={() => row && acts.current.onClick(index, row)}
      onKeyDown={(e) => acts.current.onKey(e, index)}
    >
      {/* A row that is still to come has the same boxes: only their text is set when it is there. */}
      <span role="gridcell" tabIndex={-1}>
        <input
          type="checkbox"
          tabIndex={-1}
          checked={selected}
          disabled={row === undefined}
          aria-label={row ? `Choose ${row.cells.name}` : "not here yet"}
          onChange={() => row && acts.current.onSelect(row.id)}
          onClick={(e) => e.stopPropagation()}
        />
      </span>
      {columns.map((c, n) => (
        <span key={c.id} role="gridcell" tabIndex={-1} className={c.number ? styles.number : ""}>
          {row ? row.cells[c.id] : n === 0 ? "…" : ""}
        </span>
      ))}
    </div>
  );
});
