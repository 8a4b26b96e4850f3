import { useEffect, useRef } from "react";
import { someOf } from "../app/setupsInWords";
import { Caps } from "../keyboard/Caps";
import styles from "./Clashes.module.css";
import { STATIONS, segments } from "./stations";
import type { Group } from "./useClashes";
import { WaysPanel } from "./WaysPanel";

interface ClashRowProps {
  group: Group;
  open: boolean;
  most: number;
  inTabOrder: boolean;
  onFocus: () => void;
  onToggle: () => void;
}

export function ClashRow({ group, open, most, inTabOrder, onFocus, onToggle }: ClashRowProps) {
  const { subject } = group;
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (open) row.current?.scrollIntoView({ block: "nearest" });
  }, [open]);
  const line = segments(group);
  return (
    <li ref={row} className={open ? styles.openRow : undefined}>
      <button
        type="button"
        data-row
        className={`plain ${styles.g} ${styles.row}`}
        aria-expanded={open}
        tabIndex={inTabOrder ? 0 : -1}
        onFocus={onFocus}
        onClick={onToggle}
      >
        <Caps shortcut={subject.shortcut} />
        <span className={styles.meant}>
          <b>{subject.command_name}</b>
          <small>
            {subject.program_name}, {subject.scope_name}
          </small>
        </span>
        {STATIONS.map((s, n) => (
          <span
            key={s.id}
            className={`${styles.line} ${styles[line[n] ?? "off"]} ${line[n] === "stop" && line.includes("goal") ? styles.onward : ""}`}
          >
            {line[n] === "stop" && <i className={styles.taken}>{group.taken_says}</i>}
            {line[n] === "goal" && <i className={styles.goalSays}>{group.meant_says}</i>}
            {line[n] === "stop" && group.kind === "same_scope" && (
              <i className={styles.beside}>{subject.command_name}</i>
            )}
          </span>
        ))}
        <span className={styles.people}>
          {group.people} people<span className="unseen">, {group.severity}</span>
          <i style={{ width: `${Math.max(3, (group.people / most) * 100)}%` }} />
        </span>
      </button>
      {open && (
        <div className={styles.panel}>
          <p>
            {group.says} <b>{touched(group)}</b>
            {group.allowed && ` Allowed by ${group.allowed.by}: ${group.allowed.reason}`}
            {group.allowed?.until && ` It comes back after ${group.allowed.until}.`}
          </p>
          <WaysPanel group={group} onDecided={onToggle} />
        </div>
      )}
    </li>
  );
}

function touched(group: Group): string {
  const where = someOf(group.setups);
  return `${group.people} people in ${where} are touched.`;
}
