import Button from "@mui/material/Button";
import { Link } from "react-router";
import { momentOf } from "../shared/days";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import styles from "./Rollouts.module.css";
import { useReleases } from "./useRollouts";
import { counted, RELEASE_STATES } from "./words";

/** What went out, what is on its way, and what was taken back. */
export function ReleasesView() {
  const releases = useReleases();
  const rights = useRights();
  if (releases.isError) return <Trouble error={releases.error} again={() => releases.refetch()} />;
  if (!releases.data) return <Waiting what="the releases" />;
  return (
    <>
      <div className={screen.top}>
        <h1>Releases to machines</h1>
        <span className={screen.right}>
          <Link to="/machines">Agents</Link>
          {rights.edit && <Link to="/machines/drift">What people changed</Link>}
          {rights.release && (
            <Button component={Link} to="/machines/releases/new" variant="contained">
              Plan a release
            </Button>
          )}
        </span>
      </div>
      {releases.data.length === 0 && (
        <Empty title="Nothing has gone out in waves yet.">
          <p>
            A release goes to a few machines first, then to more, as its gates let it; it stops where something is
            wrong, and can be taken back everywhere. Single machines can be brought in step under{" "}
            <Link to="/machines">Agents</Link>.
          </p>
        </Empty>
      )}
      <ul className={styles.list} aria-label="Releases">
        {releases.data.map((r) => (
          <li key={r.id} className={styles.row}>
            <span>{r.number}</span>
            <span>
              <Link to={`/machines/releases/${r.id}`}>{r.title}</Link>, begun {momentOf(r.at)} by {r.by}
            </span>
            <span>{RELEASE_STATES[r.state]}</span>
            <span>
              {r.in_step} of {counted(r.machines, "machine")} in step
              {r.stopped > 0 && `, ${r.stopped} stopped`}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
