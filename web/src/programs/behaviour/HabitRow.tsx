import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useState } from "react";
import styles from "./Behaviour.module.css";
import type { Habit } from "./useBehaviour";

interface HabitRowProps {
  habit: Habit;
  platform: string;
  field: (name: string) => unknown;
  set: (name: string, value: unknown) => void;
}

interface Limits {
  sequence_length: number;
  bare_keys: boolean;
  [more: string]: unknown;
}

interface OnPrefix {
  wins: string;
  waits_ms: number | null;
}

/** One habit: the question, the choices, what the present one does, and the trace that shows it. */
export function HabitRow({ habit, platform, field, set }: HabitRowProps) {
  const choose = (value: string) => {
    const limits = field("limits") as Limits;
    switch (habit.id) {
      case "reads_keys_by":
        return set("reads_keys_by", { ...(field("reads_keys_by") as object), [platform]: value });
      case "bare_keys":
        return set("limits", { ...limits, bare_keys: value === "yes" });
      case "pad_counts":
      case "card_only":
        return set(habit.id, value === "yes");
      case "on_prefix":
        return set("on_prefix", { ...(field("on_prefix") as OnPrefix), wins: value });
      default:
        return set(habit.id, value);
    }
  };
  return (
    <section className={styles.habit} aria-label={habit.title}>
      <div>
        <h2>{habit.title}</h2>
        <p>{habit.asks}</p>
      </div>
      <div className={styles.choice}>
        {habit.options.length > 0 && (
          <ToggleButtonGroup
            exclusive
            size="small"
            value={habit.value}
            aria-label={habit.asks}
            onChange={(_, value: string | null) => value && choose(value)}
          >
            {habit.options.map((o) => (
              <ToggleButton key={o.value} value={o.value} title={o.does}>
                {o.title}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
        )}
        {habit.id === "sequence_length" && (
          <Figure
            label="Presses at most"
            value={(field("limits") as Limits).sequence_length}
            least={1}
            most={12}
            onChange={(n) => set("limits", { ...(field("limits") as Limits), sequence_length: n })}
          />
        )}
        {habit.id === "on_prefix" && habit.value === "long" && (
          <Figure
            label="Waits for (ms; 0: as long as it takes)"
            value={(field("on_prefix") as OnPrefix).waits_ms ?? 0}
            least={0}
            most={60_000}
            onChange={(n) => set("on_prefix", { ...(field("on_prefix") as OnPrefix), waits_ms: n === 0 ? null : n })}
          />
        )}
        {habit.id === "switches" && (
          <Switches value={field("switches") as Switch[]} onChange={(v) => set("switches", v)} />
        )}
        <p>{habit.says}</p>
      </div>
      <div className={styles.shown}>
        {habit.shown && (
          <>
            <small>{habit.shown.given}</small>
            <ol>
              {habit.shown.presses.map((p, n) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: presses follow one another, and may be the same
                <li key={n}>
                  <kbd>{p.pressed}</kbd>
                  <i aria-hidden="true" />
                  <span>{p.says}</span>
                </li>
              ))}
            </ol>
          </>
        )}
      </div>
    </section>
  );
}

interface FigureProps {
  label: string;
  value: number;
  least: number;
  most: number;
  onChange: (value: number) => void;
}

function Figure({ label, value, least, most, onChange }: FigureProps) {
  const [text, setText] = useState(String(value));
  const number = Number(text);
  const wrong = !/^\d+$/.test(text) || number < least || number > most;
  return (
    <TextField
      label={label}
      value={text}
      error={wrong}
      helperText={wrong ? `A whole number from ${least} to ${most}.` : undefined}
      onChange={(e) => {
        setText(e.target.value);
        const next = Number(e.target.value);
        if (/^\d+$/.test(e.target.value) && next >= least && next <= most) onChange(next);
      }}
      slotProps={{ htmlInput: { inputMode: "numeric" } }}
      sx={{ width: 250 }}
    />
  );
}

interface Switch {
  id: string;
  name: string;
  where: string;
}

function Switches({ value, onChange }: { value: Switch[]; onChange: (value: Switch[]) => void }) {
  const put = (at: number, next: Switch) => onChange(value.map((s, n) => (n === at ? next : s)));
  return (
    <div className={styles.switches}>
      {value.map((s, n) => (
        <div key={s.id}>
          <TextField label="Switch" value={s.name} onChange={(e) => put(n, { ...s, name: e.target.value })} />
          <TextField label="Where it is" value={s.where} onChange={(e) => put(n, { ...s, where: e.target.value })} />
          <Button
            color="inherit"
            aria-label={`Take out ${s.name}`}
            onClick={() => onChange(value.filter((o) => o.id !== s.id))}
          >
            Take out
          </Button>
        </div>
      ))}
      <Button
        color="inherit"
        variant="outlined"
        onClick={() => onChange([...value, { id: freeId(value), name: "A switch", where: "Settings" }])}
      >
        Add a switch
      </Button>
    </div>
  );
}

function freeId(value: Switch[]): string {
  let n = value.length + 1;
  while (value.some((s) => s.id === `switch-${n}`)) n += 1;
  return `switch-${n}`;
}
