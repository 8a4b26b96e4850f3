import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { momentOf } from "../shared/days";
import { One } from "../shared/fields";
import { Trouble, Waiting } from "../shared/states";
import styles from "./Account.module.css";
import type { Account, RoleName } from "./useAccounts";
import { ROLES, useAccounts, useAddAccount, useChangeAccount, useEndSessions, useMakeLink } from "./useAccounts";

interface Handed {
  name: string;
  secret: string;
  hours: number;
}

/** Everybody who may sign in: added with a link to hand over, given another role, closed and opened again. */
export function AccountsList() {
  const accounts = useAccounts();
  const [handed, setHanded] = useState<Handed | null>(null);
  if (accounts.isError) return <Trouble error={accounts.error} again={() => accounts.refetch()} />;
  if (!accounts.data) return <Waiting what="the accounts" />;
  return (
    <>
      <AddAccount onLink={setHanded} />
      {handed && <HandOver {...handed} onClose={() => setHanded(null)} />}
      <ul className={styles.accounts} aria-label="Accounts">
        {accounts.data.map((a) => (
          <AccountRow key={a.id} account={a} onLink={setHanded} />
        ))}
      </ul>
    </>
  );
}

function AddAccount({ onLink }: { onLink: (handed: Handed) => void }) {
  const [name, setName] = useState("");
  const [signs, setSigns] = useState("");
  const [role, setRole] = useState<RoleName>("editor");
  const add = useAddAccount();
  return (
    <form
      className={styles.add}
      aria-label="Add somebody"
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate(
          { name, signs_in_as: signs, role },
          {
            onSuccess: (done) => {
              onLink({ name: done.account.name, ...done.link });
              setName("");
              setSigns("");
            },
          },
        );
      }}
    >
      <TextField label="What they are called" value={name} onChange={(e) => setName(e.target.value)} />
      <TextField
        label="Name to sign in with"
        value={signs}
        onChange={(e) => setSigns(e.target.value)}
        autoComplete="off"
        required
      />
      <One
        label="Role"
        value={role}
        choices={ROLES.map((r) => ({ id: r.id, name: `${r.name}: ${r.may}` }))}
        onChange={(id) => setRole(id as RoleName)}
      />
      <Button type="submit" variant="contained" disabled={!signs.trim()} loading={add.isPending}>
        Add
      </Button>
    </form>
  );
}

/** A link is told once; whoever is at this screen hands it over. */
function HandOver({ name, secret, hours, onClose }: Handed & { onClose: () => void }) {
  const address = `${window.location.origin}/link#${secret}`;
  const [copied, setCopied] = useState(false);
  return (
    <section className={styles.handed} aria-label={`Link for ${name}`}>
      <p>
        Hand this to <b>{name}</b>: it sets a password, once, within {hours} hours. It is shown only now.
      </p>
      <code>{address}</code>
      <span>
        <Button
          variant="outlined"
          color="inherit"
          onClick={() => {
            void navigator.clipboard?.writeText(address).then(() => setCopied(true));
          }}
        >
          {copied ? "Copied" : "Copy it"}
        </Button>
        <Button color="inherit" onClick={onClose}>
          It is handed over
        </Button>
      </span>
    </section>
  );
}

function AccountRow({ account, onLink }: { account: Account; onLink: (handed: Handed) => void }) {
  const change = useChangeAccount();
  const link = useMakeLink();
  const end = useEndSessions();
  const open = account.sessions.length;
  return (
    <li className={account.active ? "" : styles.closed}>
      <span>
        <b>{account.name}</b>
        <small>{account.signs_in_as}</small>
      </span>
      <One
        label={`Role of ${account.name}`}
        value={account.role}
        choices={ROLES.map((r) => ({ id: r.id, name: r.name }))}
        disabled={!account.active || change.isPending}
        onChange={(id) => change.mutate({ account, role: id as RoleName })}
      />
      <small>{standing(account)}</small>
      <span className={styles.acts}>
        {account.active && !account.me && (
          <Button
            color="inherit"
            aria-label={`New link for ${account.name}`}
            onClick={() => link.mutate(account, { onSuccess: (made) => onLink({ name: account.name, ...made }) })}
          >
            New link
          </Button>
        )}
        {open > 0 && !account.me && (
          <Button
            color="inherit"
            onClick={() => end.mutate(account)}
            aria-label={`End ${open} ${open === 1 ? "session" : "sessions"} of ${account.name}`}
          >
            End {open} {open === 1 ? "session" : "sessions"}
          </Button>
        )}
        <Button
          color="inherit"
          aria-label={`${account.active ? "Close account" : "Open account again"}: ${account.name}`}
          onClick={() => change.mutate({ account, active: !account.active })}
        >
          {account.active ? "Close account" : "Open account again"}
        </Button>
      </span>
    </li>
  );
}

/** How an account stands, in a few words. */
export function standing(account: Account): string {
  if (!account.active) return "may not sign in";
  const parts = [];
  if (account.waits) parts.push(`a link waits until ${momentOf(account.waits)}`);
  else if (!account.has_password) parts.push("has no password yet, and no link");
  const [newest] = account.sessions;
  if (newest) parts.push(`signed in since ${momentOf(newest.at)}`);
  else if (account.last) parts.push(`last here ${momentOf(account.last)}`);
  return parts.join("; ") || "never here yet";
}
