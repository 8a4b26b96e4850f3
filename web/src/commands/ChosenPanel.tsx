import Button from "@mui/material/Button";
import { useState } from "react";
import { api } from "../api/client";
import { One } from "../shared/fields";
import { useSays } from "../shared/Says";
import { useRights } from "../shared/useSession";
import { BringPanel } from "./BringPanel";
import styles from "./Commands.module.css";
import { FamilyPanel } from "./FamilyPanel";
import { ResetPanel } from "./ResetPanel";
import { useChoices, useGiveTask } from "./useCommands";

interface ChosenPanelProps {
  through: string;
  chosen: ReadonlySet<string>;
  onNone: () => void;
}

/** What can be done with several commands at once. */
export function ChosenPanel({ through, chosen, onNone }: ChosenPanelProps) {
  const rights = useRights();
  const says = useSays();
  const tasks = useChoices(through).data?.tasks ?? [];
  const [task, setTask] = useState("");
  const give = useGiveTask(onNone);
  const rows = [...chosen];
  const many = rows.length === 1 ? "1 command" : `${rows.length} commands`;
  const take = async (form: string) => {
    const answered = await api.POST("/api/commands/list.{form}", {
      params: { path: { form } },
      body: { setup: through, rows },
      parseAs: "blob",
    });
    if (!answered.response.ok) return says.refused(new Error("The list can't be made."));
    const link = document.createElement("a");
    link.href = URL.createObjectURL(answered.data as unknown as Blob);
    link.download = `commands.${form}`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <aside className={styles.side} aria-label="What is done with those chosen">
      <h2>{many} chosen</h2>
      {rights.edit && (
        <div className={styles.assign}>
          <One label="Task" value={task} choices={tasks} none="no task" onChange={setTask} />
          <Button
            variant="outlined"
            color="inherit"
            loading={give.isPending}
            onClick={() => give.mutate({ setup: through, rows, task: task || null })}
          >
            {task ? `Give ${rows.length === 1 ? "it" : "them"} this task` : "Take the task away"}
          </Button>
        </div>
      )}
      {rights.edit && <FamilyPanel through={through} rows={rows} onDone={onNone} />}
      {rights.edit && <BringPanel through={through} rows={rows} onDone={onNone} />}
      {rights.edit && <ResetPanel given={{ setup: through, rows }} what={many} onDone={onNone} />}
      <div className={styles.do}>
        {["csv", "ods", "xlsx"].map((form) => (
          <Button key={form} color="inherit" variant="outlined" onClick={() => take(form)}>
            As {form.toUpperCase()}
          </Button>
        ))}
      </div>
      <Button color="inherit" onClick={onNone}>
        Choose none
      </Button>
    </aside>
  );
}
