import Button from "@mui/material/Button";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { ProblemError } from "../api/client";
import styles from "./Standard.module.css";
import type { Contradiction } from "./useStandard";

interface BothMadeProps {
  by: unknown;
  found: Contradiction[];
  onChosen: (chosen: Schemas["ChosenItemIn"][]) => void;
}

/** Two people made something else of the same lines: both are told, and whose is to count is chosen for each. */
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
          <legend>{c.key}</legend>
          <label className={styles.choice}>
            <input type="radio" name={c.key} checked={!mine.has(c.key)} onChange={() => set(c.key, false)} />
            <span>
              {name}'s: {itemInWords(c.theirs)}
            </span>
          </label>
          <label className={styles.choice}>
            <input type="radio" name={c.key} checked={mine.has(c.key)} onChange={() => set(c.key, true)} />
            <span>Yours: {itemInWords(c.ours)}</span>
          </label>
        </fieldset>
      ))}
      <Button
        variant="outlined"
        onClick={() =>
          onChosen(found.map((c) => ({ section: c.section, key: c.key, value: mine.has(c.key) ? c.ours : c.theirs })))
        }
      >
        Save with these
      </Button>
    </div>
  );
}

/** An item of the standard in a few words. */
export function itemInWords(item: Record<string, unknown> | null): string {
  if (item === null) return "taken out";
  const keys = Array.isArray(item.keys) ? item.keys.join(" then ") : item.keys;
  return [keys, item.reason].filter(Boolean).join(", ") || "as it is";
}
