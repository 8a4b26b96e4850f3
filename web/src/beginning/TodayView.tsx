import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import type { ReactNode } from "react";
import { useEffect, useRef, useState } from "react";
import { Link, Navigate, useLocation } from "react-router";
import { lensParts } from "../shared/lens";
import screen from "../shared/screen.module.css";
import { Trouble, Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import { MattersView } from "../today/MattersView";
import styles from "./Today.module.css";
import type { Beginning, Step } from "./useBeginning";
import { useBeginning, useNameOrganisation } from "./useBeginning";

/** Today: the line of the work while something of it is missing, then what needs somebody. */
export function TodayView() {
  const beginning = useBeginning();
  if (beginning.isError) return <Trouble error={beginning.error} again={() => beginning.refetch()} />;
  if (!beginning.data) return <Waiting what="the line of the work" />;
  return beginning.data.missing ? <TheLine beginning={beginning.data} /> : <MattersView />;
}

/** What is done, what is next, and where each step is done. */
function TheLine({ beginning }: { beginning: Beginning }) {
  const { steps, organisation, neutral_tasks } = beginning;
  const done = steps.filter((s) => s.state === "done").length;
  const next = steps.find((s) => s.state === "next");
  return (
    <>
      <div className={screen.top}>
        <h1>
          {done === 0
            ? "Nothing is known yet but the keyboards and the three desktops"
            : `${organisation || "Your organisation"}: ${done} of ${steps.length} steps are done`}
        </h1>
        <span className={screen.right}>
          An example to look around in is <code>./amberkey demo</code>, kept apart from yours
        </span>
      </div>
      <ol className={styles.line} aria-label="The line of the work">
        {steps.map((s, n) => (
          <StepRow key={s.id} step={s} number={n + 1} last={n === steps.length - 1}>
            {s.id === "organisation" ? (
              <NameIt key={organisation} organisation={organisation} open={s.state !== "done"} />
            ) : (
              <Places step={s} next={s.id === next?.id} tasks={neutral_tasks} />
            )}
          </StepRow>
        ))}
      </ol>
    </>
  );
}

interface StepRowProps {
  step: Step;
  number: number;
  last: boolean;
  children: ReactNode;
}

function StepRow({ step, number, last, children }: StepRowProps) {
  return (
    <li
      className={`${styles.step} ${styles[step.state]} ${last ? styles.last : ""}`}
      aria-current={step.state === "next" ? "step" : undefined}
    >
      <span className={styles.mark} aria-hidden="true">
        {step.state === "done" ? "✓" : number}
      </span>
      <div className={styles.what}>
        <h2>{step.title}</h2>
        <p>{step.unlocks}</p>
      </div>
      <div className={styles.do}>
        <p>{step.says}</p>
        {children}
      </div>
      <span className={styles.count}>
        <span className="unseen">
          {step.state === "done" ? "Done. " : step.state === "next" ? "Next. " : "Later. "}
        </span>
        {step.count || (step.state === "done" ? "done" : "")}
      </span>
    </li>
  );
}

function NameIt({ organisation, open }: { organisation: string; open: boolean }) {
  const [name, setName] = useState(organisation);
  const [shown, setShown] = useState(open);
  const rights = useRights();
  const call = useNameOrganisation();
  if (!rights.edit) return null;
  if (!shown) {
    return (
      <Button color="inherit" variant="outlined" onClick={() => setShown(true)}>
        Another name
      </Button>
    );
  }
  return (
    <form
      className={styles.acts}
      onSubmit={(event) => {
        event.preventDefault();
        call.mutate({ name, department: "" });
      }}
    >
      <TextField
        label="What it is called"
        value={name}
        onChange={(e) => setName(e.target.value)}
        autoFocus={open}
        required
        sx={{ width: 300 }}
      />
      <Button
        type="submit"
        variant="contained"
        disabled={!name.trim() || name === organisation}
        loading={call.isPending}
      >
        Call it that
      </Button>
    </form>
  );
}

/** Where a step is done. The first place is the usual one. */
const PLACES: Record<Exclude<Step["id"], "organisation">, { to: string; search?: string; text: string }[]> = {
  programs: [
    { to: "/programs/list", text: "Bring in a list of commands" },
    { to: "/programs/all", search: "?make=1", text: "Add a program by hand" },
    { to: "/programs/all", text: "Programs that there are" },
  ],
  tasks: [{ to: "/standard/tasks", text: "Take tasks from the list" }],
  people: [
    { to: "/organisation/machines", text: "Machines" },
    { to: "/organisation/people", text: "People" },
  ],
  clashes: [{ to: "/clashes", text: "Where presses stop" }],
  standard: [{ to: "/standard", text: "Begin the standard" }],
  profiles: [
    { to: "/profiles", text: "Profiles and bundles" },
    { to: "/machines", text: "Agents on machines" },
  ],
};

function Places({ step, next, tasks }: { step: Step; next: boolean; tasks: number }) {
  const { search } = useLocation();
  const first = useRef<HTMLAnchorElement>(null);
  // The line is walked by Enter: what comes next has the focus, unless somebody is busy elsewhere.
  useEffect(() => {
    if (next && document.activeElement === document.body) first.current?.focus();
  }, [next]);
  if (step.id === "organisation") return null;
  return (
    <div className={styles.acts}>
      {PLACES[step.id].map((p, n) => (
        <Button
          key={`${p.to}${p.search}`}
          component={Link}
          to={{ pathname: p.to, search: p.search ?? lensParts(search) }}
          variant={next && n === 0 ? "contained" : "outlined"}
          color={next && n === 0 ? "primary" : "inherit"}
          ref={n === 0 ? first : undefined}
        >
          {p.text}
        </Button>
      ))}
      {step.id === "tasks" && step.state !== "done" && (
        <small>{tasks} common tasks are ready, with the words that programs have for them and their usual keys.</small>
      )}
    </div>
  );
}

/** Where somebody lands: on the line of the work until there is somebody to look through, then where presses stop. Who has gone
 * elsewhere meanwhile stays there: this screen is still drawn while the code of the other one loads, so the address decides. */
export function Landing() {
  const beginning = useBeginning();
  const { search } = useLocation();
  if (beginning.isPending || window.location.pathname !== "/") return <Waiting what="Amber Key" />;
  const seen = beginning.data?.steps.some((s) => s.id === "people" && s.state === "done");
  const to = beginning.data?.missing && !seen ? "/today" : "/clashes";
  return <Navigate to={{ pathname: to, search }} replace />;
}
