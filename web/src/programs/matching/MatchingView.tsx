import Button from "@mui/material/Button";
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import screen from "../../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../../shared/states";
import { useAddress } from "../../shared/useAddress";
import { useRights } from "../../shared/useSession";
import { useTasks } from "../making/useCatalogue";
import styles from "./Matching.module.css";
import type { Proposal } from "./useProposals";
import { useGiveTasks, useProposals, useRefuse } from "./useProposals";

/** The tasks that a program's commands may do: the sure ones taken together, the doubtful ones one by one. */
export function MatchingView() {
  const [params] = useAddress();
  const program = params.get("program") ?? "";
  const version = params.get("version") ?? "";
  const proposals = useProposals(program, version);
  if (program === "") return <Empty whole title="No program is chosen." />;
  if (proposals.isError) return <Trouble error={proposals.error} again={() => proposals.refetch()} />;
  if (!proposals.data) return <Waiting what="the proposals" />;
  return <Matching key={`${program}@${version}`} program={program} version={version} all={proposals.data} />;
}

interface MatchingProps {
  program: string;
  version: string;
  all: Proposal[];
}

function Matching({ program, version, all }: MatchingProps) {
  const rights = useRights();
  const known = useTasks().data?.tasks.length;
  const give = useGiveTasks(program, version);
  const [without, setWithout] = useState<ReadonlySet<string>>(new Set());
  const [later, setLater] = useState<ReadonlySet<string>>(new Set());
  const sure = all.filter((p) => p.sure);
  const doubtful = all.filter((p) => !p.sure && p.candidates.length > 0);
  const open = doubtful.filter((p) => !later.has(p.command));
  const alone = all.filter((p) => p.candidates.length === 0);
  const taken = sure.filter((p) => !without.has(p.command));
  const search = `program=${program}&version=${encodeURIComponent(version)}`;
  return (
    <>
      <div className={screen.top}>
        <h1>Which tasks its commands do</h1>
        <span role="status">
          <b>{sure.length}</b> sure, <b>{doubtful.length}</b> to look at, <b>{alone.length}</b> like no task
        </span>
        <span className={screen.right}>
          <Link to={{ pathname: "/programs/edit", search }}>The program</Link>
          <Link to="/standard/tasks">All tasks</Link>
        </span>
      </div>
      {known === 0 && all.length > 0 && (
        <Empty title="No task is known yet.">
          <p>
            Take some from <Link to="/standard/tasks?take=1">the list that ships</Link>: then these commands find
            theirs.
          </p>
        </Empty>
      )}
      {all.length === 0 && (
        <Empty title="Every command has its task.">
          <p>The standard can now say one key for what is the same job in several programs.</p>
        </Empty>
      )}
      {sure.length > 0 && (
        <section className={styles.part} aria-label="Sure">
          <div className={styles.head}>
            <h2>Sure</h2>
            {rights.edit && (
              <Button
                variant="contained"
                disabled={taken.length === 0}
                loading={give.isPending}
                autoFocus
                onClick={() => give.mutate({ tasks: tasksOf(taken), made_of: [] })}
              >
                Give {taken.length} {taken.length === 1 ? "command its task" : "commands their tasks"}
              </Button>
            )}
          </div>
          <ul>
            {sure.map((p) => (
              <li key={p.command}>
                <label>
                  <input
                    type="checkbox"
                    checked={!without.has(p.command)}
                    disabled={!rights.edit}
                    onChange={(e) => setWithout(toggled(without, p.command, !e.target.checked))}
                  />
                  <b>{p.name}</b>
                </label>
                <span>{p.candidates[0]?.name}</span>
                <small>{p.candidates[0]?.reasons.join("; ")}</small>
              </li>
            ))}
          </ul>
        </section>
      )}
      {open[0] && rights.edit && (
        <OneByOne
          key={open[0].command}
          program={program}
          version={version}
          proposal={open[0]}
          left={open.length}
          onLater={(command) => setLater(toggled(later, command, true))}
        />
      )}
      {open.length === 0 && doubtful.length > 0 && rights.edit && (
        <p className={styles.part}>
          {doubtful.length} left for later.{" "}
          <Button color="inherit" onClick={() => setLater(new Set())}>
            Look at them now
          </Button>
        </p>
      )}
      {alone.length > 0 && known !== 0 && <Alone key={alone.length} all={alone} program={program} version={version} />}
    </>
  );
}

