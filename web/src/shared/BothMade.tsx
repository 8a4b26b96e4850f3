import Button from "@mui/material/Button";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { ProblemError } from "../api/client";
import styles from "./BothMade.module.css";

/** An item that two people made something else of. Words of it come along where the server says them. */
export interface Contradiction {
  section: string;
  key: string;
  /** As it was before both; null where it wasn't there. */
  base?: unknown;
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
  /** Whether it stands below a form in which something else can be made of it. */
  editable?: boolean;
  onChosen: (chosen: Schemas["ChosenItemIn"][]) => void;
}

type Whose = "base" | "ours" | "theirs" | "edited";

/** Two people made something else of the same: both are told, with what it was, and whose is to count is chosen for each; or it is
 * edited on in the form that this stands in, and what stands there when it is saved counts. */
export function BothMade({ by, found, editable = true, onChosen }: BothMadeProps) {
  const [chosen, setChosen] = useState<Readonly<Record<string, Whose>>>({});
  const name = by instanceof ProblemError ? (by.problem.by ?? "Somebody") : "Somebody";
  const whose = (one: Contradiction) => chosen[`${one.section}/${one.key}`] ?? "theirs";
  return (
    <div className={styles.both} role="alert">
      <b>{name} changed the same while you looked at it.</b> Nothing of yours was saved and nothing of theirs was lost.
      {found.map((c) => (
        <fieldset key={`${c.section}/${c.key}`} className={styles.choices}>
          <legend>{c.key || c.section}</legend>
          {choicesOf(c, name, editable).map(([one, says]) => (
            <label key={one} className={styles.choice}>
              <input
                type="radio"
                name={`${c.section}/${c.key}`}
                checked={whose(c) === one}
                onChange={() => setChosen({ ...chosen, [`${c.section}/${c.key}`]: one })}
              />
              <span>{says}</span>
            </label>
          ))}
        </fieldset>
      ))}
      <Button
        variant="outlined"
        onClick={() =>
          onChosen(
            found.map((c) => ({
              section: c.section,
              key: c.key,
              ...meant(c, whose(c)),
            })),
          )
        }
      >
        Save with these
      </Button>
    </div>
  );
}

function meant(one: Contradiction, whose: Whose): Pick<Schemas["ChosenItemIn"], "value" | "sent"> {
  if (whose === "edited") return { value: null, sent: true };
  return { value: one[whose] as Schemas["ChosenItemIn"]["value"], sent: false };
}

function choicesOf(one: Contradiction, name: string, editable: boolean): [Whose, string][] {
  const both: [Whose, string][] = [
    ["theirs", `${name}'s: ${one.says_theirs || itemInWords(one.theirs)}`],
    ["ours", `Yours: ${one.says_ours || itemInWords(one.ours)}`],
  ];
  // What both began with: an answer that doesn't tell it can't offer it.
  const base: [Whose, string][] =
    one.base === undefined
      ? []
      : [["base", `As it was before both: ${one.base === null ? "not there" : itemInWords(one.base)}`]];
  const edited: [Whose, string][] = editable ? [["edited", "Something else: change it above, and that counts"]] : [];
  return [...both, ...base, ...edited];
}

/** An item of the standard in a few words. */
export function itemInWords(value: unknown): string {
  if (value === null || value === undefined) return "taken out";
  if (typeof value !== "object") return String(value);
  const item = value as Record<string, unknown>;
  const keys = Array.isArray(item.keys) ? item.keys.join(" then ") : item.keys;
  return [keys, item.reason].filter(Boolean).join(", ") || "as it is";
}
