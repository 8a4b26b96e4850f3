import { dayOf } from "../shared/days";
import styles from "./Profiles.module.css";
import type { Profile } from "./useProfiles";

/** The newest revisions as a line: the released one and the present one are marked. */
export function HistoryLine({ profile }: { profile: Profile }) {
  const shown = profile.revisions.slice(-6);
  return (
    <ol className={styles.history} aria-label="Revisions">
      {shown.map((r) => {
        const now = r.number === profile.newest;
        const words = [now && "here now", r.released && "released"].filter(Boolean).join(", ");
        return (
          <li key={r.number} className={now || r.released ? styles.marked : undefined} title={r.note}>
            <b>
              {r.number}
              {words && `, ${words}`}
            </b>
            <span>
              {dayOf(r.at)}, {r.by}
            </span>
            <small>{r.note}</small>
          </li>
        );
      })}
    </ol>
  );
}
