import Button from "@mui/material/Button";
import { useDeferredValue, useState } from "react";
import { Link } from "react-router";
import { useTasks } from "../programs/making/useCatalogue";
import { Sheets } from "../shared/Sheets";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useAddress } from "../shared/useAddress";
import { useRights } from "../shared/useSession";
import { Words } from "../shared/Words";
import { Families } from "./Families";
import { NamesComing } from "./NamesComing";
import { NeutralList } from "./NeutralList";
import { TaskPanel } from "./TaskPanel";
import styles from "./Tasks.module.css";
import type { Task } from "./useTasks";

/** Tasks: what is the same job in several programs. Taken from the list that ships, made, changed, merged and split. */
export function TasksView() {
  const tasks = useTasks();
  const [params, change] = useAddress();
  const [words, setWords] = useState("");
  const [names, setNames] = useState<File | null>(null);
  const rights = useRights();
  const looked = useDeferredValue(words);
  if (tasks.isError) return <Trouble error={tasks.error} again={() => tasks.refetch()} />;
  if (!tasks.data) return <Waiting what="the tasks" />;
  const { data } = tasks;
  const found = data.tasks.filter((t) => isLike(t, looked));
  const open = params.get("task");
  const opened = data.tasks.find((t) => t.id === open) ?? null;
  const taking = params.get("take") !== null || data.tasks.length === 0;
  return (
    <div className={styles.view}>
      <div className={styles.list}>
        <div className={screen.top}>
          <h1>Tasks</h1>
          <span>
            <b>{data.tasks.length}</b> jobs that programs share; {data.without_task.toLocaleString("en")} commands have
            none
          </span>
          <span className={screen.right}>
            <Sheets
              sheets={[{ name: "Names of tasks and commands in all languages", path: "/api/names" }]}
              back={rights.edit ? { says: "Bring names in ...", onFile: setNames } : undefined}
            />
            <Link to="/standard">The standard</Link>
            {rights.edit && (
              <>
                <Button
                  variant="outlined"
                  color="inherit"
                  onClick={() => change({ take: taking ? null : "1" })}
                  aria-expanded={taking}
                >
                  From the list that ships
                </Button>
                <Button variant="contained" onClick={() => change({ task: "new" }, true)}>
                  Add a task
                </Button>
              </>
            )}
          </span>
        </div>
        {names && <NamesComing file={names} onLeave={() => setNames(null)} />}
        {taking && rights.edit && <NeutralList />}
        {data.tasks.length === 0 ? (
          <Empty title="No task is known yet.">
            <p>
              Take some from the list above, or add your own: a task is what lets one key be decided for all programs at
              once.
            </p>
          </Empty>
        ) : (
          <>
            <div className={styles.tools}>
              <Words value={words} onChange={setWords} width={230} placeholder="save, speichern, Ctrl+S ..." />
              <span role="status">{found.length} found</span>
            </div>
            {groupsOf(found).map(([group, own]) => (
              <section key={group} aria-label={group || "Without a group"}>
                <h2 className={styles.group}>{group || "Without a group"}</h2>
                <ul>
                  {own.map((t) => (
                    <li key={t.id}>
                      <button
                        type="button"
                        className={`${styles.row} ${t.id === open ? styles.on : ""}`}
                        aria-expanded={t.id === open}
                        onClick={() => change({ task: t.id === open ? null : t.id }, true)}
                      >
                        <span>
                          <b>{t.name}</b>
                          <small>{t.other_words.slice(0, 6).join(", ")}</small>
                        </span>
                        <span>{t.usual.windows ?? t.usual.macos ?? t.usual.linux ?? ""}</span>
                        <span>
                          {t.commands === 0
                            ? "no command"
                            : `${t.commands} in ${t.programs} ${t.programs === 1 ? "program" : "programs"}`}
                        </span>
                        <em>{t.protected ? "protected" : ""}</em>
                      </button>
                    </li>
                  ))}
                </ul>
              </section>
            ))}
            <Families tasks={data.tasks} families={data.families} />
          </>
        )}
      </div>
      {open && (opened || open === "new") && (
        <TaskPanel
          key={`${open} ${JSON.stringify(opened)}`}
          task={opened}
          tasks={data.tasks}
          onLeave={(next) => change({ task: next ?? null })}
        />
      )}
    </div>
  );
}

/** Whether every word stands somewhere in a task's names, words or keys. */
export function isLike(task: Task, words: string): boolean {
  const text = [task.name, task.group, ...task.other_words, ...Object.values(task.usual)].join(" ").toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((w) => text.includes(w));
}

function groupsOf(tasks: Task[]): [string, Task[]][] {
  const groups = new Map<string, Task[]>();
  for (const t of tasks) groups.set(t.group, [...(groups.get(t.group) ?? []), t]);
  return [...groups].toSorted(([a], [b]) => a.localeCompare(b));
}
