import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import type { KeyboardEvent } from "react";
import { useEffect, useId, useState } from "react";
import type { Schemas } from "../api/client";
import { ProblemError } from "../api/client";
import { Caps } from "./Caps";
import { modifiersOf } from "./heldKeys";
import styles from "./PressField.module.css";
import { useStrip } from "./strip";
import type { Given } from "./usePress";
import { usePress } from "./usePress";

export type Judgement = Schemas["JudgementOut"];

interface PressFieldProps {
  label: string;
  setup: string;
  program: string | null;
  scope: string | null;
  /** Called with every judgement of a complete press, and with null when the field is empty or can't be read. */
  onJudged: (judgement: Judgement | null) => void;
}

const MODIFIER_KEYS = new Set(["Control", "Alt", "Shift", "Meta", "AltGraph"]);

/** Asks for a shortcut: press it, click it together on the keyboard below, or type it. It is judged at once. */
export function PressField({ label, setup, program, scope, onJudged }: PressFieldProps) {
  const [text, setText] = useState("");
  const [given, setGiven] = useState<Given | null>(null);
  const [recording, setRecording] = useState(false);
  const [held, setHeld] = useState<string[]>([]);
  const strip = useStrip();
  const press = usePress(setup, program, scope, given);
  const says = useId();
  const problem = press.error instanceof ProblemError ? press.error.problem : null;
  const judged = given && !press.isPlaceholderData && !problem ? (press.data ?? null) : null;

  useEffect(() => onJudged(judged), [judged, onJudged]);
  useEffect(() => {
    if (!recording) return;
    strip.listen((code, modifiers) => {
      setGiven({ strokes: [{ code, modifiers }] });
      setText("");
    });
    return () => strip.listen(null);
  }, [recording, strip.listen]);

  const type = (next: string) => {
    setText(next);
    setGiven(next.trim() ? { text: next } : null);
  };
  const stop = () => {
    setRecording(false);
    setHeld([]);
  };
  const record = (event: KeyboardEvent) => {
    if (!recording || event.key === "Tab") return;
    event.preventDefault();
    event.stopPropagation();
    const modifiers = modifiersOf(event);
    if (event.key === "Escape" && modifiers.length === 0) {
      stop();
      return;
    }
    setHeld(modifiers);
    if (MODIFIER_KEYS.has(event.key)) return;
    setGiven({ strokes: [{ code: event.code, modifiers }] });
    setText("");
    setHeld([]);
  };
  const shown = recording ? (held.length ? `${held.join("+")}+` : "") : text;
  return (
    <div className={styles.field}>
      <div className={styles.row}>
        <TextField
          label={label}
          value={shown || (judged && !text ? judged.shortcut.words : shown)}
          onChange={(e) => !recording && type(e.target.value)}
          onKeyDown={record}
          onKeyUp={(e) => recording && setHeld(modifiersOf(e))}
          placeholder={recording ? "Press now" : "Type it, such as ctrl shift u"}
          error={problem !== null}
          slotProps={{ htmlInput: { "aria-describedby": says, spellCheck: false, autoComplete: "off" } }}
          className={styles.input}
        />
        <Button
          variant={recording ? "contained" : "outlined"}
          aria-pressed={recording}
          onClick={(e) => {
            if (recording) {
              stop();
              return;
            }
            setRecording(true);
            e.currentTarget.closest("div")?.querySelector("input")?.focus();
          }}
        >
          {recording ? "Stop listening" : "Press it"}
        </Button>
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
            Press it, or click it together on the keyboard below. A browser never sees presses that its system takes
            (locking, switching windows): type those. Escape stops.
          </span>
        )}
      </div>
    </div>
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

const VERDICTS: Record<string, string> = {
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
          {h.program}: {h.says}.
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
    </span>
  );
}
