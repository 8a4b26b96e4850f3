import Button from "@mui/material/Button";
import { useCallback, useMemo, useRef, useState } from "react";
import type { Lens } from "../shared/lens";
import { lensFrom, useLens, useLenses } from "../shared/lens";
import { useAction } from "../shared/own/own";
import { useKept } from "../shared/useKept";
import type { Key } from "./Board";
import { Board } from "./Board";
import { Caps } from "./Caps";
import { useHeldKeys } from "./heldKeys";
import styles from "./KeyboardStrip.module.css";
import { useStrip } from "./strip";
import { byPosition } from "./strokes";
import type { Pressed } from "./useKeyboard";
import { useKeyboard } from "./useKeyboard";

const OWNERS = ["system", "utility", "browser", "program", "text", "free"] as const;
const NONE: ReadonlySet<string> = new Set();
const EASIEST = 14;

/** The lens's physical keyboard at the foot of every screen. */
export function KeyboardStrip() {
  const [lens] = useLens();
  const [open, keepOpen] = useKept("keyboard", isLow() ? "no" : "yes");
  useAction("keyboard", () => keepOpen(open === "yes" ? "no" : "yes"));
  if (!lens) return null;
  if (open !== "yes") {
    return (
      <footer className={styles.closed}>
        <Button color="inherit" onClick={() => keepOpen("yes")} aria-expanded={false}>
          Show the keyboard
        </Button>
      </footer>
    );
  }
  return <OpenStrip lens={lens} onHide={() => keepOpen("no")} />;
}

/** Where there is no room for a keyboard beside the screen, it is there only when it is asked for. */
function isLow(): boolean {
  return window.innerHeight < 560;
}

/** The lens at the place of what the screen above selected: its setup and focus, so far as the lens has another one. */
function useLensThere(lens: Lens): Lens {
  const lenses = useLenses().data;
  const { shown } = useStrip();
  return useMemo(() => {
    if (!shown?.focus || !lenses) return lens;
    const { setup, program, scope } = shown.focus;
    const asked = new URLSearchParams({ setup, program: program ?? lens.program, scope: scope ?? lens.scope });
    const there = lensFrom(lenses, asked);
    return there ? { ...lens, ...there, against: lens.against, onlyDiffers: lens.onlyDiffers } : lens;
  }, [shown, lenses, lens]);
}

