import type { KeyboardEvent } from "react";
import { memo, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { isWay, neighbour } from "./geometry";
import styles from "./KeyboardStrip.module.css";

export type Key = Schemas["KeyOut"];
const GAP = 4;
const ROW = 30;
/** Scores of reach run from 0 on the home row to about this much; what is farther is as far as can be. */
const FAR = 40;
const OUT_OF_REACH = 999;

interface BoardProps {
  width: number;
  rows: number;
  keys: Key[];
  held: string[];
  hot: string | null;
  reach: boolean;
  /** The keys that somebody else takes through the lens that this one is held against. */
  differing: ReadonlySet<string>;
  onlyDiffers: boolean;
  onLook: (code: string | null) => void;
  onPress: (key: Key) => void;
}

/** The keys, one of them in the tab order; arrows lead from key to key. */
export const Board = memo(function Board(props: BoardProps) {
  const { width, rows, keys, held, hot, reach, differing, onlyDiffers, onLook, onPress } = props;
  const [at, setAt] = useState("KeyF");
  const box = useRef<HTMLFieldSetElement>(null);
  const move = (event: KeyboardEvent) => {
    if (!isWay(event.key)) return;
    event.preventDefault();
    const next = neighbour(keys, at, event.key);
    setAt(next);
    box.current?.querySelector<HTMLElement>(`[data-code="${next}"]`)?.focus();
  };
  const x = (units: number) => `calc(${(units / width) * 100}%)`;
  return (
    <fieldset
      className={styles.board}
      style={{ height: rows * ROW + 6 }}
      ref={box}
      onKeyDown={move}
      onMouseLeave={() => {
        if (!box.current?.contains(document.activeElement)) onLook(null);
      }}
      onBlur={(event) => {
        // What is said of a key stays while the focus goes on to what can be done with it.
        if (!box.current?.closest("section")?.contains(event.relatedTarget)) onLook(null);
      }}
      aria-label="Keys"
    >
      {keys.map((k) => {
        const isHeld = k.modifier !== null && (held.includes(k.modifier) || altGrIsHeld(k.modifier, held));
        const owner = k.owner === "dead" ? "" : styles[`k_${k.owner}`];
        const differs = differing.has(k.code);
        const far = k.reach < OUT_OF_REACH && k.modifier === null;
        return (
          <button
            key={k.code}
            type="button"
            data-code={k.code}
            data-owner={k.owner}
            tabIndex={k.code === at ? 0 : -1}
            className={[
              ...[styles.k, owner, isHeld && styles.isHeld, k.code === hot && styles.hot],
              ...[
                reach && far && styles.withReach,
                differs && styles.differs,
                onlyDiffers && !differs && k.modifier === null && styles.same,
              ],
            ]
              .filter(Boolean)
              .join(" ")}
            style={{
              left: x(k.x),
              top: k.y * ROW + (k.y > 0 ? 6 : 0),
              width: `calc(${(k.w / width) * 100}% - ${GAP}px)`,
              height: ROW - GAP,
            }}
            title={k.source ? `${k.sentence} Source: ${k.source}` : k.sentence}
            aria-pressed={k.modifier ? isHeld : undefined}
            onMouseEnter={() => onLook(k.code)}
            onFocus={() => {
              setAt(k.code);
              onLook(k.code);
            }}
            onClick={() => onPress(k)}
          >
            <b aria-hidden="true" className={k.cap.length > 4 ? styles.long : undefined}>
              {k.cap}
            </b>
            {k.second && (
              <i aria-hidden="true" className={styles.second}>
                {k.second}
              </i>
            )}
            <span className="unseen">
              {`${k.cap || "Space"}${k.second && ` or ${k.second}`}${k.modifier ? "" : `, ${k.sentence}`}${differs ? " Differs." : ""}`}
              {reach && far && ` Reach ${k.reach}.`}
            </span>
            {k.says && k.owner !== "free" && (k.owner !== "text" || k.says.toLowerCase() !== k.cap.toLowerCase()) && (
              <small aria-hidden="true">{k.short}</small>
            )}
            {reach && far && (
              <i aria-hidden="true" className={styles.reach}>
                <i style={{ width: `${Math.min(100, (k.reach / FAR) * 100)}%` }} />
                {k.reach}
              </i>
            )}
          </button>
        );
      })}
      {keys.map(
        (k) =>
          k.below && (
            <span
              key={`${k.code}-below`}
              aria-hidden="true"
              className={styles.below}
              style={{
                left: x(k.below[0] ?? 0),
                top: (k.y + 1) * ROW + 6 - GAP - 3,
                width: `calc(${((k.below[1] ?? 1) / width) * 100}% - ${GAP}px)`,
                height: ROW,
              }}
            />
          ),
      )}
    </fieldset>
  );
});

function altGrIsHeld(modifier: string, held: string[]): boolean {
  return modifier === "AltGraph" && held.includes("Control") && held.includes("Alt");
}
