import Button from "@mui/material/Button";
import type { Schemas } from "../api/client";
import { Empty } from "../app/states";
import { useRedo, useUndo } from "../app/useHistory";
import { useRights } from "../app/useSession";
import styles from "./Clashes.module.css";

/** What was decided: who, when, what; each can be undone and done again. */
export function Decided({ decided }: { decided: Schemas["DecidedOut"][] }) {
  const rights = useRights();
  const undo = useUndo();
  const redo = useRedo();
  if (decided.length === 0) {
    return (
      <Empty title="Nothing has been decided yet.">
        <p>Open a clash, choose a way out and decide: it is kept here, with its undo.</p>
      </Empty>
    );
  }
  return (
    <ul aria-label="Decisions" className={styles.decided}>
      {decided.map((d) => (
        <li key={d.id} className={d.undone ? styles.undone : undefined}>
          <span>
            <b>{d.title}</b>
            <small>
              {d.by}, {new Date(d.at).toLocaleString()}
              {d.undone && ", undone"}
            </small>
          </span>
          {rights.edit && (
            <Button
              variant="outlined"
              color="inherit"
              onClick={() => (d.undone ? redo : undo).mutate(d.id)}
              aria-label={`${d.undone ? "Do again" : "Undo"}: ${d.title}`}
            >
              {d.undone ? "Do again" : "Undo"}
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}
