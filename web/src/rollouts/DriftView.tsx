import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Link } from "react-router";
import { dayOf } from "../shared/days";
import { One } from "../shared/fields";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { UntilField } from "../shared/UntilField";
import { useRights } from "../shared/useSession";
import styles from "./Rollouts.module.css";
import type { Drift } from "./useRollouts";
import { useDrift, useLeaveDrift, useLookAgain, useTakeDrift } from "./useRollouts";
import { counted } from "./words";

const OWN = "own";

/** What people changed on their machines since it was written there, once for all machines alike. */
export function DriftView() {
  const rights = useRights();
  const drift = useDrift();
  if (!rights.edit) {
    return (
      <Empty whole title="What people changed on their machines is for editors.">
        <p>
          <Link to="/machines">Agents</Link>
        </p>
      </Empty>
    );
  }
  if (drift.isError) return <Trouble error={drift.error} again={() => drift.refetch()} />;
  if (!drift.data) return <Waiting what="what people changed" />;
  const { waiting, left } = drift.data;
  return (
    <>
      <div className={screen.top}>
        <h1>What people changed on their machines</h1>
        <span role="status">{counted(waiting.length, "own change waits", "own changes wait")} for a word</span>
        <span className={screen.right}>
          <Link to="/machines">Agents</Link>
          <Link to="/machines/releases">Releases</Link>
        </span>
      </div>
      {waiting.length === 0 && (
        <Empty title="Nothing was changed since it was written.">
          <p>What people set themselves is never overwritten unseen; it is told here, by what differs.</p>
        </Empty>
      )}
      <ul className={styles.list} aria-label="Own changes that wait">
        {waiting.map((one) => (
          <Row key={one.id} drift={one} />
        ))}
      </ul>
      {left.length > 0 && (
        <>
          <div className={screen.sub}>Left as it is</div>
          <ul className={styles.list} aria-label="Left as it is">
            {left.map((one) => (
              <Left key={one.id} drift={one} />
            ))}
          </ul>
        </>
      )}
    </>
  );
}

function said(keys: string[] | null | undefined): string {
  if (keys === null || keys === undefined) return "the program's default";
  return keys.join(" and ") || "no keys";
}

function Machines({ drift }: { drift: Drift }) {
  return (
    <small>
      {drift.machines
        .slice(0, 6)
        .map((m) => `${m.name}${m.seen ? `, ${dayOf(m.seen)}` : ""}`)
        .join("; ")}
      {drift.machines.length > 6 && ` and ${drift.machines.length - 6} more`}
    </small>
  );
}

function Row({ drift }: { drift: Drift }) {
  const [into, setInto] = useState(drift.proposed === "" ? OWN : drift.proposed);
  const [leaving, setLeaving] = useState(false);
  const take = useTakeDrift();
  const choices = [
    ...drift.layers.map((l) => ({ id: l.profile, name: `${l.name} (${l.having} of ${l.seen} have it)` })),
  ];
  return (
    <li className={styles.drift} aria-label={`${drift.name} in ${drift.program}`}>
      <span>
        <b>{drift.name}</b> in {drift.program} is on {said(drift.has)}; {said(drift.wanted)} is wanted.
        <Machines drift={drift} />
      </span>
      {drift.takeable ? (
        <One label="Into" value={into} choices={[...choices, { id: OWN, name: "each one's own" }]} onChange={setInto} />
      ) : (
        <span />
      )}
      <span className={styles.acts}>
        {drift.takeable && (
          <Button variant="contained" loading={take.isPending} onClick={() => take.mutate({ [drift.id]: into })}>
            Take it into the profile
          </Button>
        )}
        <Button variant="outlined" color="inherit" onClick={() => setLeaving(!leaving)} aria-expanded={leaving}>
          Leave it, with a reason
        </Button>
        <Button component={Link} to="/machines" variant="outlined" color="inherit">
          Put it right
        </Button>
      </span>
      {leaving && <Leaving drift={drift} onDone={() => setLeaving(false)} />}
    </li>
  );
}

function Leaving({ drift, onDone }: { drift: Drift; onDone: () => void }) {
  const [reason, setReason] = useState("");
  const [until, setUntil] = useState("");
  const leave = useLeaveDrift();
  return (
    <form
      className={styles.leaving}
      onSubmit={(e) => {
        e.preventDefault();
        leave.mutate({ id: drift.id, reason, until }, { onSuccess: onDone });
      }}
    >
      <TextField
        label="Why it stays"
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        sx={{ width: 360 }}
        slotProps={{ htmlInput: { maxLength: 300 } }}
        autoFocus
      />
      <UntilField value={until} onChange={setUntil} />
      <Button
        type="submit"
        variant="contained"
        disabled={reason.trim() === "" || until === ""}
        loading={leave.isPending}
      >
        Leave it until then
      </Button>
    </form>
  );
}

function Left({ drift }: { drift: Drift }) {
  const again = useLookAgain();
  return (
    <li className={styles.drift}>
      <span>
        <b>{drift.name}</b> in {drift.program} stays on {said(drift.has)}
        {drift.until && ` until ${dayOf(drift.until)}`}: {drift.reason} <small>{drift.by}</small>
        <Machines drift={drift} />
      </span>
      <span />
      <span className={styles.acts}>
        <Button variant="outlined" color="inherit" loading={again.isPending} onClick={() => again.mutate(drift.id)}>
          Look at it again
        </Button>
      </span>
    </li>
  );
}
