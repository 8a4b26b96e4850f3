import Button from "@mui/material/Button";
import Pagination from "@mui/material/Pagination";
import { useState } from "react";
import { Link, useLocation } from "react-router";
import { momentOf } from "../shared/days";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import { Words } from "../shared/Words";
import { laneText } from "./address";
import styles from "./Try.module.css";
import { useRecords, useRemoveRecord } from "./useTry";

/** What was tested: who, where, what was expected, what was seen. */
export function RecordsView() {
  const [words, setWords] = useState("");
  const [failed, setFailed] = useState(false);
  const [page, setPage] = useState(1);
  const found = useRecords(words, failed, page);
  const remove = useRemoveRecord();
  const rights = useRights();
  const { search } = useLocation();
  if (found.isError) return <Trouble error={found.error} again={() => found.refetch()} />;
  if (!found.data) return <Waiting what="the test records" />;
  const { records, total, pages } = found.data;
  if (total === 0 && words === "" && !failed) {
    return (
      <Empty title="Nobody has tested anything yet.">
        <p>Try a press, press it on a real machine, and keep what you saw: it is listed here.</p>
      </Empty>
    );
  }
  const csv = `/api/records.csv?${new URLSearchParams({ words, failed: String(failed) })}`;
  return (
    <>
      <search className={styles.tools} aria-label="Look for test records">
        <Words
          value={words}
          onChange={(next) => {
            setWords(next);
            setPage(1);
          }}
          width={240}
        />
        <Button
          variant={failed ? "contained" : "outlined"}
          color="inherit"
          aria-pressed={failed}
          onClick={() => {
            setFailed(!failed);
            setPage(1);
          }}
        >
          Not passed {found.data.failed}
        </Button>
        <span role="status">
          {total} {total === 1 ? "test" : "tests"}
        </span>
        <Button component="a" href={csv} download variant="outlined" color="inherit">
          Take them as CSV
        </Button>
        {pages > 1 && <Pagination size="small" count={pages} page={page} onChange={(_, next) => setPage(next)} />}
      </search>
      <ul className={styles.records} aria-label="Test records">
        {records.map((r) => (
          <li key={r.id}>
            <span className={r.passed ? styles.passed : styles.failed}>{r.passed ? "passed" : "not passed"}</span>
            <span>
              <b>{r.pressed}</b> in {r.program_name ? `${r.program_name}, ${r.scope_name}` : "nothing of a program"},{" "}
              {r.setup_name}
              <small>
                Expected: {r.expected}. {r.passed ? "It did that." : `Seen: ${r.seen}.`} {r.by}, {momentOf(r.at)}
              </small>
            </span>
            <Link to={{ search: again(search, r) }}>
              Try again<span className="unseen">: {r.pressed}</span>
            </Link>
            {rights.edit && (
              <Button
                color="inherit"
                onClick={() => remove.mutate({ id: r.id, removed: true })}
                aria-label={`Take out: ${r.pressed}`}
              >
                Take out
              </Button>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}

interface Place {
  setup: string;
  program: string | null;
  scope: string | null;
  shortcut: string;
}

/** The address at which a press of a record is tried. */
export function again(search: string, place: Place): string {
  const next = new URLSearchParams(search);
  next.delete("show");
  next.delete("lane");
  next.set("press", place.shortcut);
  next.append("lane", laneText(place));
  return next.toString();
}
