import { useState } from "react";
import { Caps } from "../keyboard/Caps";
import { Part } from "../shared/Part";
import styles from "./Commands.module.css";
import type { CommandRow, FreeAsked, FreeKey } from "./useCommands";
import { useFreeKeys } from "./useCommands";

const ROWS = ["function keys", "digits", "upper letters", "home row", "lower letters"] as const;
const MODIFIERS = ["no modifier", "one modifier", "two modifiers", "three modifiers"];

interface FreeKeysProps {
  row: CommandRow;
  through: string;
  onPick: (key: FreeKey["keys"]) => void;
}

/** The easiest keys that are free for a command, narrowed down in a sentence; one of them is picked by pressing it. */
export function FreeKeys({ row, through, onPick }: FreeKeysProps) {
  const [asked, setAsked] = useState<FreeAsked>({});
  const found = useFreeKeys(through, row.id, asked);
  const change = (parts: Record<string, string>) => {
    const next: FreeAsked = { ...asked };
    for (const [name, value] of Object.entries(parts)) Object.assign(next, { [name]: value || undefined });
    setAsked(next);
  };
  const part = (label: string, name: keyof FreeAsked, any: string, choices: [string, string][]) => (
    <Part
      label={label}
      value={choices.find(([id]) => id === asked[name])?.[1] ?? any}
      choices={[["", any] as const, ...choices].map(([id, text]) => ({ key: id, text, parts: { [name]: id } }))}
      chosen={asked[name] ?? ""}
      change={change}
    />
  );
  return (
    <section aria-label="Free keys" className={styles.free}>
      <p>
        Free in {part("Where", "everywhere", "this setup", [["true", "all setups that have it"]])}, for{" "}
        {part("Hand", "hand", "either hand", [
          ["left hand", "the left hand"],
          ["right hand", "the right hand"],
        ])}
        , in{" "}
        {part(
          "Row",
          "in_row",
          "any row",
          ROWS.map((r) => [r, `the ${r}`]),
        )}
        , with{" "}
        {part(
          "Modifiers",
          "modifiers",
          "any modifiers",
          MODIFIERS.map((m, n) => [String(n), m]),
        )}
        , on {part("Letter", "first_letter", "any key", [["true", "its first letter"]])}
      </p>
      {found.data?.length === 0 && <p role="status">No key is free like that.</p>}
      <ul>
        {found.data?.map((f) => (
          <li key={f.keys.text}>
            <button
              type="button"
              className="plain"
              aria-label={`Pick ${f.keys.words}`}
              title={[`reach ${f.reach}`, ...f.reasons].join(", ")}
              onClick={() => onPick(f.keys)}
            >
              <Caps shortcut={f.keys} />
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
