import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Many, One } from "../shared/fields";
import { useRights } from "../shared/useSession";
import { counted, TaskPlan } from "./TaskPlan";
import styles from "./Tasks.module.css";
import type { Family, Task } from "./useTasks";
import { useChangeFamily, useFamilyPlan, useRemoveFamily } from "./useTasks";

/** By what the keys of a family differ. */
export const STEPS: { id: Family["step"]; name: string }[] = [
  { id: "shift", name: "the second has Shift as well" },
  { id: "arrow", name: "the mirrored arrow" },
  { id: "digit", name: "1, 2, 3 and so on" },
  { id: "letter", name: "the first letter of each name" },
];

/** Families: tasks whose keys keep one shape. */
export function Families({ tasks, families }: { tasks: Task[]; families: Family[] }) {
  const rights = useRights();
  const [open, setOpen] = useState<string | null>(null);
  return (
    <section aria-label="Families">
      <h2 className={styles.group}>Families: their keys keep one shape</h2>
      <ul>
        {families.map((f) => (
          <li key={f.id}>
            <button
              type="button"
              className={styles.row}
              aria-expanded={open === f.id}
              onClick={() => setOpen(open === f.id ? null : f.id)}
            >
              <b>{f.name}</b>
              <span>{STEPS.find((s) => s.id === f.step)?.name}</span>
              <span>{f.members.length} tasks</span>
            </button>
            {open === f.id && <FamilyForm family={f} tasks={tasks} onDone={() => setOpen(null)} />}
          </li>
        ))}
      </ul>
      {rights.edit &&
        (open === "new" ? (
          <FamilyForm family={null} tasks={tasks} onDone={() => setOpen(null)} />
        ) : (
          <Button color="inherit" className={styles.more} onClick={() => setOpen("new")}>
            Add a family
          </Button>
        ))}
    </section>
  );
}

function FamilyForm({ family, tasks, onDone }: { family: Family | null; tasks: Task[]; onDone: () => void }) {
  const rights = useRights();
  const [name, setName] = useState(family?.name ?? "");
  const [step, setStep] = useState<Family["step"]>(family?.step ?? "shift");
  const [members, setMembers] = useState(family?.members ?? []);
  const change = useChangeFamily();
  const remove = useRemoveFamily();
  const body = { name, step, members };
  const same =
    family !== null &&
    JSON.stringify(body) === JSON.stringify({ name: family.name, step: family.step, members: family.members });
  const asked = rights.edit && !same && name.trim() !== "" && members.length > 1;
  const plan = useFamilyPlan(family?.id ?? "new", body, asked);
  return (
    <form
      className={styles.family}
      aria-label={family?.name ?? "A new family"}
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate({ id: family?.id ?? "new", name, step, members }, { onSuccess: onDone });
      }}
    >
      <TextField label="Name" value={name} disabled={!rights.edit} required onChange={(e) => setName(e.target.value)} />
      <One
        label="They differ by"
        value={step}
        choices={STEPS}
        disabled={!rights.edit}
        onChange={(id) => setStep(id as Family["step"])}
      />
      <Many
        label="Tasks, in the order of the steps"
        value={members}
        choices={tasks}
        disabled={!rights.edit}
        onChange={setMembers}
      />
      {rights.edit && (
        <span className={styles.acts}>
          {asked && plan.data && (
            <TaskPlan plan={plan.data} says={`${counted(members.length, "task", "tasks")} in it.`} />
          )}
          <Button
            type="submit"
            variant="contained"
            disabled={!name.trim() || members.length < 2}
            loading={change.isPending}
          >
            Save
          </Button>
          {family && (
            <Button color="inherit" variant="outlined" onClick={() => remove.mutate(family.id)}>
              Take it apart
            </Button>
          )}
        </span>
      )}
    </form>
  );
}
