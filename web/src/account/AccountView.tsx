import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useState } from "react";
import { momentOf } from "../shared/days";
import screen from "../shared/screen.module.css";
import { Trouble, Waiting } from "../shared/states";
import { useAddress } from "../shared/useAddress";
import { useSession } from "../shared/useSession";
import styles from "./Account.module.css";
import { AccountsList } from "./AccountsList";
import { AuditList } from "./AuditList";
import { useChangePassword, useEndOthers, useOwnSessions } from "./useAccounts";

/** One's own password and sessions; for administrators everybody's accounts, and who did what. */
export function AccountView() {
  const me = useSession().data?.me;
  const [params, change] = useAddress();
  if (!me) return null;
  const shown = me.may_administer ? (params.get("show") ?? "accounts") : "own";
  return (
    <>
      <div className={screen.top}>
        <h1>{me.name}</h1>
        <span>
          signs in as <b>{me.signs_in_as}</b>, {me.role}
        </span>
        {me.may_administer && (
          <ToggleButtonGroup
            exclusive
            value={shown}
            onChange={(_, next: string | null) => next && change({ show: next }, true)}
            aria-label="What is shown"
            className={styles.shown}
          >
            <ToggleButton value="accounts">Who may sign in</ToggleButton>
            <ToggleButton value="audit">Who did what</ToggleButton>
            <ToggleButton value="own">My password</ToggleButton>
          </ToggleButtonGroup>
        )}
      </div>
      {shown === "accounts" && <AccountsList />}
      {shown === "audit" && <AuditList />}
      {shown === "own" && <Own />}
    </>
  );
}

function Own() {
  return (
    <div className={styles.own}>
      <Password />
      <Sessions />
    </div>
  );
}

function Password() {
  const [now, setNow] = useState("");
  const [after, setAfter] = useState("");
  const change = useChangePassword();
  const done = () => {
    setNow("");
    setAfter("");
  };
  return (
    <form
      className={styles.part}
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate({ now, after }, { onSuccess: done });
      }}
    >
      <h2>Another password</h2>
      <TextField
        label="Present password"
        type="password"
        value={now}
        onChange={(e) => setNow(e.target.value)}
        autoComplete="current-password"
        required
      />
      <TextField
        label="New password"
        type="password"
        value={after}
        onChange={(e) => setAfter(e.target.value)}
        autoComplete="new-password"
        helperText="Eight signs or more, not only digits, and none that many people use. Your other sessions end."
        required
      />
      <Button type="submit" variant="contained" loading={change.isPending} disabled={!now || !after}>
        Change it
      </Button>
    </form>
  );
}

function Sessions() {
  const sessions = useOwnSessions();
  const end = useEndOthers();
  if (sessions.isError) return <Trouble error={sessions.error} again={() => sessions.refetch()} />;
  if (!sessions.data) return <Waiting what="your sessions" />;
  const others = sessions.data.filter((s) => !s.this).length;
  return (
    <section className={styles.part} aria-labelledby="sessions">
      <h2 id="sessions">Where you are signed in</h2>
      <ul className={styles.sessions}>
        {sessions.data.map((s) => (
          <li key={`${s.at} ${s.address}`}>
            {s.this ? <b>here</b> : "elsewhere"}, since {momentOf(s.at)}, from {s.address}
          </li>
        ))}
      </ul>
      <Button
        variant="outlined"
        color="inherit"
        disabled={others === 0}
        loading={end.isPending}
        onClick={() => end.mutate(undefined)}
      >
        {others === 0 ? "Nowhere else" : `End the ${others} other${others === 1 ? "" : "s"}`}
      </Button>
    </section>
  );
}
