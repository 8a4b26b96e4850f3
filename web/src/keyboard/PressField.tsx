import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import type { KeyboardEvent } from "react";
import { useEffect, useId, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { ProblemError } from "../api/client";
import { useUnseen } from "../shared/own/useOwn";
import { Caps } from "./Caps";
import { modifiersOf } from "./heldKeys";
import styles from "./PressField.module.css";
import { useStrip } from "./strip";
import type { Given, Heard } from "./usePress";
import { usePress } from "./usePress";

export type Judgement = Schemas["JudgementOut"];

interface PressFieldProps {
  label: string;
  setup: string;
  program: string | null;
  scope: string | null;
  /** Called with every judgement of a complete press, and with null when the field is empty or can't be read. */
  onJudged: (judgement: Judgement | null, given: Given | null) => void;
  /** Listens as soon as it is there. */
  listening?: boolean;
}

const MODIFIER_KEYS = new Set(["Control", "Alt", "Shift", "Meta", "AltGraph"]);
const MOST = 12;

/** Asks for a shortcut: press it, click it together on the keyboard below, or type it. It is judged at once, while it is
 * held; Escape leaves everything as it was before. */
export function PressField({ label, setup, program, scope, onJudged, listening = false }: PressFieldProps) {
  const [text, setText] = useState("");
  const [given, setGiven] = useState<Given | null>(null);
  const [recording, setRecording] = useState(listening);
  const [several, setSeveral] = useState(false);
  const [held, setHeld] = useState<string[]>([]);
  const strip = useStrip();
  const press = usePress(setup, program, scope, given);
  const says = useId();
  const input = useRef<HTMLInputElement>(null);
  const before = useRef<{ text: string; given: Given | null }>({ text: "", given: null });
  // The most modifiers that were held since nothing was: let go without another key, they were tapped alone.
  const tapped = useRef<string[]>([]);
  const problem = press.error instanceof ProblemError ? press.error.problem : null;
  const judged = given && !press.isPlaceholderData && !problem ? (press.data ?? null) : null;

  useEffect(() => onJudged(judged, given), [judged, given, onJudged]);
  useEffect(() => {
    if (listening) input.current?.focus();
  }, [listening]);
  const take = (stroke: Heard) => {
    setGiven((old) => {
      const strokes = several && old && "strokes" in old ? old.strokes : [];
      return { strokes: [...strokes, stroke].slice(0, MOST) };
    });
    setText("");
  };
  const newest = useRef(take);
  newest.current = take;
  useEffect(() => {
    if (!recording) return;
    strip.listen((code, modifiers) => newest.current({ code, modifiers, key: "" }));
    return () => strip.listen(null);
  }, [recording, strip.listen]);

  const type = (next: string) => {
    setText(next);
    setGiven(next.trim() ? { text: next } : null);
  };
  const listen = () => {
    before.current = { text, given };
    setRecording(true);
    input.current?.focus();
  };
  const stop = () => {
    setRecording(false);
    setHeld([]);
    tapped.current = [];
  };
  const down = (event: KeyboardEvent) => {
    if (!recording || event.key === "Tab") return;
    event.preventDefault();
    event.stopPropagation();
    const modifiers = modifiersOf(event);
    if (event.key === "Escape" && modifiers.length === 0) {
      setText(before.current.text);
      setGiven(before.current.given);
      stop();
      return;
    }
    setHeld(modifiers);
    if (MODIFIER_KEYS.has(event.key)) {
      if (!event.repeat) tapped.current = modifiers;
      return;
    }
    tapped.current = [];
    if (event.repeat) return;
    take({ code: event.code, modifiers, key: event.key });
  };
  const up = (event: KeyboardEvent) => {
    if (!recording) return;
    const modifiers = modifiersOf(event);
    setHeld(modifiers);
    if (modifiers.length === 0 && tapped.current.length > 0) take({ code: null, modifiers: tapped.current, key: "" });
    if (modifiers.length === 0) tapped.current = [];
  };
  const count = given && "strokes" in given ? given.strokes.length : 0;
  const shown = recording && held.length ? `${held.join("+")}+` : text || (judged ? judged.shortcut.words : "");
  return (
    <div className={styles.field} data-listening={recording ? "" : undefined}>
      <div className={styles.row}>
        <TextField
          label={label}
          inputRef={input}
          value={shown}
          onChange={(e) => !recording && type(e.target.value)}
          onKeyDown={down}
          onKeyUp={up}
          onBlur={() => setHeld([])}
          placeholder={recording ? "Press now" : "Type it, such as ctrl shift u"}
          error={problem !== null}
          slotProps={{ htmlInput: { "aria-describedby": says, spellCheck: false, autoComplete: "off" } }}
          className={styles.input}
        />
        <Button
          variant={recording ? "contained" : "outlined"}
          aria-pressed={recording}
          onClick={() => (recording ? stop() : listen())}
        >
          {recording ? "Stop listening" : "Press it"}
        </Button>
        {recording && (
          <Button
            variant={several ? "contained" : "outlined"}
            color="inherit"
            aria-pressed={several}
            onClick={() => {
              setSeveral(!several);
              input.current?.focus();
            }}
          >
            Several in a row
          </Button>
        )}
        {several && count > 1 && (
          <Button
            color="inherit"
            onClick={() => {
              setGiven((old) => (old && "strokes" in old ? { strokes: old.strokes.slice(0, -1) } : old));
              input.current?.focus();
            }}
          >
            Take the last back
          </Button>
        )}
        {(given || text) && (
          <Button
            color="inherit"
            onClick={() => {
              setText("");
              setGiven(null);
              stop();
            }}
          >
            Clear
          </Button>
        )}
      </div>
      <div id={says} className={styles.says} aria-live="polite">
        {problem && <Fault problem={problem} onGuess={type} />}
        {judged && <Verdict judged={judged} />}
        {recording && !judged && (
          <span>
            Press it, or click it together on the keyboard below. Escape leaves it as it was; Tab leads on. Both can be
            clicked or typed.
          </span>
        )}
        {recording && <Unseen />}
      </div>
    </div>
  );
}

/** The presses that this browser never sees, so that nobody waits for them. */
function Unseen() {
  const unseen = useUnseen(true).data;
  if (!unseen || unseen.length === 0) return null;
  return (
    <details className={styles.unseen}>
      <summary>
        Your system takes {unseen.length} presses before a page sees them, and the browser some for its tabs and
        windows: click or type those.
      </summary>
      <ul>
        {unseen.map((u) => (
          <li key={u.keys.text}>
            <Caps shortcut={u.keys} /> {u.does}
          </li>
        ))}
      </ul>
    </details>
  );
}

interface FaultProps {
  problem: ProblemError["problem"];
  onGuess: (guess: string) => void;
}

/** A text that can't be read, with the place of its fault marked. */
function Fault({ problem, onGuess }: FaultProps) {
  const { text, span, guess } = problem;
  return (
    <span role="alert">
      {text && span && (
        <code className={styles.code}>
          {text.slice(0, span[0])}
          <mark>{text.slice(span[0], span[1]) || "␣"}</mark>
          {text.slice(span[1])}
        </code>
      )}{" "}
      {problem.title} {problem.detail}{" "}
      {guess && (
        <button type="button" className={styles.guess} onClick={() => onGuess(guess)}>
          Take {guess}
        </button>
      )}
    </span>
  );
}

const VERDICTS: Record<Judgement["verdict"], string> = {
  free: "Free here.",
  taken: "Taken here.",
  types: "Types here.",
  impossible: "Can't be used here.",
};

function Verdict({ judged }: { judged: Judgement }) {
  return (
    <span className={styles.verdict}>
      <Caps shortcut={judged.shortcut} />
      <b className={styles[`v_${judged.verdict}`]}>{VERDICTS[judged.verdict]}</b>
      {judged.unreachable && <span>Nobody can press it: {judged.unreachable}.</span>}
      {judged.refused && <span>{judged.refused}</span>}
      {judged.holders.map((h) => (
        <span key={`${h.station}${h.command}`}>
          {h.program}: {h.says}.{h.source && <small className={styles.source}> Source: {h.source}.</small>}
        </span>
      ))}
      {judged.types && <span>It types {judged.types} on this keyboard.</span>}
      {judged.caret && <span>Where people type, it {judged.caret}.</span>}
      {judged.note && <span>{judged.note}.</span>}
      {judged.reach !== null && (
        <span>
          Reach {judged.reach}
          {judged.flags.length > 0 && `, ${judged.flags.join(", ")}`}.
        </span>
      )}
      {judged.differs && <span className={styles.differs}>{judged.differs}</span>}
    </span>
  );
}
