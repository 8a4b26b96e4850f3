import Button from "@mui/material/Button";
import Pagination from "@mui/material/Pagination";
import { useState } from "react";
import { momentOf } from "../shared/days";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useRedo, useUndo } from "../shared/useHistory";
import { useRights } from "../shared/useSession";
import { Words } from "../shared/Words";
import styles from "./Clashes.module.css";
import { useDecided } from "./useClashes";

/** What was decided: who, when, what and why; each can be undone and done again, or says why it can't any more. */
export function Decided() {
  const [words, setWords] = useState("");
  const [page, setPage] = useState(1);
  const found = useDecided(words, page);
  const rights = useRights();
  const undo = useUndo();
  const redo = useRedo();
  if (found.isError) return <Trouble error={found.error} again={() => found.refetch()} />;
  if (!found.data) return <Waiting what="what was decided" />;
  const { decided, pages, total } = found.data;
  if (total === 0 && words === "") {
    return (
      <Empty title="Nothing has been decided yet.">
        <p>Open a clash, choose a way out and decide: it is kept here, with its undo.</p>
      </Empty>
    );
  }
  return (
    <div className={styles.scroller}>
      <search className={styles.filters} aria-label="Look for decisions">
        <Words
          value={words}
          onChange={(next) => {
            setWords(next);
            setPage(1);
          }}
          placeholder="moved, fare, Ines ..."
          width={240}
        />
        <span role="status">
          {total} {total === 1 ? "decision" : "decisions"}
        </span>
        {pages > 1 && (
          <Pagination size="small" count={pages} page={page} onChange={(_, next) => setPage(next)} shape="rounded" />
        )}
      </search>
      <ul aria-label="Decisions" className={styles.decided}>
        {decided.map((d) => (
          <li key={d.id} className={d.undone ? styles.undone : undefined}>
            <span>
              <b>{d.title}</b>
              {d.reason && <span className={styles.reason}>{d.reason}</span>}
              <small>
                {d.by}, {momentOf(d.at)}
                {d.undone && ", undone"}
                {d.why_not && ` ${d.undone ? "Can't be done again" : "Can't be undone"}: ${d.why_not}`}
              </small>
            </span>
            {rights.edit && (
              <Button
                variant="outlined"
                color="inherit"
                disabled={d.why_not !== ""}
                onClick={() => (d.undone ? redo : undo).mutate(d.id)}
                aria-label={`${d.undone ? "Do again" : "Undo"}: ${d.title}`}
              >
                {d.undone ? "Do again" : "Undo"}
              </Button>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
