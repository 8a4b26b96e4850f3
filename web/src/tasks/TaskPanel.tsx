import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { PLATFORMS } from "../programs/making/useCatalogue";
import { One } from "../shared/fields";
import { namesFrom, namesText } from "../shared/names";
import { wordsOf } from "../shared/Says";
import { useRights } from "../shared/useSession";
import { useSettled } from "../shared/useSettled";
import { TaskPlan, touched } from "./TaskPlan";
import styles from "./Tasks.module.css";
import type { Task } from "./useTasks";
import {
  useChangeTask,
  useCommandsOf,
  useMakeTask,
  useMerge,
  useMergePlan,
  useRemoval,
  useRemoveTask,
  useSplit,
  useSplitPlan,
  useTaskPlan,
} from "./useTasks";

interface PanelProps {
  task: Task | null;
  tasks: Task[];
  onLeave: (next?: string) => void;
}

/** One task: its words and usual keys; merged with another, split by its commands, taken out. */
export function TaskPanel({ task, tasks, onLeave }: PanelProps) {
  const rights = useRights();
  const [name, setName] = useState(task?.name ?? "");
  const [group, setGroup] = useState(task?.group ?? "");
  const [names, setNames] = useState(namesText(task?.names ?? {}));
  const [words, setWords] = useState(task?.other_words.join("; ") ?? "");
  const [protect, setProtect] = useState(task?.protected ?? false);
  const [usual, setUsual] = useState<Record<string, string>>(task?.usual ?? {});
  const make = useMakeTask(() => onLeave());
  const change = useChangeTask(task?.id ?? "");
  const body = {
    name,
    names: namesFrom(names),
    group,
    other_words: words
      .split(";")
      .map((w) => w.trim())
      .filter(Boolean),
    protected: protect,
    usual,
  };
  const before = task && {
    name: task.name,
    names: task.names,
    group: task.group,
    other_words: task.other_words,
    protected: task.protected,
    usual: task.usual,
  };
  const same = JSON.stringify(body) === JSON.stringify(before);
  const settled = useSettled(JSON.stringify(body));
  const plan = useTaskPlan(
    task?.id ?? "",
    settled,
    settled !== JSON.stringify(before) && task !== null && name.trim() !== "",
  );
  return (
    <aside className={styles.panel} aria-label={task?.name ?? "A new task"}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (task) change.mutate(body);
          else make.mutate(body);
        }}
      >
        <div className={styles.head}>
          <h2>{task?.name ?? "A new task"}</h2>
          <Button color="inherit" onClick={() => onLeave()}>
            Close
          </Button>
        </div>
        <TextField
          label="Name"
          value={name}
          disabled={!rights.edit}
          autoFocus={!task}
          required
          onChange={(e) => setName(e.target.value)}
        />
        <TextField label="Group" value={group} disabled={!rights.edit} onChange={(e) => setGroup(e.target.value)} />
        <TextField
          label="Its name in other languages"
          value={names}
          disabled={!rights.edit}
          placeholder="de = Speichern; fr = Enregistrer"
          helperText="As it stands on cards: de, en, fr or sv, an equals sign, the name."
          onChange={(e) => setNames(e.target.value)}
        />
        <TextField
          label="Other words for it"
          value={words}
          disabled={!rights.edit}
          multiline
          maxRows={5}
          helperText="What programs call it, in any language; semicolons between."
          onChange={(e) => setWords(e.target.value)}
        />
        {PLATFORMS.map((p) => (
          <TextField
            key={p.id}
            label={`Usual keys on ${p.name}`}
            value={usual[p.id] ?? ""}
            disabled={!rights.edit}
            onChange={(e) => setUsual({ ...usual, [p.id]: e.target.value })}
          />
        ))}
        <FormControlLabel
          control={<Switch checked={protect} disabled={!rights.edit} onChange={(e) => setProtect(e.target.checked)} />}
          label="Protected: nothing may take its usual keys"
        />
        {rights.edit && task && !same && plan.data && (
          <TaskPlan plan={plan.data} says={`${touched(plan.data)} stand on it.`} />
        )}
        {rights.edit && task && !same && plan.error && <p role="alert">{wordsOf(plan.error).join(" ")}</p>}
        {rights.edit && (
          <Button
            type="submit"
            variant="contained"
            disabled={!name.trim() || same}
            loading={make.isPending || change.isPending}
          >
            {task ? "Save" : "Add this task"}
          </Button>
        )}
      </form>
      {task && (
        <>
          <Commands task={task} />
          {rights.edit && <Merging task={task} tasks={tasks} onLeave={onLeave} />}
        </>
      )}
    </aside>
  );
}

