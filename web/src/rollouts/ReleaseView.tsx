import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { dayOf, momentOf, timeOf } from "../shared/days";
import screen from "../shared/screen.module.css";
import { Trouble, Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import { Legend, Run } from "./Marks";
import styles from "./Rollouts.module.css";
import { Stops } from "./Stops";
import type { Release, Wave } from "./useRollouts";
import { useRelease, useSteer } from "./useRollouts";
import { counted, RELEASE_STATES } from "./words";

/** A release on its way: how far each wave has run, and where it stops. */
export function ReleaseView() {
  const { id = "" } = useParams();
  const release = useRelease(id);
  if (release.isError) return <Trouble error={release.error} again={() => release.refetch()} />;
  if (!release.data) return <Waiting what="the release" />;
  return <Shown release={release.data} />;
}

function Shown({ release }: { release: Release }) {
  return (
    <div className={styles.screen}>
      <div className={`${screen.top} ${styles.head}`}>
        <h1>{release.title}</h1>
        <span>
          goes to {counted(release.machines, "machine")} in {counted(release.waves.length, "wave")}, begun{" "}
          {momentOf(release.at)} by {release.by}
          {release.state !== "running" && (
            <>
              . <b>{RELEASE_STATES[release.state]}</b>
              {release.ended_at && ` since ${momentOf(release.ended_at)}`}
              {release.says && `: ${release.says}`}
            </>
          )}
        </span>
        <span className={screen.right} role="status">
          <span>
            <b>{release.in_step}</b> in step, <b>{release.stopped}</b> stopped, <b>{release.to_come}</b> to come
          </span>
          <Link to="/machines/releases">All releases</Link>
        </span>
      </div>
      <ol className={styles.waves} aria-label="Waves">
        {release.waves.map((wave, n) => (
          <WaveLine
            key={wave.name}
            wave={wave}
            first={n === 0}
            over={release.state !== "running" && release.state !== "paused"}
          />
        ))}
        {release.newcomers && <WaveLine wave={release.newcomers} first over />}
      </ol>
      <Stops release={release} />
      <Foot release={release} />
    </div>
  );
}

function WaveLine({ wave, first, over }: { wave: Wave; first: boolean; over: boolean }) {
  const gate = !first && wave.gate !== "";
  return (
    <>
      {gate && <li className={`${styles.gate} ${wave.opened ? "" : styles.shut}`}>{wave.gate}</li>}
      <li className={styles.wave} aria-label={wave.name}>
        <span>
          <b>{wave.name}</b>
          <small>
            {counted(wave.many, "machine")}, {counted(wave.people, "person", "people")}
          </small>
        </span>
        <Run wave={wave} />
        <span className={styles.many}>
          {wave.done} of {wave.many}
          <span>{whenOf(wave, first, over)}</span>
        </span>
      </li>
    </>
  );
}

/** Since when a wave is open, or when it will be. */
function whenOf(wave: Wave, first: boolean, over: boolean): string {
  if (wave.opened)
    return `since ${dayOf(wave.opened) === dayOf(new Date().toISOString()) ? timeOf(wave.opened) : momentOf(wave.opened)}`;
  if (over) return "";
  if (wave.opens_at) return `not before ${momentOf(wave.opens_at)}`;
  return first ? wave.gate : "";
}

function Foot({ release }: { release: Release }) {
  const rights = useRights();
  const steer = useSteer(release.id);
  const [asking, setAsking] = useState(false);
  const goesOn = release.state === "running" || release.state === "paused";
  const canGoBack = goesOn || release.state === "done";
  return (
    <div className={styles.foot}>
      {rights.release && release.state === "running" && (
        <Button variant="contained" loading={steer.isPending} onClick={() => steer.mutate("pause")}>
          Pause
        </Button>
      )}
      {rights.release && release.state === "paused" && (
        <Button variant="contained" loading={steer.isPending} onClick={() => steer.mutate("go-on")}>
          Go on
        </Button>
      )}
      {rights.release && goesOn && (
        <Button component={Link} to={`/machines/releases/${release.id}/waves`} variant="outlined" color="inherit">
          Change the waves
        </Button>
      )}
      {rights.release && canGoBack && (
        <>
          <Button variant="outlined" color="inherit" onClick={() => setAsking(true)}>
            Take it back everywhere
          </Button>
          <span>Taking it back restores {counted(release.written, "machine")}; what else changed there stays.</span>
        </>
      )}
      <Legend />
      <Dialog open={asking} onClose={() => setAsking(false)} aria-labelledby="take-back">
        <DialogTitle id="take-back">Take release {release.number} back everywhere?</DialogTitle>
        <DialogContent>
          <p>
            On {counted(release.written, "machine")} our keys become what they were; where nothing else changed since,
            the very bytes come back. What people changed meanwhile stays, and is told.
          </p>
          <p>What it hasn't written yet it doesn't write any more.</p>
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={() => setAsking(false)} autoFocus>
            Leave it as it is
          </Button>
          <Button
            variant="contained"
            onClick={() => {
              setAsking(false);
              steer.mutate("take-back");
            }}
          >
            Take it back
          </Button>
        </DialogActions>
      </Dialog>
    </div>
  );
}
