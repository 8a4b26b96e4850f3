import Button from "@mui/material/Button";
import { useRights } from "../shared/useSession";
import styles from "./Profiles.module.css";
import type { Waiting } from "./useReleases";
import { useReleases, useReleaseThese } from "./useReleases";

const KINDS: Record<Waiting["kind"], string> = {
  organisation: "People and machines",
  program: "Program",
  tasks: "Tasks",
  profile: "Profile",
  setup: "Planned setup",
};

/** What machines don't have as it is now: each document alone, or all of them together. */
export function Releases() {
  const waiting = useReleases();
  const rights = useRights();
  const release = useReleaseThese();
  const rows = waiting.data ?? [];
  if (rows.length === 0) return null;
  const these = (chosen: Waiting[]) => release.mutate(chosen.map((w) => ({ key: w.key, number: w.newest })));
  return (
    <section className={styles.releases} aria-label="Waiting for release">
      <h2>Waiting for release</h2>
      <p>Machines are given what is released, and nothing of this before.</p>
      <ul>
        {rows.map((w) => (
          <li key={w.key}>
            <b>{w.name}</b>
            <span>
              {KINDS[w.kind]}, {w.released ? `revision ${w.released} is released` : "never released"}
              {w.notes[0] &&
                `; since then: ${w.notes[0]}${w.notes.length > 1 ? ` and ${w.notes.length - 1} more` : ""}`}
            </span>
            {rights.release && (
              <Button variant="outlined" disabled={release.isPending} onClick={() => these([w])}>
                Release revision {w.newest}
                <span className="unseen"> of {w.name}</span>
              </Button>
            )}
          </li>
        ))}
      </ul>
      {rights.release && rows.length > 1 && (
        <Button variant="contained" loading={release.isPending} onClick={() => these(rows)}>
          Release all {rows.length}
        </Button>
      )}
    </section>
  );
}
