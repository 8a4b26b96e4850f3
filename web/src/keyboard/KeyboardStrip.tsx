import Button from "@mui/material/Button";
import type { KeyboardEvent } from "react";
import { useMemo, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { useLens } from "../app/lens";
import { Caps } from "./Caps";
import { isWay, neighbour } from "./geometry";
import { useHeldKeys } from "./heldKeys";
import styles from "./KeyboardStrip.module.css";
import { useStrip } from "./strip";
import { useKeyboard } from "./useKeyboard";

type Key = Schemas["KeyOut"];
const GAP = 4;
const ROW = 30;
const OWNERS = ["system", "utility", "browser", "program", "text", "free"] as const;

/** The lens's physical keyboard at the foot of every screen. */
export function KeyboardStrip() {
  const [lens] = useLens();
  const strip = useStrip();
  const real = useHeldKeys();
  const held = useMemo(() => {
    if (real.length || strip.locked.length) return [...new Set([...strip.locked, ...real])];
    return strip.shown?.held ?? [];
  }, [real, strip.locked, strip.shown]);
  const keyboard = useKeyboard(lens, held).data;
  const [open, setOpen] = useState(true);
  const [looked, setLooked] = useState<string | null>(null);
  const hot = real.length || strip.locked.length ? null : (strip.shown?.code ?? null);
  const told = keyboard?.keys.find((k) => k.code === (looked ?? hot));
  if (!lens) return null;
  if (!open) {
    return (
      <footer className={styles.closed}>
        <Button color="inherit" onClick={() => setOpen(true)} aria-expanded={false}>
          Show the keyboard
        </Button>
      </footer>
    );
  }
  const caps = held.map((m) => keyboard?.modifier_caps[m] ?? m);
  // What a selection shows is not held: the first click begins from nothing.
  const toggle = (modifier: string) => {
    const now = [...new Set([...strip.locked, ...real])];
    strip.setLocked(now.includes(modifier) ? now.filter((m) => m !== modifier) : [...now, modifier]);
  };
  return (
    <section className={styles.strip} aria-label="Keyboard">
      <div className={styles.side}>
        <b>Held</b>
        <span className={styles.held} aria-live="polite">
          {caps.length ? <Caps shortcut={{ caps: [caps], words: caps.join(" ") }} /> : "nothing"}
        </span>
        {strip.locked.length > 0 && (
          <button type="button" className={styles.small} onClick={() => strip.setLocked([])}>
            let go
          </button>
        )}
        <ul className={styles.legend}>
          {OWNERS.map((owner) => (
            <li key={owner}>
              <i className={styles[`own_${owner}`]} />
              {owner}
            </li>
          ))}
        </ul>
        <button type="button" className={styles.small} onClick={() => setOpen(false)} aria-expanded={true}>
          hide the keyboard
        </button>
      </div>
      {keyboard && (
        <Board
          width={keyboard.width}
          rows={keyboard.rows}
          keys={keyboard.keys}
          held={held}
          hot={hot}
          onLook={setLooked}
          onPress={(key) => (key.modifier ? toggle(key.modifier) : strip.click(key.code, held))}
        />
      )}
      <div className={styles.hint}>
        {told ? (
          <>
            <b>
              {told.cap || "Space"}
              {caps.length ? ` with ${caps.join(" ")}` : ""}
            </b>
            {!looked && strip.shown?.note && <span>{strip.shown.note}</span>}
            <span>{told.sentence}</span>
            {told.reach < 999 && !told.modifier && <span>reach {told.reach}</span>}
          </>
        ) : (
          <span>
            Hold Ctrl, Alt or Shift, or click them here: each key then names who takes it in {lens.programName},{" "}
            {lens.scopeName}.
          </span>
        )}
      </div>
    </section>
  );
}

interface BoardProps {
  width: number;
  rows: number;
  keys: Key[];
  held: string[];
  hot: string | null;
  onLook: (code: string | null) => void;
  onPress: (key: Key) => void;
}

/** The keys, one of them in the tab order; arrows lead from key to key. */
function Board({ width, rows, keys, held, hot, onLook, onPress }: BoardProps) {
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
      onMouseLeave={() => onLook(null)}
      onBlur={() => onLook(null)}
      aria-label="Keys"
    >
      {keys.map((k) => {
        const isHeld = k.modifier !== null && (held.includes(k.modifier) || altGrIsHeld(k.modifier, held));
        const owner = k.owner === "dead" ? "" : styles[`k_${k.owner}`];
        return (
          <button
            key={k.code}
            type="button"
            data-code={k.code}
            tabIndex={k.code === at ? 0 : -1}
            className={[styles.k, owner, isHeld && styles.isHeld, k.code === hot && styles.hot]
              .filter(Boolean)
              .join(" ")}
            style={{
              left: x(k.x),
              top: k.y * ROW + (k.y > 0 ? 6 : 0),
              width: `calc(${(k.w / width) * 100}% - ${GAP}px)`,
              height: ROW - GAP,
            }}
            title={k.sentence}
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
            <span className="unseen">{`${k.cap || "Space"}${k.modifier ? "" : `, ${k.sentence}`}`}</span>
            {k.says && k.owner !== "free" && (k.owner !== "text" || k.says.toLowerCase() !== k.cap.toLowerCase()) && (
              <small aria-hidden="true">{k.short}</small>
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
}

function altGrIsHeld(modifier: string, held: string[]): boolean {
  return modifier === "AltGraph" && held.includes("Control") && held.includes("Alt");
}
