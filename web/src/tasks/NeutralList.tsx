import Button from "@mui/material/Button";
import { useState } from "react";
import { Trouble, Waiting } from "../shared/states";
import styles from "./Tasks.module.css";
import { useNeutral, useTakeNeutral } from "./useTasks";

/** The neutral list: taken whole, in groups, or not at all. */
export function NeutralList() {
  const groups = useNeutral();
  const take = useTakeNeutral();
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  if (groups.isError) return <Trouble error={groups.error} again={() => groups.refetch()} />;
  if (!groups.data) return <Waiting what="the list" />;
  const open = groups.data.filter((g) => g.there < g.tasks);
  const wanted = open.filter((g) => !left.has(g.name));
  const count = wanted.reduce((sum, g) => sum + g.tasks - g.there, 0);
  const toggle = (name: string) => {
    const next = new Set(left);
    if (!next.delete(name)) next.add(name);
    setLeft(next);
  };
  return (
    <section className={styles.neutral} aria-label="The list that ships">
      <p>
        Common tasks in our own words, with what programs call them in English, German, French and Swedish, and the keys
        that they usually have. Yours stay as they are.
      </p>
      <ul>
        {groups.data.map((g) => (
          <li key={g.name}>
            <label>
              <input
                type="checkbox"
                checked={g.there === g.tasks || !left.has(g.name)}
                disabled={g.there === g.tasks}
                onChange={() => toggle(g.name)}
              />
              <b>{g.name}</b>{" "}
              {g.there === g.tasks ? "are all here" : g.there > 0 ? `${g.tasks - g.there} more` : g.tasks}
              <small>{g.some.join(", ")} ...</small>
            </label>
          </li>
        ))}
      </ul>
      <Button
        variant="contained"
        disabled={count === 0}
        loading={take.isPending}
        autoFocus
        onClick={() => take.mutate(wanted.map((g) => g.name))}
      >
        {count === 0 ? "All are here" : `Take ${count} tasks`}
      </Button>
    </section>
  );
}
