import Button from "@mui/material/Button";
import Pagination from "@mui/material/Pagination";
import TextField from "@mui/material/TextField";
import { useDeferredValue, useState } from "react";
import { momentOf } from "../shared/days";
import { One } from "../shared/fields";
import { Empty, Trouble, Waiting } from "../shared/states";
import { Words } from "../shared/Words";
import styles from "./Account.module.css";
import { ANYTHING, askedOf, useAudit } from "./useAccounts";

/** Who did what to which document, when. */
export function AuditList() {
  const [looked, setLooked] = useState(ANYTHING);
  const audit = useAudit(useDeferredValue(looked));
  if (audit.isError) return <Trouble error={audit.error} again={() => audit.refetch()} />;
  if (!audit.data) return <Waiting what="what was done" />;
  const { rows, total, pages, actors, actions } = audit.data;
  const look = (part: Partial<typeof looked>) => setLooked({ ...looked, page: 1, ...part });
  const named = (names: string[]) => names.map((n) => ({ id: n, name: n }));
  return (
    <>
      <search className={styles.tools} aria-label="Look for what was done">
        <Words value={looked.words} onChange={(words) => look({ words })} width={190} />
        <span className={styles.choice}>
          <One
            label="Who"
            value={looked.who}
            none="anybody"
            choices={named(actors)}
            onChange={(who) => look({ who })}
          />
        </span>
        <span className={styles.choice}>
          <One
            label="Did"
            value={looked.did}
            none="anything"
            choices={named(actions)}
            onChange={(did) => look({ did })}
          />
        </span>
        {(["since", "until"] as const).map((end) => (
          <TextField
            key={end}
            type="date"
            label={end === "since" ? "From" : "Until"}
            value={looked[end]}
            onChange={(e) => look({ [end]: e.target.value })}
            slotProps={{ inputLabel: { shrink: true } }}
          />
        ))}
        <span role="status">{total.toLocaleString("en")} found</span>
        <Button
          component="a"
          href={`/api/audit.csv?${new URLSearchParams(askedOf(looked))}`}
          download
          variant="outlined"
          color="inherit"
        >
          Take them as CSV
        </Button>
      </search>
      {rows.length === 0 ? (
        <Empty title="Nothing like that was done." />
      ) : (
        <ol className={styles.audit} aria-label="What was done">
          {rows.map((r, n) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: two things may be done in one moment
            <li key={`${r.at} ${n}`}>
              <time dateTime={r.at}>{momentOf(r.at)}</time>
              <b>{r.machine ? `machine ${r.who}` : r.who}</b>
              <span>
                {r.did} <i>{r.subject}</i>
                {r.detail && <small>{r.detail}</small>}
              </span>
            </li>
          ))}
        </ol>
      )}
      {pages > 1 && (
        <Pagination
          className={styles.pages}
          size="small"
          count={pages}
          page={looked.page}
          onChange={(_, page) => setLooked({ ...looked, page })}
        />
      )}
    </>
  );
}
