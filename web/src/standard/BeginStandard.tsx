import Button from "@mui/material/Button";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import screen from "../shared/screen.module.css";
import { Trouble, Waiting } from "../shared/states";
import { useDone } from "../shared/useDone";
import { useRights } from "../shared/useSession";
import styles from "./BeginStandard.module.css";
import { useBeginnings } from "./useBeginnings";

type Way = Schemas["BeginningOut"];

const WAYS: Record<Way["way"], { title: string; says: string }> = {
  presses: {
    title: "From what most people press",
    says: "For each task the press that most have for it today; no two tasks get the same one. Fewest relearn.",
  },
  usual: {
    title: "From the usual keys of the tasks",
    says: "What programs commonly have, on every platform that people work on. Newcomers know it already.",
  },
  empty: { title: "Empty", says: "Line by line, as each is decided." },
};

/** The first standard: three ways to begin, each with how many agree with it already. */
export function BeginStandard() {
  const found = useBeginnings();
  const rights = useRights();
  const begin = useDone((way: Way["way"]) => answer(api.POST("/api/standard/beginnings", { body: { way } })));
  if (found.isError) return <Trouble error={found.error} again={() => found.refetch()} />;
  if (!found.data) return <Waiting what="the ways to begin" />;
  const { ways, tasks } = found.data;
  const best = ways.reduce((a, b) => (b.lines > 0 && share(b) > share(a) ? b : a), ways[0] as Way);
  return (
    <>
      <div className={screen.top}>
        <h1>There is no standard yet</h1>
        <span>One key a task, decided once. It reaches nobody before it is released.</span>
      </div>
      {tasks === 0 && (
        <p className={styles.first}>
          A line is for a task, and no task is known yet:{" "}
          <Link to="/standard/tasks">take some from the list that ships</Link>, and say in the sheets of programs which
          command does which.
        </p>
      )}
      <ul className={styles.ways} aria-label="Ways to begin">
        {ways.map((w) => (
          <li key={w.way}>
            <h2>{WAYS[w.way].title}</h2>
            <p>{WAYS[w.way].says}</p>
            <p className={styles.figures}>
              {w.way === "empty" ? (
                <b>No line</b>
              ) : (
                <>
                  <b>
                    {w.lines} {w.lines === 1 ? "line" : "lines"}
                  </b>{" "}
                  for {w.tasks} of {tasks} tasks
                  <span>{agreement(w)}</span>
                </>
              )}
            </p>
            {rights.edit && (
              <Button
                variant={w === best ? "contained" : "outlined"}
                color={w === best ? "primary" : "inherit"}
                disabled={w.way !== "empty" && w.lines === 0}
                loading={begin.isPending && begin.variables === w.way}
                autoFocus={w === best}
                onClick={() => begin.mutate(w.way)}
              >
                Begin so<span className="unseen">: {WAYS[w.way].title}</span>
              </Button>
            )}
          </li>
        ))}
      </ul>
      {!rights.edit && <p className={styles.first}>An editor begins it.</p>}
    </>
  );
}

function share(way: Way): number {
  return way.covered.could === 0 ? -1 : way.covered.agree / way.covered.could;
}

/** How far things agree with it as they are, before anybody relearns anything. */
export function agreement(way: Way): string {
  const { agree, could } = way.covered;
  if (could === 0) return "nobody has a program that could follow it yet";
  return `agrees with ${Math.round((100 * agree) / could)} % of what is pressed today (${agree.toLocaleString("en")} of ${could.toLocaleString("en")})`;
}
