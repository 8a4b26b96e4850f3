import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { useTasks } from "../programs/making/useCatalogue";
import { Refusal } from "../shared/Consequences";
import { One } from "../shared/fields";
import { STEPS } from "../tasks/Families";
import { counted, TaskPlan } from "../tasks/TaskPlan";
import type { Family } from "../tasks/useTasks";
import { useChangeFamily, useFamilyPlan } from "../tasks/useTasks";
import styles from "./Commands.module.css";
import { useTasksOf } from "./useCommands";

/** The most tasks of a family. */
const MOST = 12;

interface FamilyPanelProps {
  through: string;
  rows: string[];
  onDone: () => void;
}

/** Puts the tasks of some commands into one family, behind those that are in it: told first, then done. */
export function FamilyPanel({ through, rows, onDone }: FamilyPanelProps) {
  const families = useTasks().data?.families ?? [];
  const [of, setOf] = useState("");
  const [name, setName] = useState("");
  const [step, setStep] = useState<Family["step"]>("shift");
  const theirs = useTasksOf({ setup: through, rows }, of !== "");
  const change = useChangeFamily();
  const known = families.find((f) => f.id === of);
  const own = theirs.data?.tasks ?? [];
  const members = [...new Set([...(known?.members ?? []), ...own.map((t) => t.id)])];
  const body = { name: known?.name ?? name.trim(), step: known?.step ?? step, members };
  const fits = members.length > 1 && members.length <= MOST;
  const ready = of !== "" && theirs.data !== undefined && fits && body.name !== "";
  const plan = useFamilyPlan(of || "new", body, ready);
  return (
    <section className={styles.reset} aria-label="Make them one family">
      <One
        label="Their tasks into the family"
        value={of}
        choices={[...families, { id: "new", name: "a new one" }]}
        none="none"
        onChange={setOf}
      />
      {of === "new" && (
        <>
          <TextField
            label="What it is called"
            value={name}
            onChange={(e) => setName(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 200 } }}
          />
          <One label="They differ by" value={step} choices={STEPS} onChange={(id) => setStep(id as Family["step"])} />
        </>
      )}
      {of !== "" && theirs.isError && <Refusal error={theirs.error} />}
      {of !== "" && theirs.data && (
        <>
          {!fits && (
            <p role="status">
              They do {counted(members.length, "task", "tasks")}; a family has 2 to {MOST}.
            </p>
          )}
          {theirs.data.stays.length > 0 && (
            <p>Left out, since they have no task: {theirs.data.stays.map((s) => s.name).join("; ")}.</p>
          )}
          {ready && plan.isError && <Refusal error={plan.error} />}
          {ready && plan.data && (
            <TaskPlan plan={plan.data} says={`${counted(members.length, "task", "tasks")} in it.`} />
          )}
          <Button
            variant="outlined"
            color="inherit"
            disabled={!ready || !plan.data}
            loading={change.isPending}
            onClick={() => change.mutate({ id: of, ...body }, { onSuccess: onDone })}
          >
            Make it so
          </Button>
        </>
      )}
    </section>
  );
}
