import Button from "@mui/material/Button";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { saveKey } from "../shared/saveKey";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import { DraftedWave } from "./DraftedWave";
import styles from "./Rollouts.module.css";
import type { DraftWave, Release } from "./useRollouts";
import { useChangeWaves, useOffered, useRelease } from "./useRollouts";
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
  const send = () => change.mutate({ plan: { ...release.plan, waves }, seen: release.seen });
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
