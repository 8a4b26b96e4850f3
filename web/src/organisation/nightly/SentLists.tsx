import Button from "@mui/material/Button";
import { useState } from "react";
import { Link } from "react-router";
import { momentOf } from "../../shared/days";
import { Trouble, Waiting } from "../../shared/states";
import { useUndo } from "../../shared/useHistory";
import { Steps } from "../lists/ImportPanel";
import { useImport } from "../lists/useImport";
import styles from "./Nightly.module.css";
import { STATES } from "./states";
import type { Sender, Sent } from "./useNightly";
import { useAnswer, useSent } from "./useNightly";

/** A list that waits: why, what taking it would do, and the answer. */
export function WaitingList({ sent }: { sent: Sent }) {
  const say = useAnswer();
  const [close, setClose] = useState(false);
  const good = sent.rows - sent.bad;
  return (
    <section className={styles.waiting} aria-label={`Waiting list of ${sent.sender}`}>
      <p>
        <b>{sent.name}</b> waits. {sent.says}
      </p>
      {!close && (
        <ul aria-label="What it would do">
          {sent.told.map((t) => (
            <li key={t}>{t}</li>
          ))}
        </ul>
      )}
      {close ? (
        <Closely sent={sent} onLeave={() => setClose(false)} />
      ) : (
        <span className={styles.answer}>
          {good > 0 && (
            <Button variant="contained" loading={say.isPending} onClick={() => say.mutate({ sent, yes: true })}>
              {sent.bad > 0 ? `Yes, take the ${good} good rows` : "Yes, take it"}
            </Button>
          )}
          <Button variant="outlined" color="inherit" onClick={() => say.mutate({ sent, yes: false })}>
            No, take nothing
          </Button>
          {sent.kind === "commands" ? (
            <Button component={Link} to={`/programs/list?list=${sent.list}`} color="inherit">
              Look at its rows
            </Button>
          ) : (
            <Button color="inherit" onClick={() => setClose(true)}>
              Look at its headings and faults
            </Button>
          )}
        </span>
      )}
    </section>
  );
}

function Closely({ sent, onLeave }: { sent: Sent; onLeave: () => void }) {
  const found = useImport(sent.list);
  if (found.isError) return <Trouble error={found.error} again={() => found.refetch()} />;
  if (!found.data) return <Waiting what="the list" />;
  return <Steps key={found.data.id} found={found.data} onLeave={onLeave} />;
}

/** Everything that one sender sent, the newest first. */
export function SentLists({ sender }: { sender: Sender }) {
  const [pages, setPages] = useState(1);
  const sent = useSent(sender.id, true, pages);
  const undo = useUndo();
  if (sent.isError) return <Trouble error={sent.error} again={() => sent.refetch()} />;
  if (!sent.data) return <Waiting what="what it sent" />;
  const { rows, total } = sent.data;
  return (
    <>
      <ol className={styles.sent} aria-label={`What ${sender.name} sent`}>
        {rows.map((row) => (
          <li key={row.id}>
            <time dateTime={row.at}>{momentOf(row.at)}</time>
            <i className={styles[STATES[row.state].mark]} aria-hidden="true" />
            <span>
              {row.name}: {STATES[row.state].noun}
              {row.decided_by && `, by ${row.decided_by}`}
              <small>{[row.says, ...(row.state === "same" ? [] : row.told)].filter(Boolean).join(" ")}</small>
            </span>
            {row.change !== null && (
              <Button color="inherit" onClick={() => row.change !== null && undo.mutate(row.change)}>
                Take it back
              </Button>
            )}
          </li>
        ))}
      </ol>
      {rows.length < total && (
        <Button color="inherit" onClick={() => setPages(pages + 1)}>
          Show more of {total}
        </Button>
      )}
    </>
  );
}
