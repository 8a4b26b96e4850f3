import type { RefObject } from "react";
import { memo } from "react";
import { Caps } from "../keyboard/Caps";
import styles from "./Clashes.module.css";
import type { Tab } from "./filters";
import { RowPanel } from "./RowPanel";
import type { Side } from "./sides";
import { STATIONS, segments } from "./stations";
import type { Group } from "./useClashes";

/** What a row asks of its list. */
export interface RowActs {
  focus: (index: number, group: Group) => void;
  point: (group: Group) => void;
  toggle: (group: Group) => void;
  close: (index: number) => void;
  choose: (group: Group, on: boolean) => void;
}

interface ClashRowProps {
  group: Group;
  index: number;
  total: number;
  start: number;
  measure: (row: Element | null) => void;
  tab: Tab;
  open: boolean;
  chosen: boolean;
  most: number;
  inTabOrder: boolean;
  side: Side | null;
  against: string;
  acts: RefObject<RowActs | null>;
}

/** One group: its press running through the stations to where it is taken, the dotted rest to where it was meant to go. */
export const ClashRow = memo(function ClashRow(props: ClashRowProps) {
  const { group, index, open, chosen, inTabOrder, acts } = props;
  const { subject } = group;
  const line = segments(group);
  const tabIndex = inTabOrder ? 0 : -1;
  return (
    <li
      ref={props.measure}
      data-index={index}
      data-open={open ? "" : undefined}
      aria-setsize={props.total}
      aria-posinset={index + 1}
      className={`${styles.item} ${open ? styles.openRow : ""} ${chosen ? styles.picked : ""}`}
      style={{ transform: `translateY(${props.start}px)` }}
    >
      <div className={styles.holder}>
        <input
          type="checkbox"
          data-choose
          className={styles.choose}
          checked={chosen}
          tabIndex={tabIndex}
          onChange={(e) => acts.current?.choose(group, e.target.checked)}
          aria-label={`Choose ${subject.command_name}, ${subject.shortcut.words}`}
        />
        <button
          type="button"
          data-row
          className={`plain ${styles.g} ${styles.row}`}
          aria-expanded={open}
          tabIndex={tabIndex}
          onFocus={() => acts.current?.focus(index, group)}
          onPointerEnter={() => acts.current?.point(group)}
          onClick={() => acts.current?.toggle(group)}
        >
          <span />
          <Caps shortcut={subject.shortcut} />
          <span className={styles.meant}>
            <b>{subject.command_name}</b>
            <small>
              {group.new && <em className={styles.new}>new</em>}
              {props.side === "here" && <em className={styles.new}>only here</em>}
              {props.side === "there" && <em className={styles.new}>only {props.against}</em>}
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
                <i className={styles.rival}>{subject.command_name}</i>
              )}
            </span>
          ))}
          <span className={styles.people}>
            {group.people === 1 ? "1 person" : `${group.people} people`}
            <span className="unseen">, {group.severity}</span>
            <i className={styles[`bar_${group.severity}`]} style={{ width: `${bar(group.people, props.most)}%` }} />
          </span>
        </button>
      </div>
      {open && <RowPanel group={group} tab={props.tab} onClose={() => acts.current?.close(index)} />}
    </li>
  );
});

function bar(people: number, most: number): number {
  return Math.max(3, (people / most) * 100);
}
