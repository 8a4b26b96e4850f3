import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Many, One } from "../../shared/fields";
import styles from "./Behaviour.module.css";
import type { Behaviour, Habit } from "./useBehaviour";

interface HoldsProps {
  holds: Behaviour["holds"];
  kind: string;
  editions: string[];
  habit: Habit | undefined;
  hold: (id: string, name: string, value: unknown) => void;
}

/** So many are drawn at once: systems of several editions have hundreds. */
const SHOWN = 60;

/** What a system or a browser takes before programs hear of it, and whether it lets go. */
export function Holds({ holds, kind, editions, habit, hold }: HoldsProps) {
  const [words, setWords] = useState("");
  const found = holds.filter((h) => `${h.name} ${h.keys.join(" ")}`.toLowerCase().includes(words.toLowerCase()));
  return (
    <section className={styles.scopes} aria-label={habit?.title ?? "What it holds on to"}>
      <h2>{habit?.title}</h2>
      <p>
        {habit?.options.map((o) => (
          <span key={o.value}>
            <b>{o.title}</b>: {o.does}{" "}
          </span>
        ))}
      </p>
      {habit?.shown && (
        <div className={styles.shown}>
          <small>{habit.shown.given}</small>
          <ol>
            {habit.shown.presses.map((p) => (
              <li key={p.says}>
                <kbd>{p.pressed}</kbd>
                <i aria-hidden="true" />
                <span>{p.says}</span>
              </li>
            ))}
          </ol>
        </div>
      )}
      <TextField
        label="Words or keys"
        value={words}
        onChange={(e) => setWords(e.target.value)}
        sx={{ width: 200, my: 1 }}
      />
      <ul>
        {found.slice(0, SHOWN).map((h) => (
          <li key={h.id}>
            <b className={styles.held}>{h.name}</b>
            <kbd>{h.keys.join(", ")}</kbd>
            {h.source && <small className={styles.source}>{h.source}</small>}
            {kind === "system" ? (
              <>
                <span style={{ width: 200 }}>
                  <One
                    label="It lets go"
                    value={h.grip}
                    choices={(habit?.options ?? []).map((o) => ({ id: o.value, name: o.title }))}
                    onChange={(grip) => hold(h.id, "grip", grip)}
                  />
                </span>
                <FormControlLabel
                  control={<Switch checked={!h.off} onChange={(e) => hold(h.id, "off", !e.target.checked)} />}
                  label="on as it comes"
                />
                {editions.length > 0 && (
                  <span style={{ width: 300 }}>
                    <Many
                      label={h.editions.length === 0 ? "In every edition" : "Only in"}
                      value={h.editions}
                      choices={editions.map((e) => ({ id: e, name: e }))}
                      onChange={(ids) => hold(h.id, "editions", ids)}
                    />
                  </span>
                )}
              </>
            ) : (
              <FormControlLabel
                control={<Switch checked={h.keeps} onChange={(e) => hold(h.id, "keeps", e.target.checked)} />}
                label="kept from pages in a tab"
              />
            )}
          </li>
        ))}
        {found.length > SHOWN && (
          <li>And {found.length - SHOWN} more: say some words or keys of those that you look for.</li>
        )}
      </ul>
    </section>
  );
}
