import Button from "@mui/material/Button";
import { useRights } from "../shared/useSession";
import { many, PlanTold } from "./PlanTold";
import styles from "./Standard.module.css";
import type { Standard } from "./useStandard";
import { useRelease, useReleasePlan } from "./useStandard";

/** What is saved and not in effect yet: what releasing it would do to whom, and the button for those who may. */
export function ReleasePanel({ data, onClose }: { data: Standard; onClose: () => void }) {
  const rights = useRights();
  const plan = useReleasePlan(true);
  const release = useRelease(onClose);
  const { waiting } = data;
  return (
    <section className={styles.draft} aria-label="Release the standard">
      <p>
        Revision {waiting.revision} is saved, {waiting.released ? `revision ${waiting.released} is` : "none is"}{" "}
        released. Releasing compiles it into the layer under all others; what a nearer layer says by hand stays as it
        is. <b>{many(waiting.entries, "entry", "entries")}</b> of that layer would be others.
      </p>
      <PlanTold plan={plan.data} error={plan.error} withLines whole />
      <div className={styles.acts}>
        {rights.release ? (
          <Button variant="contained" loading={release.isPending} onClick={() => release.mutate(null)}>
            Release it
          </Button>
        ) : (
          <span>A releaser releases the standard.</span>
        )}
        <Button color="inherit" onClick={onClose}>
          Not now
        </Button>
      </div>
    </section>
  );
}
