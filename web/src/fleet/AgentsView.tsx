import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Link } from "react-router";
import { momentOf } from "../shared/days";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import { useSettled } from "../shared/useSettled";
import styles from "./Agents.module.css";
import { Bytewise } from "./Bytewise";
import { EnrolAgent } from "./enrolling/EnrolAgent";
import { Homes } from "./Homes";
import { PutRight } from "./PutRight";
import type { Looking, Machine } from "./useAgents";
import { useAgents, useApply, useTakeFact } from "./useAgents";

const STATES: Record<Machine["state"], string> = {
  problem: "can't be read",
  drifted: "drifted",
  new: "not applied yet",
  behind: "behind",
  waiting: "waiting for the machine",
  unseen: "not seen yet",
  "in step": "in step",
};

const SAYS: Record<Machine["contradicted"][number]["part"], string> = {
  edition: "it is",
  layouts: "its layouts are",
  programs: "it has",
};

/** Is it on the machines, and which have drifted? */
export function AgentsView() {
  const [looking, setLooking] = useState<Looking>({ page: 1, words: "", state: null });
  const words = useSettled(looking.words);
  const machines = useAgents({ ...looking, words });
  const rights = useRights();
  if (machines.isError) return <Trouble error={machines.error} again={() => machines.refetch()} />;
  if (!machines.data) return <Waiting what="the agents" />;
  const { states, total, pages } = machines.data;
  const all = Object.values(states).reduce((sum, n) => sum + n, 0);
  if (all === 0 && words === "" && looking.words === "") {
    return (
      <Empty whole title="No machine has an agent yet.">
        <p>
          Make a code for one in its panel under <Link to="/organisation/machines">Organisation, Machines</Link>; its
          agent enrols with that code. For many at once: <Link to="/machines/enrol">Enrol many machines</Link>
        </p>
      </Empty>
    );
  }
  const look = (parts: Partial<Looking>) => setLooking((before) => ({ ...before, page: 1, ...parts }));
  return (
    <>
      <div className={screen.top}>
        <h1>Agents</h1>
        <span role="status">
          <b>{states["in step"] ?? 0}</b> of {all.toLocaleString("en")} {all === 1 ? "machine" : "machines"} in step
          with what is released
        </span>
        <span className={screen.right}>
          <Link to="/machines/releases">Releases</Link>{" "}
          {rights.edit && <Link to="/machines/drift">What people changed</Link>}{" "}
          {rights.release && <Link to="/machines/enrol">Enrol many machines</Link>}{" "}
          {rights.edit && <Link to="/machines/people-have">What people have now</Link>}{" "}
          <Link to="/machines/by-hand">What is set by hand</Link>
        </span>
      </div>
      {(all > 1 || looking.words !== "") && (
        <div className={styles.look}>
          <TextField
            label="Words in the name"
            value={looking.words}
            onChange={(e) => look({ words: e.target.value })}
            slotProps={{ htmlInput: { maxLength: 120 } }}
          />
          <fieldset className={styles.states}>
            <legend className="unseen">How they stand</legend>
            {(Object.keys(STATES) as Machine["state"][])
              .filter((s) => (states[s] ?? 0) > 0 || looking.state === s)
              .map((s) => (
                <button
                  key={s}
                  type="button"
                  aria-pressed={looking.state === s}
                  onClick={() => look({ state: looking.state === s ? null : s })}
                >
                  {STATES[s]} <b>{(states[s] ?? 0).toLocaleString("en")}</b>
                </button>
              ))}
          </fieldset>
        </div>
      )}
      {total === 0 && <Empty title="No machine is called or stands so." />}
      <ul className={styles.list} aria-label="Agents">
        {machines.data.machines.map((m) => (
          <MachineRow key={m.id} machine={m} />
        ))}
      </ul>
      {pages > 1 && (
        <nav className={styles.pages} aria-label="Pages">
          <Button color="inherit" disabled={looking.page === 1} onClick={() => look({ page: looking.page - 1 })}>
            The ones before
          </Button>
          <span>
            page {looking.page} of {pages}
          </span>
          <Button color="inherit" disabled={looking.page >= pages} onClick={() => look({ page: looking.page + 1 })}>
            The next ones
          </Button>
        </nav>
      )}
    </>
  );
}