function Commands({ task }: { task: Task }) {
  const done = useCommandsOf(task.id);
  const split = useSplit(task.id);
  const rights = useRights();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [name, setName] = useState("");
  const own = done.data ?? [];
  const keyOf = (c: (typeof own)[number]) => `${c.program}@${c.version} ${c.command}`;
  const commands = own.filter((c) => chosen.has(keyOf(c))).map((c) => ({ program: c.program, command: c.command }));
  const plan = useSplitPlan(task.id, commands);
  if (own.length === 0) return <p className={styles.none}>No command does it yet: programs say so in their sheets.</p>;
  return (
    <section aria-label="Commands that do it">
      <h3>Commands that do it</h3>
      <ul className={styles.commands}>
        {own.map((c) => (
          <li key={keyOf(c)}>
            {rights.edit && own.length > 1 ? (
              <label>
                <input
                  type="checkbox"
                  checked={chosen.has(keyOf(c))}
                  onChange={(e) => {
                    const next = new Set(chosen);
                    if (e.target.checked) next.add(keyOf(c));
                    else next.delete(keyOf(c));
                    setChosen(next);
                  }}
                />
                {c.command_name}, in {c.program_name} {c.version}
              </label>
            ) : (
              `${c.command_name}, in ${c.program_name} ${c.version}`
            )}
          </li>
        ))}
      </ul>
      {chosen.size > 0 && plan.data && (
        <TaskPlan plan={plan.data} says={`The lines of the standard stay with ${task.name}.`} />
      )}
      {chosen.size > 0 && (
        <form
          className={styles.acts}
          onSubmit={(event) => {
            event.preventDefault();
            split.mutate({ name, commands });
          }}
        >
          <TextField label="A task of their own" value={name} onChange={(e) => setName(e.target.value)} required />
          <Button type="submit" variant="outlined" disabled={!name.trim()}>
            Split {chosen.size} off
          </Button>
        </form>
      )}
    </section>
  );
}

function Merging({ task, tasks, onLeave }: { task: Task; tasks: Task[]; onLeave: (next?: string) => void }) {
  const [into, setInto] = useState("");
  const [asked, setAsked] = useState(false);
  const plan = useMergePlan(task.id, into);
  const merge = useMerge(() => onLeave(into));
  const removal = useRemoval(task.id, asked);
  const remove = useRemoveTask(() => onLeave());
  return (
    <section aria-label="One with another, or out">
      <h3>It is the same as</h3>
      <One
        label="Another task"
        value={into}
        none="no other one"
        choices={tasks.filter((t) => t.id !== task.id)}
        onChange={setInto}
      />
      {into && plan.data && (
        <TaskPlan
          plan={plan.data}
          says={`${touched(plan.data)} go along${plan.data.lines_gone > 0 ? "; the other has lines of its own" : ""}.`}
        />
      )}
      {into && (
        <Button variant="outlined" loading={merge.isPending} onClick={() => merge.mutate({ gone: task.id, into })}>
          Make them one
        </Button>
      )}
      {asked && removal.data && (
        <TaskPlan
          plan={removal.data}
          says={
            removal.data.commands === 0 && removal.data.lines === 0
              ? "Nothing hangs on it."
              : `${touched(removal.data)} have no task then.`
          }
        />
      )}
      <Button
        variant="outlined"
        color="inherit"
        loading={remove.isPending}
        onClick={() => (asked ? remove.mutate(task.id) : setAsked(true))}
      >
        {asked ? "Take it out all the same" : "Take it out"}
      </Button>
    </section>
  );
}
