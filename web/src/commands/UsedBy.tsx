import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { useChangeItems } from "../organisation/useOrganisation";
import { useRights } from "../shared/useSession";
import styles from "./Commands.module.css";
import type { CommandRow, Life } from "./useCommands";

/** How often one person of each role uses the command in a week: seen, entered, changed and taken out. */
export function UsedBy({ row, uses }: { row: CommandRow; uses: Life["uses"] }) {
  const rights = useRights();
  const change = useChangeItems();
  const [typed, setTyped] = useState<Record<string, string>>({});
  if (uses.length === 0) return null;
  const known = uses.filter((u) => u.weekly !== null);
  if (!rights.edit) {
    if (known.length === 0) return null;
    return <p>One person uses it in a week: {known.map((u) => `${u.name} ${u.weekly} times`).join(", ")}.</p>;
  }
  const textOf = (u: Life["uses"][number]) => typed[u.role] ?? (u.weekly === null ? "" : String(u.weekly));
  const changed = uses.filter((u) => textOf(u).trim() !== (u.weekly === null ? "" : String(u.weekly)));
  const wrong = (text: string) => !/^(\d{1,5}|100000|)$/.test(text.trim());
  const item = (role: string, weekly: number) => ({ role, program: row.program, command: row.command, weekly });
  return (
    <form
      className={styles.usedBy}
      aria-label="Uses a week"
      onSubmit={(e) => {
        e.preventDefault();
        change.mutate(
          {
            title: `Said how often ${row.name} is used`,
            items: changed.map((u) => ({
              section: "uses",
              before: u.weekly === null ? null : item(u.role, u.weekly),
              after: textOf(u).trim() === "" ? null : item(u.role, Number(textOf(u))),
            })),
          },
          { onSuccess: () => setTyped({}) },
        );
      }}
    >
      <b>Uses a week, by one person</b>
      {uses.map((u) => (
        <TextField
          key={u.role}
          label={`${u.name}, ${u.people} ${u.people === 1 ? "person" : "people"}`}
          placeholder="nobody has said"
          value={textOf(u)}
          error={wrong(textOf(u))}
          helperText={wrong(textOf(u)) ? "A whole number, 100000 at most; empty: nobody has said" : undefined}
          onChange={(e) => setTyped({ ...typed, [u.role]: e.target.value })}
          slotProps={{ htmlInput: { inputMode: "numeric", maxLength: 8 }, inputLabel: { shrink: true } }}
        />
      ))}
      <Button
        type="submit"
        variant="outlined"
        color="inherit"
        loading={change.isPending}
        disabled={changed.length === 0 || changed.some((u) => wrong(textOf(u)))}
      >
        Enter uses
      </Button>
    </form>
  );
}
