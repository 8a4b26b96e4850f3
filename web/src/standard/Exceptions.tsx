import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { One } from "../shared/fields";
import { UntilField } from "../shared/UntilField";
import { useRights } from "../shared/useSession";
import styles from "./Standard.module.css";
import type { Standard, Task } from "./useStandard";
import { useSaveException } from "./useStandard";

interface ExceptionsProps {
  data: Standard;
  task: Task;
  row: Schemas["TaskRowOut"];
  program: string | null;
}

/** The programs that needn't follow a task's line, with reason and end; one more can be let off, each back again. */
export function Exceptions({ data, task, row, program }: ExceptionsProps) {
  const rights = useRights();
  const [asks, setAsks] = useState(false);
  const [who, setWho] = useState(program ?? "");
  const [reason, setReason] = useState("");
  const [until, setUntil] = useState("");
  const save = useSaveException(() => {
    setAsks(false);
    setReason("");
  });
  const own = row.exceptions.filter((e) => e.platform === data.platform);
  const offering = data.programs.filter((p) => task.cells.some((c) => c.program === p.id));
  return (
    <section className={styles.exceptions} aria-label="Exceptions">
      {own.map((e) => (
        <p key={e.key} className={e.ran_out ? styles.warns : ""}>
          <b>{e.program_name}</b> {e.ran_out ? "was let off" : "is let off"}
          {e.layouts.length > 0 && ` for ${e.layouts.join(", ")}`}
          {e.until && (e.ran_out ? ` until ${e.until}, which is over: it counts again` : ` until ${e.until}`)}:{" "}
          {e.reason}
          {e.owner && ` (${e.owner})`}{" "}
          {rights.edit && (
            <Button
              color="inherit"
              onClick={() =>
                save.mutate({
                  task: task.id,
                  program: e.program,
                  platform: e.platform,
                  layouts: e.layouts,
                  reason: "",
                  until: null,
                  remove: true,
                  seen: data.digest,
                })
              }
            >
              Take it back
            </Button>
          )}
        </p>
      ))}
      {rights.edit && task.line && !asks && (
        <Button color="inherit" onClick={() => setAsks(true)}>
          Let a program off
        </Button>
      )}
      {asks && (
        <form
          className={styles.how}
          onSubmit={(event) => {
            event.preventDefault();
            save.mutate({
              task: task.id,
              program: who,
              platform: data.platform,
              layouts: [],
              reason,
              until: until || null,
              remove: false,
              seen: data.digest,
            });
          }}
        >
          <div className={styles.select}>
            <One label="Program" value={who} choices={offering} onChange={setWho} />
          </div>
          <TextField
            label="Why it needn't follow"
            required
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            sx={{ width: 220 }}
          />
          <UntilField value={until} onChange={setUntil} />
          <Button type="submit" variant="outlined" disabled={!who || reason.trim().length < 3} loading={save.isPending}>
            Let it off
          </Button>
          <Button color="inherit" onClick={() => setAsks(false)}>
            Leave it
          </Button>
        </form>
      )}
    </section>
  );
}
