import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Link } from "react-router";
import { dayOf } from "../../shared/days";
import screen from "../../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import { AgentShown, KeyShown } from "./EnrolAgent";
import styles from "./Enrolling.module.css";
import type { EnrolKey } from "./useEnrolling";
import { useEnrolKeys, useMakeKey, useWithdrawKey } from "./useEnrolling";

/** Agents on many machines: keys that an installer is given, each for some machines and some days. */
export function EnrolManyView() {
  const rights = useRights();
  const keys = useEnrolKeys(rights.release);
  if (!rights.release) {
    return (
      <Empty whole title="A releaser makes keys for enrolling machines.">
        <p>
          <Link to="/machines">Agents</Link>
        </p>
      </Empty>
    );
  }
  if (keys.isError) return <Trouble error={keys.error} again={() => keys.refetch()} />;
  if (!keys.data) return <Waiting what="the enrolment keys" />;
  return (
    <div className={styles.screen}>
      <div className={screen.top}>
        <h1>Enrol many machines</h1>
        <span>An installer is given one key. Only machines of the organisation enrol with it, each once.</span>
        <span className={screen.right}>
          <Link to="/machines">Agents</Link>
        </span>
      </div>
      <MakeKey />
      {keys.data.length > 0 && (
        <ul className={styles.keys} aria-label="Enrolment keys">
          {keys.data.map((k) => (
            <Row key={k.id} of={k} />
          ))}
        </ul>
      )}
    </div>
  );
}

function MakeKey() {
  const make = useMakeKey();
  const [note, setNote] = useState("");
  const [limit, setLimit] = useState("25");
  const [days, setDays] = useState("14");
  const counts = [limit, days].map(Number);
  const able = counts.every((n) => Number.isInteger(n) && n > 0);
  return (
    <form
      className={styles.make}
      aria-label="A new key"
      onSubmit={(event) => {
        event.preventDefault();
        if (able) make.mutate({ note, limit: counts[0] ?? 0, days: counts[1] ?? 0 });
      }}
    >
      <span>
        A key for{" "}
        <TextField
          label="machines"
          value={limit}
          onChange={(e) => setLimit(e.target.value)}
          slotProps={{ htmlInput: { inputMode: "numeric", size: 6 } }}
        />{" "}
        that works for{" "}
        <TextField
          label="days"
          value={days}
          onChange={(e) => setDays(e.target.value)}
          slotProps={{ htmlInput: { inputMode: "numeric", size: 4 } }}
        />
        <TextField label="What it is for" value={note} onChange={(e) => setNote(e.target.value)} />
      </span>
      <Button type="submit" variant="contained" disabled={!able} loading={make.isPending}>
        Make the key
      </Button>
      {make.data && (
        <div className={styles.given} role="status">
          It is not shown again:
          <code>{make.data.key}</code>
          <span>
            The agent enrols with <code>enrol --server ADDRESS --key KEY --machine NAME</code>, where the name is the
            organisation's; without one it says what the machine calls itself.
          </span>
          <AgentShown />
          <KeyShown fingerprint={make.data.fingerprint} />
        </div>
      )}
    </form>
  );
}

function Row({ of }: { of: EnrolKey }) {
  const withdraw = useWithdrawKey();
  const withdrawn = of.state === "withdrawn";
  return (
    <li data-works={of.state === "works" || undefined}>
      <b>{of.note || `Key of ${dayOf(of.made_at)}`}</b>
      <span>
        {of.used} of {of.limit} machines
      </span>
      <span>{stateInWords(of)}</span>
      <small>
        {of.made_by}, {dayOf(of.made_at)}
      </small>
      {(withdrawn || of.state === "works") && (
        <Button color="inherit" loading={withdraw.isPending} onClick={() => withdraw.mutate({ of, back: withdrawn })}>
          {withdrawn ? "Let it work again" : "Withdraw it"}
        </Button>
      )}
    </li>
  );
}

function stateInWords({ state, expires_at }: EnrolKey): string {
  switch (state) {
    case "works":
      return `works until ${dayOf(expires_at)}`;
    case "used up":
      return "used up";
    case "too old":
      return `ended ${dayOf(expires_at)}`;
    case "withdrawn":
      return "withdrawn";
  }
}
