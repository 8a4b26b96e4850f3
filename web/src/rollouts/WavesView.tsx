import Button from "@mui/material/Button";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { Schemas } from "../api/client";
import { Refusal } from "../shared/Consequences";
import { saveKey } from "../shared/saveKey";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import { DraftedWave } from "./DraftedWave";
import styles from "./Rollouts.module.css";
import type { DraftWave, Release } from "./useRollouts";
import { useChangeWaves, useDrawnWaves, useOffered, useRelease } from "./useRollouts";
import { newWave } from "./words";

/** The waves of a release under way that aren't open yet, changed. */
export function WavesView() {
  const { id = "" } = useParams();
  const rights = useRights();
  const release = useRelease(id);
  if (release.isError) return <Trouble error={release.error} again={() => release.refetch()} />;
  if (!release.data) return <Waiting what="the release" />;
  const changeable = release.data.state === "running" || release.data.state === "paused";
  if (!rights.release || !changeable) {
    return (
      <Empty whole title="These waves can't be changed.">
        <p>
          Releasers change those of a release that is under way. <Link to={`/machines/releases/${id}`}>Look at it</Link>
        </p>
      </Empty>
    );
  }
  // What was there when somebody began to change it: what is opened meanwhile is told when it is sent.
  return <Changing key={id} release={release.data} />;
}

function Changing({ release: given }: { release: Release }) {
  const [release] = useState(given);
  const navigate = useNavigate();
  const offered = useOffered();
  const opened = release.seen === "" ? 0 : release.seen.split(",").length;
  const [waves, setWaves] = useState<DraftWave[]>(release.plan.waves);
  const back = `/machines/releases/${release.id}`;
  const change = useChangeWaves(release.id, () => navigate(back));
  const wanted = { plan: { ...release.plan, waves }, seen: release.seen };
  const drawn = useDrawnWaves(release.id, wanted);
  const send = () => change.mutate(wanted);
  if (offered.isError) return <Trouble error={offered.error} again={() => offered.refetch()} />;
  if (!offered.data) return <Waiting what="what waves can choose" />;
  const { departments, machines } = offered.data;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Ctrl+Enter changes them
    <div style={{ display: "contents" }} onKeyDown={saveKey(send)}>
      <div className={screen.top}>
        <h1>Waves of {release.title}</h1>
        <span>what is open stays as it is</span>
        <span className={screen.right}>
          <Link to={back}>The release</Link>
        </span>
      </div>
      <div className={styles.plan}>
        {waves.map((wave, n) =>
          n < opened ? (
            // biome-ignore lint/suspicious/noArrayIndexKey: a wave has no other identity than its place
            <p key={n}>
              Wave {n + 1}, <b>{wave.name}</b>, is open.
            </p>
          ) : (
            <DraftedWave
              // biome-ignore lint/suspicious/noArrayIndexKey: a wave has no other identity than its place
              key={n}
              wave={wave}
              number={n}
              departments={departments}
              machines={machines}
              onChange={(w) => setWaves(waves.map((one, i) => (i === n ? w : one)))}
              onGone={waves.length > 1 ? () => setWaves(waves.filter((_, i) => i !== n)) : undefined}
            />
          ),
        )}
        {drawn.isError && <Refusal error={drawn.error} />}
        {drawn.data && !drawn.isError && (
          <section aria-label="What it comes to">
            <p role="status">
              {sentenceOf(drawn.data)} {drawn.data.waves.map((w) => `${w.name}: ${machinesIn(w.many)}`).join("; ")}.
            </p>
          </section>
        )}
        <div className={styles.begin}>
          <Button
            variant="outlined"
            color="inherit"
            onClick={() =>
              setWaves([...waves.slice(0, opened), newWave("Another wave", "share", 10), ...waves.slice(opened)])
            }
          >
            One more wave
          </Button>
          <Button variant="contained" loading={change.isPending} onClick={send}>
            Change the waves
          </Button>
        </div>
      </div>
    </div>
  );
}

function machinesIn(count: number): string {
  return count === 1 ? "1 machine" : `${count} machines`;
}

/** Whose turn comes at another time, or not at all. */
function sentenceOf(drawn: Schemas["WavesDrawnOut"]): string {
  const parts = [];
  if (drawn.sooner > 0) parts.push(`${machinesIn(drawn.sooner)} sooner`);
  if (drawn.later > 0) parts.push(`${machinesIn(drawn.later)} later`);
  if (drawn.no_more > 0) parts.push(`${machinesIn(drawn.no_more)} in no wave any more`);
  const left = drawn.not_in_a_wave > 0 ? ` ${machinesIn(drawn.not_in_a_wave)} would be in no wave.` : "";
  return `${parts.length > 0 ? `It puts ${parts.join(", ")}.` : "Every machine stays in its wave."}${left}`;
}