function OpenStrip({ lens: own, onHide }: { lens: Lens; onHide: () => void }) {
  const strip = useStrip();
  const lens = useLensThere(own);
  const real = useHeldKeys();
  const held = useMemo(() => {
    if (real.length || strip.locked.length) return [...new Set([...strip.locked, ...real])];
    return strip.shown?.held ?? [];
  }, [real, strip.locked, strip.shown]);
  const [layReach, keepReach] = useKept("reach", "no");
  const [looked, setLooked] = useState<string | null>(null);
  const { drafts } = strip;
  const pressed = { held, after: strip.begun, drafts };
  const other = useKeyboard(lens, ...otherwise(lens, pressed)).data;
  // Drafts that can't be are refused where they are made: the keyboard stays as it is without them.
  const keyboard = useKeyboard(lens, pressed).data ?? (lens.against ? undefined : other);
  const differing = useMemo(
    () => (keyboard && other ? differingKeys(keyboard.keys, other.keys) : NONE),
    [keyboard, other],
  );
  const reach = layReach === "yes";
  const toggleReach = () => keepReach(reach ? "no" : "yes");
  useAction("reach", toggleReach);
  const hot = real.length || strip.locked.length ? null : (strip.shown?.code ?? null);
  const told = keyboard?.keys.find((k) => k.code === (looked ?? hot));
  const theirs = told && differing.has(told.code) ? other?.keys.find((k) => k.code === told.code) : undefined;
  const caps = held.map((m) => keyboard?.modifier_caps[m] ?? m);
  // What a selection shows is not held: the first click begins from nothing.
  const toggle = (modifier: string) => {
    const now = [...new Set([...strip.locked, ...real])];
    strip.setLocked(now.includes(modifier) ? now.filter((m) => m !== modifier) : [...now, modifier]);
  };
  const press = (key: Key) => {
    if (key.modifier) toggle(key.modifier);
    else strip.click(key.code, held);
  };
  // The keys call what is newest without being drawn again for it.
  const newest = useRef(press);
  newest.current = press;
  const onPress = useCallback((key: Key) => newest.current(key), []);
  const begin = (key: Key) => {
    const one = byPosition(key.code, held);
    strip.setBegun(strip.begun ? `${strip.begun} then ${one}` : one);
    strip.setLocked([]);
  };
  const free = keyboard?.free.slice(0, EASIEST).map((code) => keyboard.keys.find((k) => k.code === code));
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
        {drafts.length > 0 && <small>with {drafts.length === 1 ? "the draft" : `${drafts.length} drafts`}</small>}
        <ul className={styles.legend}>
          {OWNERS.map((owner) => (
            <li key={owner}>
              <i className={styles[`own_${owner}`]} />
              {owner}
            </li>
          ))}
        </ul>
        <button type="button" className={styles.small} aria-pressed={reach} onClick={toggleReach}>
          {reach ? "take reach off" : "lay reach over"}
        </button>
        <a
          className={styles.small}
          href={printed(lens.setup.setup, lens.program, lens.scope, reach ? "reach" : "owners")}
        >
          print it
        </a>
        <a className={styles.small} href={printed(lens.setup.setup, lens.program, lens.scope, "use")}>
          print its use
        </a>
        <button type="button" className={styles.small} onClick={onHide} aria-expanded={true}>
          hide the keyboard
        </button>
      </div>
      {keyboard && (
        <div className={styles.wide}>
          <Board
            width={keyboard.width}
            rows={keyboard.rows}
            keys={keyboard.keys}
            held={held}
            hot={hot}
            reach={reach}
            differing={differing}
            onlyDiffers={lens.onlyDiffers}
            onLook={setLooked}
            onPress={onPress}
          />
        </div>
      )}
      <div className={styles.hint}>
        {keyboard?.after && (
          <div className={styles.begun}>
            <span>After</span> <Caps shortcut={keyboard.after} />
            <button type="button" className={styles.small} onClick={() => strip.setBegun("")}>
              begin anew
            </button>
            <span aria-live="polite">
              {keyboard.waiting.length === 0
                ? "nothing waits for a further press."
                : `may become ${keyboard.waiting.slice(0, 3).join(", ")}${keyboard.waiting.length > 3 ? " …" : ""}`}
            </span>
          </div>
        )}
        {told ? (
          <>
            <b>
              {told.cap || "Space"}
              {caps.length && !told.modifier ? ` with ${caps.join(" ")}` : ""}
            </b>
            {!looked && strip.shown?.note && <span>{strip.shown.note}</span>}
            <span>{told.sentence}</span>
            {told.source && <small className={styles.source}>Source: {told.source}</small>}
            {theirs && (
              <span>
                {lens.against?.short ?? "Without the drafts"}: {theirs.sentence}
              </span>
            )}
            {told.reach < 999 && !told.modifier && <span>reach {told.reach}</span>}
            {told.says === "waits for more" && (
              <button type="button" className={styles.small} onClick={() => begin(told)}>
                and then?
              </button>
            )}
          </>
        ) : (
          <>
            <span>
              Hold Ctrl, Alt or Shift, or click them here: each key then names who takes it in {lens.programName},{" "}
              {lens.scopeName}.
            </span>
            {held.length > 0 && (
              <span className={styles.easiest}>
                {free?.length ? "Free, easiest first:" : "No key is free with these."}
                {free?.map(
                  (k) =>
                    k && (
                      <button
                        key={k.code}
                        type="button"
                        onClick={() => press(k)}
                        aria-label={`${k.cap}, reach ${k.reach}`}
                      >
                        {k.cap || "␣"}
                      </button>
                    ),
                )}
              </span>
            )}
          </>
        )}
      </div>
    </section>
  );
}

/** What the keyboard is held against: the lens's other setup; else, where drafts are shown, what is without them. */
function otherwise(lens: Lens, pressed: Pressed): [Pressed, string | null] {
  if (lens.against) return [pressed, lens.against.setup];
  return [{ ...pressed, drafts: [] }, pressed.drafts.length > 0 ? lens.setup.setup : null];
}

/** The keys that somebody else takes on the other keyboard, or that do something else there. */
function differingKeys(here: Key[], there: Key[]): ReadonlySet<string> {
  const others = new Map(there.map((k) => [k.code, k]));
  return new Set(
    here
      .filter((k) => {
        const other = others.get(k.code);
        return k.modifier === null && (other === undefined || other.owner !== k.owner || other.says !== k.says);
      })
      .map((k) => k.code),
  );
}

/** Where the keyboard is fetched as a PDF. */
function printed(
  setup: string,
  program: string | null,
  scope: string | null,
  shows: "owners" | "reach" | "use",
): string {
  const asked = new URLSearchParams({ setup, shows });
  if (program && scope) {
    asked.set("program", program);
    asked.set("scope", scope);
  }
  return `/api/cards/keyboard.pdf?${asked}`;
}
