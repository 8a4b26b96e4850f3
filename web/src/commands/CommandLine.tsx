import { memo } from "react";
import { Caps } from "../keyboard/Caps";
import { Marked } from "../shared/Marked";
import styles from "./Commands.module.css";
import type { CommandRow, Line } from "./useCommands";

export interface LineActs {
  open: (row: CommandRow, at: number) => void;
  fold: (id: string, closed: boolean) => void;
  choose: (id: string, on: boolean) => void;
  chooseGroup: (id: string) => void;
}

interface CommandLineProps {
  line: Line | undefined;
  at: number;
  total: number;
  start: number;
  open: boolean;
  chosen: boolean;
  inTabOrder: boolean;
  acts: { current: LineActs | null };
}

/** A row of the sheet, the head of a group, or the place of one that is still to come. */
export const CommandLine = memo(function CommandLine(props: CommandLineProps) {
  const { line, at, total, start, open, chosen, inTabOrder, acts } = props;
  const place = { transform: `translateY(${start}px)` };
  const about = { "data-index": at, "aria-setsize": total, "aria-posinset": at + 1 };
  const tabIndex = inTabOrder ? 0 : -1;
  if (line?.head) {
    const { id, program_name, group, rows, closed } = line.head;
    return (
      <li className={styles.head} style={place} {...about}>
        {!id.endsWith("/") && (
          <input
            type="checkbox"
            data-choose
            tabIndex={tabIndex}
            checked={false}
            aria-label={`Choose all of ${group} in ${program_name}`}
            onChange={() => acts.current?.chooseGroup(id)}
          />
        )}
        <button
          type="button"
          className="plain"
          data-row
          tabIndex={tabIndex}
          aria-expanded={!closed}
          onClick={() => acts.current?.fold(id, !closed)}
        >
          <span aria-hidden="true">{closed ? "+" : "−"}</span> <b>{group}</b> {program_name}, {rows}{" "}
          {rows === 1 ? "command" : "commands"}
        </button>
      </li>
    );
  }
  const row = line?.row;
  if (!row) return <li className={styles.line} style={place} {...about} aria-busy="true" />;
  const last = row.layers.at(-1);
  return (
    <li className={`${styles.line} ${open ? styles.open : ""}`} style={place} {...about}>
      <input
        type="checkbox"
        data-choose
        tabIndex={tabIndex}
        checked={chosen}
        aria-label={`Choose ${row.name} in ${row.program_name}`}
        onChange={(e) => acts.current?.choose(row.id, e.target.checked)}
      />
      <button
        type="button"
        className={`plain ${styles.g} ${styles.row}`}
        data-row
        tabIndex={tabIndex}
        aria-pressed={open}
        onClick={() => acts.current?.open(row, at)}
      >
        <span className={styles.keys}>
          {row.keys.length === 0 && <span className={styles.none}>no key</span>}
          {row.keys.map((k, n) => (
            <span key={k.text} className={k.unreachable ? styles.unreachable : undefined}>
              {n > 0 && <span className={styles.none}> or </span>}
              <Caps shortcut={k} />
            </span>
          ))}
        </span>
        <span className={styles.does}>
          <b>
            <Marked text={row.name} marks={row.marks} />
          </b>
          <small>
            {row.program_name}, {row.scope_name}
            {row.also && `; ${row.also}`}
            {row.states.includes("risky") && "; risky"}
          </small>
        </span>
        <span className={styles.way}>
          {row.layers.map((layer, n) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: layers are told by their place on the way
            <span key={n} className={layer === last && n === row.layers.length - 1 ? styles.holds : styles.passed}>
              {layer}
            </span>
          ))}
        </span>
        <span className={row.task ? undefined : styles.none}>{row.task_name || (row.task ?? "none")}</span>
        <span className={styles.people}>{row.people}</span>
        {row.states.includes("clashing") && <span className={styles.clash}>clashes</span>}
      </button>
    </li>
  );
});
