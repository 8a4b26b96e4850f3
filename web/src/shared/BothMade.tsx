import Button from "@mui/material/Button";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { ProblemError } from "../api/client";
import styles from "./BothMade.module.css";

/** An item that two people made something else of. Words of it come along where the server says them. */
export interface Contradiction {
  section: string;
  key: string;
  ours: unknown;
  theirs: unknown;
  says_ours?: string;
  says_theirs?: string;
}

export function contradictionsIn(error: unknown): Contradiction[] {
  if (!(error instanceof ProblemError)) return [];
  return (error.problem as { contradictions?: Contradiction[] }).contradictions ?? [];
}

interface BothMadeProps {
  by: unknown;
  found: Contradiction[];
  onChosen: (chosen: Schemas["ChosenItemIn"][]) => void;
}

/** Two people made something else of the same: both are told, and whose is to count is chosen for each. Whoever wants a third
 * thing goes on editing, and saves that. */
export function BothMade({ by, found, onChosen }: BothMadeProps) {
  const [mine, setMine] = useState<ReadonlySet<string>>(new Set());
  const name = by instanceof ProblemError ? (by.problem.by ?? "Somebody") : "Somebody";
  const set = (key: string, on: boolean) => {
    const next = new Set(mine);
    if (on) next.add(key);
    else next.delete(key);
    setMine(next);
  };
  return (
    <div className={styles.both} role="alert">
      <b>{name} changed the same while you looked at it.</b> Nothing of yours was saved and nothing of theirs was lost.
      {found.map((c) => (
        <fieldset key={c.key} className={styles.choices}>
          <legend>{c.key || c.section}</legend>
          <label className={styles.choice}>
            <input type="radio" name={c.key} checked={!mine.has(c.key)} onChange={() => set(c.key, false)} />
            <span>
              {name}'s: {c.says_theirs || itemInWords(c.theirs)}
            </span>
          </label>
          <label className={styles.choice}>
            <input type="radio" name={c.key} checked={mine.has(c.key)} onChange={() => set(c.key, true)} />
            <span>Yours: {c.says_ours || itemInWords(c.ours)}</span>
          </label>
        </fieldset>
      ))}
      <Button
        variant="outlined"
        onClick={() =>
          onChosen(
            found.map((c) => ({
              section: c.section,
              key: c.key,
              value: (mine.has(c.key) ? c.ours : c.theirs) as Schemas["ChosenItemIn"]["value"],
            })),
          )
        }
      >
        Save with these
      </Button>
    </div>
  );
}

/** An item of the standard in a few words. */
export function itemInWords(value: unknown): string {
  if (value === null || value === undefined) return "taken out";
  if (typeof value !== "object") return String(value);
  const item = value as Record<string, unknown>;
  const keys = Array.isArray(item.keys) ? item.keys.join(" then ") : item.keys;
  return [keys, item.reason].filter(Boolean).join(", ") || "as it is";
}
