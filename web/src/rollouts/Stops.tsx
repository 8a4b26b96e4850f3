import Button from "@mui/material/Button";
import { useState } from "react";
import { Link } from "react-router";
import { momentOf, timeOf } from "../shared/days";
import type { Named } from "../shared/fields";
import { One } from "../shared/fields";
import { useRights } from "../shared/useSession";
import styles from "./Rollouts.module.css";
import type { Release, Stand, Stop } from "./useRollouts";
import { useSteerMachine } from "./useRollouts";

/** Where a release stops, and the ways on. */
export function Stops({ release }: { release: Release }) {
  return (
    <section className={styles.stops} aria-label="Where it stops">
      <h2>Where it stops</h2>
      {release.stops.length === 0 && <p>{nowhere(release)}</p>}
      <ul>
        {release.stops.map((stop) => (
          <StopRow key={stop.id} stop={stop} release={release} />
        ))}
      </ul>
      <OneMachine release={release} />
    </section>
  );
}

function nowhere(release: Release): string {
  if (release.state === "taken back") return "Nowhere: every machine has what it had before.";
  return release.state === "done" ? "Nowhere: every machine is in step." : "Nowhere, as far as machines were heard.";
}

function StopRow({ stop, release }: { stop: Stop; release: Release }) {
  const rights = useRights();
  const steer = useSteerMachine(release.id);
  const act = (name: "try-again" | "without" | "put-right" | "take-back", says: string) => (
    <Button
      variant="outlined"
      color="inherit"
      disabled={steer.isPending}
      onClick={() => steer.mutate({ machine: stop.id, act: name })}
    >
      {says}
      <span className="unseen">: {stop.name}</span>
    </Button>
  );
  const steered = rights.release && release.state !== "going back" && release.state !== "taken back";
  if (stop.state === "silent") {
    return (
      <li>
        <b>{stop.name}</b> {stop.heard_at ? `has been silent since ${momentOf(stop.heard_at)}.` : "was never heard."}
        <small>It gets its turn when it is heard again.</small>
        {steered && <div className={styles.acts}>{act("without", "Go on without it")}</div>}
      </li>
    );
  }
  const stopped = stop.state === "stopped";
  return (
    <li>
      <span className={stopped ? styles.needs : ""}>
        <b>{stop.name}</b>
      </span>
      {stop.files.map((f) => (
        <div key={`${f.program} ${f.path}`}>
          {f.says}
          {f.path !== "" && !f.says.includes(f.path) && <small>{f.path}</small>}
        </div>
      ))}
      {stopped && <Tried stop={stop} />}
      {!stopped && <small>Kept: what people set is never overwritten unseen.</small>}
      <div className={styles.acts}>
        {steered && stopped && act("try-again", "Try again now")}
        {rights.edit && !stopped && (
          <Button component={Link} to="/machines/drift" variant="outlined" color="inherit">
            Take it into a profile, or leave it<span className="unseen">: {stop.name}</span>
          </Button>
        )}
        {steered && !stopped && act("put-right", "Put it right")}
        {steered && act("without", "Go on without it")}
      </div>
    </li>
  );
}

/** That nothing is lost there, and when it is tried once more. */
function Tried({ stop }: { stop: Stop }) {
  const tries = Math.max(...stop.files.map((f) => f.tries));
  const again = stop.files.map((f) => f.again_at ?? "").sort()[0];
  return (
    <small>
      Nothing was changed there.
      {again && ` It is tried again at ${timeOf(again)}`}
      {tries > 0 && `; tried ${tries === 1 ? "once" : `${tries} times`}`}.
    </small>
  );
}

/** What becomes of one machine that isn't stopped: what was written there is taken back, or it is taken in again. */
function OneMachine({ release }: { release: Release }) {
  const rights = useRights();
  const waves = [...release.waves, ...(release.newcomers ? [release.newcomers] : [])];
  const standing = (state: Stand) =>
    waves.flatMap((w) => w.parts.filter((p) => p.state === state).flatMap((p) => p.machines));
  if (!rights.release || release.state === "going back" || release.state === "taken back") return null;
  return (
    <>
      <Chosen release={release} label="On one machine" act="take-back" machines={standing("in step")}>
        Take it back there
      </Chosen>
      <Chosen release={release} label="Left out" act="try-again" machines={standing("left out")}>
        Take it in again
      </Chosen>
    </>
  );
}

interface ChosenProps {
  release: Release;
  label: string;
  act: "take-back" | "try-again";
  machines: Named[];
  children: string;
}

function Chosen({ release, label, act, machines, children }: ChosenProps) {
  const steer = useSteerMachine(release.id);
  const [machine, setMachine] = useState("");
  if (machines.length === 0) return null;
  const chosen = machines.some((m) => m.id === machine) ? machine : "";
  return (
    <div className={styles.one}>
      <One label={label} value={chosen} choices={machines} none="choose it" onChange={setMachine} />
      <Button
        variant="outlined"
        color="inherit"
        disabled={chosen === ""}
        loading={steer.isPending}
        onClick={() => steer.mutate({ machine: chosen, act })}
      >
        {children}
      </Button>
    </div>
  );
}