interface OneProps {
  program: string;
  version: string;
  proposal: Proposal;
  left: number;
  onLater: (command: string) => void;
}

/** One command with the tasks that it may do: a digit takes one, 0 says none of them, N makes a task of it, L leaves it. */
function OneByOne({ program, version, proposal, left, onLater }: OneProps) {
  const give = useGiveTasks(program, version);
  const refuse = useRefuse(program, version);
  const place = useRef<HTMLElement>(null);
  useEffect(() => {
    const at = document.activeElement;
    if (at === document.body || at === null) place.current?.focus();
  }, []);
  const { command, candidates } = proposal;
  const acts: Record<string, () => void> = {
    0: () => refuse.mutate({ command, tasks: candidates.map((c) => c.task), refused: true }),
    n: () => give.mutate({ tasks: {}, made_of: [command] }),
    l: () => onLater(command),
  };
  candidates.forEach((c, n) => {
    acts[n + 1] = () => give.mutate({ tasks: { [command]: c.task }, made_of: [] });
  });
  const busy = give.isPending || refuse.isPending;
  return (
    <section
      ref={place}
      tabIndex={-1}
      className={styles.part}
      aria-label="To look at"
      onKeyDown={(event) => {
        const act = acts[event.key.toLowerCase()];
        if (!act || busy || event.ctrlKey || event.altKey || event.metaKey) return;
        event.preventDefault();
        event.stopPropagation();
        act();
      }}
    >
      <div className={styles.head}>
        <h2>To look at, one by one</h2>
        <span>{left} left</span>
      </div>
      <p className={styles.asked}>
        <b>{proposal.name}</b>
        {proposal.group && <span> in {proposal.group}</span>}: which task does it do?
      </p>
      <ol className={styles.answers}>
        {candidates.map((c, n) => (
          <li key={c.task}>
            <Button variant="outlined" color="inherit" disabled={busy} onClick={acts[n + 1]}>
              <kbd>{n + 1}</kbd> {c.name}
            </Button>
            <small>
              {c.beside && <b>{c.beside} does it already: this would be the other way. </b>}
              {c.reasons.join("; ")}
            </small>
          </li>
        ))}
        <li>
          <Button color="inherit" disabled={busy} onClick={acts[0]}>
            <kbd>0</kbd> None of these
          </Button>
          <Button color="inherit" disabled={busy} onClick={acts.n}>
            <kbd>N</kbd> A task of its own
          </Button>
          <Button color="inherit" disabled={busy} onClick={acts.l}>
            <kbd>L</kbd> Later
          </Button>
        </li>
      </ol>
    </section>
  );
}

/** Commands that nothing matches: those that are worth a task of their own can have one. */
function Alone({ all, program, version }: { all: Proposal[]; program: string; version: string }) {
  const rights = useRights();
  const give = useGiveTasks(program, version);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  return (
    <section className={styles.part} aria-label="Like no task">
      <div className={styles.head}>
        <h2>Like no task</h2>
        {rights.edit && (
          <Button
            variant="outlined"
            disabled={chosen.size === 0}
            loading={give.isPending}
            onClick={() => give.mutate({ tasks: {}, made_of: [...chosen] })}
          >
            Make {chosen.size === 1 ? "a task" : "tasks"} of {chosen.size}
          </Button>
        )}
      </div>
      <ul className={styles.alone}>
        {all.map((p) => (
          <li key={p.command}>
            <label>
              <input
                type="checkbox"
                checked={chosen.has(p.command)}
                disabled={!rights.edit}
                onChange={(e) => setChosen(toggled(chosen, p.command, e.target.checked))}
              />
              {p.name}
            </label>
          </li>
        ))}
      </ul>
    </section>
  );
}

function tasksOf(proposals: Proposal[]): Record<string, string | null> {
  return Object.fromEntries(proposals.map((p) => [p.command, p.task]));
}

function toggled(all: ReadonlySet<string>, one: string, on: boolean): ReadonlySet<string> {
  const next = new Set(all);
  if (on) next.add(one);
  else next.delete(one);
  return next;
}
