import Button from "@mui/material/Button";
import { memo } from "react";
import screen from "../../shared/screen.module.css";
import styles from "./List.module.css";
import type { Field, List, Row } from "./useList";
import { FIELDS } from "./useList";

const WHAT: Record<Row["what"], string> = {
  adds: "new",
  changes: "changes",
  same: "as it is",
  contradicts: "both changed",
  unread: "can't be taken",
  heading: "a heading",
};

interface RowsProps {
  list: List;
  rows: Row[];
  disabled: boolean;
  onCorrect: (row: number, field: string, text: string) => void;
}

/** Rows with what was understood of each cell, which can be typed over. */
export function ListedRows({ list, rows, disabled, onCorrect }: RowsProps) {
  const there = new Set(Object.values(list.columns));
  const fields = FIELDS.filter((f) => there.has(f.id) || f.id === "name");
  const columns = `46px 96px ${fields.map((f) => (f.id === "name" || f.id === "description" ? "minmax(150px, 1.4fr)" : "minmax(110px, 1fr)")).join(" ")}`;
  return (
    <fieldset aria-label="Rows" className={styles.rows}>
      <div
        className={`${screen.heads} ${styles.row} ${styles.heads}`}
        style={{ gridTemplateColumns: columns }}
        aria-hidden="true"
      >
        <span>Row</span>
        <span>It is</span>
        {fields.map((f) => (
          <span key={f.id}>{f.name}</span>
        ))}
      </div>
      {rows.map((r) => (
        <RowLine
          key={`${r.row} ${JSON.stringify(r.cells)}`}
          row={r}
          fields={fields.map((f) => f.id)}
          columns={columns}
          disabled={disabled}
          onCorrect={onCorrect}
        />
      ))}
    </fieldset>
  );
}

interface LineProps {
  row: Row;
  fields: Field[];
  columns: string;
  disabled: boolean;
  onCorrect: RowsProps["onCorrect"];
}

const RowLine = memo(function RowLine({ row, fields, columns, disabled, onCorrect }: LineProps) {
  if (row.what === "heading")
    return (
      <div className={styles.heading}>
        <span>{row.row}</span>
        <b>{row.name || "headings again"}</b>
        <Button size="small" color="inherit" disabled={disabled} onClick={() => onCorrect(row.row, "what", "command")}>
          It is a command
        </Button>
      </div>
    );
  const says = [
    ...row.faults.map((f) => `${f.says} ${f.cure}`),
    ...row.differs.map(
      (d) =>
        `${nameOf(d.field)}: ${d.now || "none"} here, ${d.then || "none"} in the list${d.taken ? "" : ", left as it is"}.`,
    ),
    row.found_by && row.found_by !== "its id" && row.what !== "same" ? `Found by ${row.found_by}.` : "",
  ].filter(Boolean);
  return (
    <div className={`${styles.line} ${row.what === "unread" ? styles.bad : ""}`}>
      <div className={styles.row} style={{ gridTemplateColumns: columns }}>
        <span className={styles.number}>{row.row}</span>
        <span>{WHAT[row.what]}</span>
        {fields.map((field) => {
          const cell = row.cells[field];
          return (
            <span key={field} className={styles.cell}>
              <input
                aria-label={`${nameOf(field)} of row ${row.row}`}
                aria-invalid={cell?.state === "unread"}
                defaultValue={cell?.text ?? ""}
                disabled={disabled}
                onBlur={(e) => e.target.value !== (cell?.text ?? "") && onCorrect(row.row, field, e.target.value)}
                onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
              />
              {cell && field.startsWith("keys") && cell.state !== "none" && (
                <small className={cell.state === "sure" ? "" : styles.guessed}>
                  {cell.state === "unread" ? "not read" : cell.read}
                </small>
              )}
              {cell?.state === "guessed" && <small className={styles.guessed}>{cell.says}</small>}
            </span>
          );
        })}
      </div>
      {says.length > 0 && (
        <p className={styles.says}>
          {says.join(" ")}
          {row.what === "contradicts" && (
            <Button size="small" color="inherit" disabled={disabled} onClick={() => onCorrect(row.row, "take", "list")}>
              Take what the list says
            </Button>
          )}
        </p>
      )}
    </div>
  );
});

function nameOf(field: string): string {
  return FIELDS.find((f) => f.id === field)?.name ?? field;
}