function MachineRow({ machine }: { machine: Machine }) {
  const rights = useRights();
  const apply = useApply(machine);
  const take = useTakeFact(machine.id);
  const [asking, setAsking] = useState(false);
  const drifted = machine.state === "drifted";
  const canApply = machine.enrolled && (machine.state === "new" || machine.state === "behind" || drifted);
  return (
    <li className={styles.row} aria-label={machine.name}>
      <div className={styles.who}>
        <b>{machine.name}</b>
        <small>
          {machine.setup_name}, under {machine.layers.join(", ") || "no profile"}
        </small>
        <small>{machine.heard_at ? `heard ${momentOf(machine.heard_at)}` : "never heard"}</small>
      </div>
      <div className={styles.line}>
        <span className={`${styles.state} ${styles[machine.state.replace(" ", "")] ?? ""}`}>
          {machine.enrolled ? (STATES[machine.state] ?? machine.state) : "no agent yet"}
        </span>
      </div>
      <div className={styles.says}>
        <Homes machine={machine}>
          {(agent) =>
            machine.files
              .filter((f) => f.agent === agent.id)
              .map((f) => (
                <div key={`${f.program} ${f.path}`}>
                  <span>
                    <b>{f.program_name}</b> {f.says} {f.last_order && `Last time: ${f.last_order}`}
                  </span>
                  <code>
                    {f.path}
                    {f.backups ? `, ${f.backups} ${f.backups === 1 ? "backup" : "backups"} there` : ""}
                  </code>
                  {f.differences.length > 0 && (
                    <details open={f.state === "drifted"}>
                      <summary>
                        What differs<span className="unseen"> in {f.program_name}</span>
                      </summary>
                      <ul>
                        {f.differences.map((d) => (
                          <li key={d}>{d}</li>
                        ))}
                      </ul>
                      {rights.edit && f.seen_at !== null && <Bytewise file={f} />}
                    </details>
                  )}
                </div>
              ))
          }
        </Homes>
        {machine.contradicted.map((c) => (
          <div key={c.part} className={styles.otherwise}>
            It says {SAYS[c.part]} <b>{c.said}</b>; the list says <b>{c.listed}</b>.{" "}
            {rights.edit && c.known && (
              <Button color="inherit" loading={take.isPending} onClick={() => take.mutate(c.part)}>
                Take what it says<span className="unseen"> of its {c.part}</span>
              </Button>
            )}
          </div>
        ))}
        {machine.note && <small>{machine.note}</small>}
        {machine.by_hand.total > 0 && (
          <small>
            By hand: {machine.by_hand.done} of {machine.by_hand.total} done.{" "}
            <Link to={{ pathname: "/machines/by-hand", search: `setup=${machine.setup}&machine=${machine.id}` }}>
              What there is to set
            </Link>
          </small>
        )}
        {!machine.enrolled && (
          <div>
            Its agent has to be enrolled before anything can be written.{" "}
            <EnrolAgent machine={machine.id} name={machine.name}>
              Make a code
            </EnrolAgent>
          </div>
        )}
        {machine.unreleased.length > 0 && (
          <small>
            {machine.unreleased.join(", ")} has a newer revision that isn't released; machines get released ones.
          </small>
        )}
      </div>
      <div className={styles.do}>
        {machine.setup !== "" && machine.files.some((f) => f.seen_at !== null) && (
          <Button
            component={Link}
            color="inherit"
            to={`/profiles/compare?left=setup/${machine.setup}&right=machine/${machine.id}`}
          >
            Hold its files against what is set
          </Button>
        )}
        {rights.release && canApply && (
          <Button
            variant={drifted ? "outlined" : "contained"}
            loading={apply.isPending}
            onClick={() => (drifted ? setAsking(true) : apply.mutate(false))}
          >
            {drifted ? "Put it right" : "Apply the profile"}
          </Button>
        )}
      </div>
      {asking && (
        <PutRight
          machine={machine}
          onNo={() => setAsking(false)}
          onYes={() => {
            setAsking(false);
            apply.mutate(true);
          }}
        />
      )}
    </li>
  );
}
