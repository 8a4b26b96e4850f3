import Button from "@mui/material/Button";
import { useState } from "react";
import { Empty } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import { Draft } from "./Draft";
import styles from "./Sections.module.css";
import type { Held } from "./useHeld";

/** Shortcuts that came together, and go together. */
export function Sets({ held }: { held: Held }) {
  const rights = useRights();
  const [gone, setGone] = useState<string | null>(null);
  if (held.sets.length === 0) {
    return (
      <Empty title={`${held.name} has no sets.`}>
        <p>A set is another program's shortcuts, lent to this one; it comes from the standard's screen.</p>
      </Empty>
    );
  }
  return (
    <>
      <ul className={styles.rows} aria-label="Sets">
        {held.sets.map((s) => (
          <li key={s.key}>
            <b>{s.name}</b>
            <span>{s.entries === 1 ? "1 shortcut" : `${s.entries} shortcuts`}</span>
            {rights.edit && (
              <Button size="small" color="inherit" onClick={() => setGone(s.key)}>
                Take it off<span className="unseen">: {s.name}</span>
              </Button>
            )}
          </li>
        ))}
      </ul>
      {gone && (
        <div className={styles.form}>
          <Draft
            profile={held.profile}
            section="sets"
            wishes={[{ key: gone, item: null }]}
            onLeave={() => setGone(null)}
            onSaved={() => setGone(null)}
          />
        </div>
      )}
    </>
  );
}
