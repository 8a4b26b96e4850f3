import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import styles from "./Commands.module.css";
import type { CommandRow } from "./useCommands";

type Takes = CommandRow["takes"][number];

/** What a value may be, for the line below its field. */
function allowed({ least, most, values = [] }: Takes): string {
  if (least != null && most != null) return `${least} to ${most}`;
  return values.length > 0 ? "" : "Any word or number";
}

/** As it is sent: a whole number where it reads as one, and is none of the words that are allowed. */
function read({ values = [] }: Takes, text: string): string | number {
  return /^-?\d{1,15}$/.test(text) && !values.includes(text) ? Number(text) : text;
}

/**
 * The values that a template is to get along: those of its row, or fields for them. All empty: the template itself gets the key.
 * `missing` says what isn't filled in yet.
 */
export function useValues(row: CommandRow) {
  const [typed, setTyped] = useState<Record<string, string>>({});
  const given = Object.keys(row.arguments).length > 0;
  if (given || row.takes.length === 0) return { values: row.arguments, fields: null, missing: "" };
  const filled = row.takes.filter((t) => (typed[t.name] ?? "").trim());
  const values = Object.fromEntries(filled.map((t) => [t.name, read(t, (typed[t.name] ?? "").trim())]));
  const open = filled.length > 0 ? row.takes.filter((t) => !(t.name in values)).map((t) => t.name) : [];
  const fields = (
    <fieldset className={styles.values}>
      <legend>With which values; none: the command itself gets the key</legend>
      {row.takes.map((t) => (
        <TextField
          key={t.name}
          label={t.name}
          value={typed[t.name] ?? ""}
          onChange={(e) => setTyped({ ...typed, [t.name]: e.target.value })}
          helperText={allowed(t)}
          select={(t.values ?? []).length > 0}
          slotProps={{ htmlInput: { maxLength: 200, inputMode: t.least != null ? "numeric" : undefined } }}
        >
          <MenuItem value="">none</MenuItem>
          {(t.values ?? []).map((v) => (
            <MenuItem key={v} value={v}>
              {v}
            </MenuItem>
          ))}
        </TextField>
      ))}
    </fieldset>
  );
  return { values, fields, missing: open.length > 0 ? `Fill in ${open.join(" and ")} too.` : "" };
}
