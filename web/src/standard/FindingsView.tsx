import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import styles from "./Standard.module.css";
import { useFindings, useSaveMeanings } from "./useStandard";

type Finding = Schemas["FindingOut"];
const FEW = 12;

interface FindingsViewProps {
  seen: string;
  platform: string;
  /** Opens a task's row in the matrix. */
  onTask: (task: string) => void;
}

/** What is worth a look, by kind; those of this platform and of none. */
export function FindingsView({ seen, platform, onTask }: FindingsViewProps) {
  const found = useFindings(true);
  const [all, setAll] = useState<ReadonlySet<string>>(new Set());
  if (found.isError) return <Trouble error={found.error} again={() => found.refetch()} />;
  if (!found.data) return <Waiting what="what is worth a look" />;
  const here = found.data.findings.filter((f) => f.platform === null || f.platform === platform);
  if (here.length === 0) {
    return (
      <Empty title="Nothing to look at">
        <p>Every task has one key, every family one shape, and no exception runs out.</p>
      </Empty>
    );
  }
  return (
    <div className={styles.findings}>
      {found.data.kinds.map(([kind = "", name = ""]) => {
        const own = here.filter((f) => f.kind === kind);
        if (own.length === 0) return null;
        const shown = all.has(kind) ? own : own.slice(0, FEW);
        return (
          <section key={kind} aria-label={name}>
            <h2>
              {name} <small>{own.length}</small>
            </h2>
            <ul>
              {shown.map((f) => (
                <One key={`${f.kind}${f.says}`} finding={f} seen={seen} onTask={onTask} />
              ))}
            </ul>
            {own.length > shown.length && (
              <Button color="inherit" onClick={() => setAll(new Set([...all, kind]))}>
                Show all {own.length}
              </Button>
            )}
          </section>
        );
      })}
    </div>
  );
}

function One({ finding, seen, onTask }: { finding: Finding; seen: string; onTask: (task: string) => void }) {
  const task = finding.tasks[0];
  return (
    <li>
      <span>
        {finding.says}
        {finding.allowed && <em> Allowed: {finding.allowed}</em>}
      </span>
      {finding.people > 0 && <span className={styles.number}>{finding.people} people</span>}
      <span className={styles.acts}>
        {finding.kind === "two_meanings" && <Allow finding={finding} seen={seen} />}
        {task && finding.kind !== "two_meanings" && (
          <Button color="inherit" onClick={() => onTask(task)}>
            Look at it
          </Button>
        )}
      </span>
    </li>
  );
}

/** One key may mean two things: somebody says so, with a reason; or takes it back. */
function Allow({ finding, seen }: { finding: Finding; seen: string }) {
  const rights = useRights();
  const save = useSaveMeanings();
  const [asks, setAsks] = useState(false);
  const [reason, setReason] = useState("");
  if (!rights.edit || !finding.keys || !finding.platform) return null;
  const body = { keys: finding.keys, platform: finding.platform, seen };
  if (finding.allowed) {
    return (
      <Button color="inherit" onClick={() => save.mutate({ ...body, reason: "", remove: true })}>
        Not any more
      </Button>
    );
  }
  if (!asks) {
    return (
      <Button color="inherit" onClick={() => setAsks(true)}>
        That may be
      </Button>
    );
  }
  return (
    <form
      className={styles.how}
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate({ ...body, reason, remove: false });
      }}
    >
      <TextField
        label="Why it may"
        autoFocus
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        sx={{ width: 190 }}
      />
      <Button type="submit" variant="outlined" disabled={reason.trim().length < 3} loading={save.isPending}>
        Allow it
      </Button>
      <Button color="inherit" onClick={() => setAsks(false)}>
        Leave it
      </Button>
    </form>
  );
}
