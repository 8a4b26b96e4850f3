import { Link, useLocation } from "react-router";
import type { Schemas } from "../api/client";
import { Caps } from "../keyboard/Caps";
import { lensParts } from "../shared/lens";
import { STATE_WORDS } from "./cells";
import styles from "./Standard.module.css";

/** A row's programs, each with what its people press for the task today. The one whose cell was opened stands first. */
export function WhoHasWhat({ row, program }: { row: Schemas["TaskRowOut"]; program: string | null }) {
  const { search } = useLocation();
  const had = row.had.toSorted((a, b) => Number(b.program === program) - Number(a.program === program));
  if (had.length === 0) return <p className={styles.quiet}>No program here offers {row.name}.</p>;
  const at = (clash: string) => {
    const params = new URLSearchParams(lensParts(search));
    params.set("clash", clash);
    return { pathname: "/clashes", search: `?${params}` };
  };
  return (
    <ul className={styles.had} aria-label={`Who has what for ${row.name}`}>
      {had.map((h) => (
        <li
          key={`${h.program}${h.state}${h.layer}${h.keys.map((k) => k.text).join()}${h.why}${h.clash ?? ""}`}
          className={h.program === program ? styles.hadHere : ""}
        >
          <b>{h.program_name}</b>
          <span>
            {h.keys.map((k) => (
              <Caps key={k.text} shortcut={k} />
            ))}
          </span>
          <span>
            {STATE_WORDS[h.state]}
            {h.layer && h.state !== "agrees" && `, ${h.layer} set it`}
            {h.why && `: ${h.why}`}
            {h.clash && (
              <>
                {" "}
                <Link to={at(h.clash)}>the clash</Link>
              </>
            )}
          </span>
          <span className={styles.number}>{h.people} people</span>
        </li>
      ))}
    </ul>
  );
}
