import { Link, useLocation } from "react-router";
import type { Schemas } from "../api/client";
import { lensParts } from "./lens";
import styles from "./Worth.module.css";

interface WorthToldProps {
  worth: Schemas["WorthOut"];
  /** The sentences stand elsewhere already. */
  said?: boolean;
}

/** What a change is worth, in sentences; how that is counted, and what is assumed, one click away. */
export function WorthTold({ worth, said = false }: WorthToldProps) {
  const { search } = useLocation();
  if (worth.says.length === 0) return null;
  return (
    <div className={styles.worth}>
      {!said && worth.says.map((s) => <span key={s}>{s}</span>)}
      {worth.weighed.length > 0 && (
        <details>
          <summary>How that is counted</summary>
          <ul>
            {worth.weighed.map((w) => (
              <li key={`${w.program_name} ${w.name} ${w.says} ${w.people}`}>
                <b>{w.name}</b> in {w.program_name}: {w.says}, by {w.people} people
              </li>
            ))}
          </ul>
          {worth.weighed.some((w) => w.assumed) && (
            <p>Where nobody has said how often a role uses a command, that is assumed, and makes points.</p>
          )}
          <Link to={{ pathname: "/organisation/worth", search: lensParts(search) }}>What is assumed</Link>
        </details>
      )}
    </div>
  );
}
