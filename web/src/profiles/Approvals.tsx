import Button from "@mui/material/Button";
import { momentOf } from "../shared/days";
import { useRights } from "../shared/useSession";
import styles from "./Profiles.module.css";
import type { Sensitive } from "./useApprovals";
import { useApprovals, useApprove } from "./useApprovals";

/** What runs something or is written somewhere, and waits for somebody else's yes before it goes anywhere. */
export function Approvals() {
  const all = useApprovals().data ?? [];
  const waiting = all.filter((s) => !s.approved);
  const approved = all.filter((s) => s.approved);
  if (all.length === 0) return null;
  return (
    <section className={styles.releases} aria-label="Waiting for a yes">
      {waiting.length > 0 && (
        <>
          <h2>Waiting for a yes</h2>
          <p>What runs something, or says where files are written, goes out when another releaser has looked at it.</p>
          <ul>
            {waiting.map((s) => (
              <Row key={s.id} one={s} />
            ))}
          </ul>
        </>
      )}
      {approved.length > 0 && (
        <details>
          <summary>
            {approved.length === 1
              ? "One thing that runs or is written"
              : `${approved.length} things that run or are written`}{" "}
            may go out
          </summary>
          <ul>
            {approved.map((s) => (
              <Row key={s.id} one={s} />
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}

function Row({ one }: { one: Sensitive }) {
  const rights = useRights();
  const approve = useApprove();
  const what = one.says.slice(0, one.says.length - one.content.length);
  const exact = one.says.endsWith(one.content);
  return (
    <li>
      <span>
        {exact ? what : one.says}
        {exact && <code>{one.content}</code>}
        <small>
          {one.approved
            ? `${one.approved_by || "Released before anybody was asked"}${one.approved_at ? `, ${momentOf(one.approved_at)}` : ""}`
            : `${one.written_by || "Somebody"} wrote it${one.written_at ? `, ${momentOf(one.written_at)}` : ""}`}
        </small>
      </span>
      {rights.release && !one.approved && !one.mine && (
        <Button variant="outlined" loading={approve.isPending} onClick={() => approve.mutate({ of: one, yes: true })}>
          Say yes<span className="unseen"> to {one.content}</span>
        </Button>
      )}
      {rights.release && !one.approved && one.mine && <small>You wrote it: somebody else has to look at it.</small>}
      {rights.release && one.approved && (
        <Button color="inherit" loading={approve.isPending} onClick={() => approve.mutate({ of: one, yes: false })}>
          Take it back<span className="unseen">: {one.content}</span>
        </Button>
      )}
    </li>
  );
}
