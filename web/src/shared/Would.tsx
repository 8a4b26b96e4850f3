import type { Schemas } from "../api/client";
import { Consequences } from "./Consequences";
import styles from "./Would.module.css";

interface WouldProps {
  would: Schemas["WouldOut"] | undefined;
  error: unknown;
}

/** The consequences in a line, so that the differences stay in sight; the clashes themselves when asked for. */
export function Would({ would, error }: WouldProps) {
  if (error || !would) return <Consequences plan={undefined} error={error} />;
  const { solved, made, people } = would;
  const words = `Solves ${solved || "no"} ${solved === 1 ? "clash" : "clashes"}, makes ${made || "none"}.`;
  return (
    <details className={styles.would}>
      <summary>
        <span role="status">
          {words}
          {people > 0 && ` It reaches ${people === 1 ? "1 person" : `${people} people`}.`}
        </span>
      </summary>
      <Consequences plan={{ ...would, told: [] }} error={null} />
    </details>
  );
}
