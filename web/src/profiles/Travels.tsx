import { useTravels } from "./sections/useHeld";
import styles from "./Travels.module.css";

const GOES: Record<string, string> = { goes: "go along", waits: "wait", stays: "stay" };
const LIVES: Record<string, string> = {
  document: "in a document",
  person: "with the person",
  machine: "on the machine",
  organisation: "here, as a rule",
};

/** Of every item whether a bundle takes it, where it lives, and what it needs first. */
export function Travels({ profile }: { profile: string }) {
  const travels = useTravels(profile).data;
  if (!travels) return null;
  return (
    <aside className={styles.travels} aria-label="What travels">
      <h2>What travels in a bundle</h2>
      {travels.stays_whole && <p>One person's own: it stays here.</p>}
      {travels.lines.length === 0 && <p>There is nothing in it yet.</p>}
      <ul>
        {travels.lines.map((l) => (
          <li key={`${l.section} ${l.lives} ${l.goes} ${l.why}`} title={l.items.join(", ")}>
            <span className={styles.way}>
              <b>{l.says}</b>
              <i className={styles[l.goes]} aria-hidden="true" />
              <span>{travels.stays_whole ? "stay" : GOES[l.goes]}</span>
            </span>
            <small>
              {LIVES[l.lives]}
              {l.in_files > 0 &&
                `; ${l.in_files === l.count ? "in settings files" : `${l.in_files} in settings files`}`}
              {l.in_files === 0 && l.section !== "reserved" && "; set by hand"}
            </small>
            {l.why && <small className={l.goes === "waits" ? styles.needs : undefined}>{l.why}</small>}
            {l.needs && <small>needs {l.needs}</small>}
          </li>
        ))}
      </ul>
    </aside>
  );
}
