import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Refusal } from "../../shared/Consequences";
import { One } from "../../shared/fields";
import items from "../items/Items.module.css";
import type { Organisation } from "../useOrganisation";
import { useChangeItems } from "../useOrganisation";
import { useEnterUse, useUses } from "./useUses";

interface UsesProps {
  role: string;
  organisation: Organisation;
  disabled: boolean;
}

/** How often one person of a role uses commands in a week: what few use gives way first. */
export function Uses({ role, organisation, disabled }: UsesProps) {
  const found = useUses(role);
  const enter = useEnterUse(role);
  const change = useChangeItems();
  const [program, setProgram] = useState("");
  const [command, setCommand] = useState("");
  const [weekly, setWeekly] = useState("");
  const ready = program !== "" && command.trim() !== "" && /^\d{1,6}$/.test(weekly);
  return (
    <section aria-label="Uses a week">
      <h3 className={items.sub}>Uses a week, by one person</h3>
      {found.data?.length === 0 && <p className={items.note}>Nobody has said yet.</p>}
      <ul>
        {found.data?.map((u) => (
          <li key={`${u.item.program} ${u.item.command}`} className={items.line}>
            <span>
              {u.command} in {u.program}
            </span>
            <b>{u.weekly} times</b>
            {!disabled && (
              <Button
                color="inherit"
                aria-label={`Take out ${u.command} in ${u.program}`}
                onClick={() =>
                  change.mutate({
                    title: `Took out how often ${u.command} is used`,
                    items: [{ section: "uses", before: u.item, after: null }],
                  })
                }
              >
                Take out
              </Button>
            )}
          </li>
        ))}
      </ul>
      {!disabled && (
        <form
          className={items.form}
          onSubmit={(e) => {
            e.preventDefault();
            if (ready) {
              enter.mutate({ program, command, weekly: Number(weekly) }, { onSuccess: () => setCommand("") });
            }
          }}
        >
          <One label="Program" value={program} choices={organisation.programs} onChange={setProgram} />
          <div className={items.pair}>
            <TextField label="Command, by name" value={command} onChange={(e) => setCommand(e.target.value)} />
            <TextField
              label="Times a week"
              value={weekly}
              onChange={(e) => setWeekly(e.target.value)}
              slotProps={{ htmlInput: { inputMode: "numeric" } }}
            />
          </div>
          {enter.isError && <Refusal error={enter.error} />}
          <div>
            <Button type="submit" variant="outlined" color="inherit" disabled={!ready} loading={enter.isPending}>
              Enter it
            </Button>
          </div>
        </form>
      )}
    </section>
  );
}
