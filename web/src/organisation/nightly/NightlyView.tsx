import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { momentOf } from "../../shared/days";
import { One } from "../../shared/fields";
import screen from "../../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import { useOrganisation } from "../useOrganisation";
import styles from "./Nightly.module.css";
import { SentLists, WaitingList } from "./SentLists";
import { STATES } from "./states";
import type { Kind, Sender } from "./useNightly";
import { KINDS, useMakeToken, useRevoke, useSenders } from "./useNightly";

/** Lists that other systems send by themselves: what came, what was taken, what waits for a yes, and who may send. */
export function NightlyView() {
  const rights = useRights();
  const senders = useSenders();
  const [made, setMade] = useState<Schemas["SenderMadeOut"] | null>(null);
  if (!rights.edit) return <Trouble error={new Error("Nightly lists are for editors.")} again={() => undefined} />;
  if (senders.isError) return <Trouble error={senders.error} again={() => senders.refetch()} />;
  if (!senders.data) return <Waiting what="the nightly lists" />;
  const waiting = senders.data.filter((s) => s.waiting > 0).length;
  return (
    <div className={styles.screen}>
      <div className={screen.top}>
        <h1>Nightly lists</h1>
        <span>
          {waiting > 0 ? (
            <b>{waiting === 1 ? "One waits for your yes." : `${waiting} wait for your yes.`}</b>
          ) : (
            "Nothing waits for you."
          )}{" "}
          What changes more than a tenth of its rows, or breaks a rule, is never taken unseen.
        </span>
      </div>
      {rights.administer && <MakeToken onMade={setMade} />}
      {made && <HandOver made={made} onClose={() => setMade(null)} />}
      {senders.data.length === 0 && (
        <Empty title="No system sends lists yet.">
          <p>
            {rights.administer
              ? "Make a token for the system that knows your people, your machines or the commands of a program. It sends its list every night, and Amber Key takes what is usual."
              : "An administrator makes a token for the system that knows your people or machines. Until then, bring lists in under People and Machines."}
          </p>
        </Empty>
      )}
      <ul className={styles.senders} aria-label="Who sends lists">
        {senders.data.map((s) => (
          <SenderRow key={s.id} sender={s} />
        ))}
      </ul>
    </div>
  );
}

function MakeToken({ onMade }: { onMade: (made: Schemas["SenderMadeOut"]) => void }) {
  const [name, setName] = useState("");
  const [kind, setKind] = useState<Kind>("people");
  const [program, setProgram] = useState("");
  const programs = useOrganisation().data?.programs.filter((p) => p.kind !== "system") ?? [];
  const make = useMakeToken((made) => {
    onMade(made);
    setName("");
  });
  const ready = name.trim() !== "" && (kind !== "commands" || program !== "");
  return (
    <form
      className={styles.make}
      aria-label="Make a token"
      onSubmit={(event) => {
        event.preventDefault();
        if (ready) make.mutate({ name: name.trim(), kind, program: kind === "commands" ? program : "", platforms: [] });
      }}
    >
      <TextField label="What sends it" value={name} onChange={(e) => setName(e.target.value)} autoComplete="off" />
      <One label="A list of" value={kind} choices={KINDS} onChange={(id) => setKind(id as Kind)} />
      {kind === "commands" && <One label="Program" value={program} choices={programs} onChange={setProgram} />}
      <Button type="submit" variant="outlined" disabled={!ready} loading={make.isPending}>
        Make a token
      </Button>
    </form>
  );
}

/** A token is told once, with the line that sends a list with it. */
function HandOver({ made, onClose }: { made: Schemas["SenderMadeOut"]; onClose: () => void }) {
  const [copied, setCopied] = useState(false);
  const { kind, name } = made.sender;
  const line = `amberkey send ${kind} FILE --server ${window.location.origin} --token-file TOKEN`;
  return (
    <section className={styles.handed} aria-label={`Token of ${name}`}>
      <p>
        The token of <b>{name}</b>, shown only now. Keep it in a file that only the sending account can read:
      </p>
      <code>{made.token}</code>
      <p>
        Then send every night: <code>{line}</code>
      </p>
      <span>
        <Button
          variant="outlined"
          color="inherit"
          onClick={() => void navigator.clipboard?.writeText(made.token).then(() => setCopied(true))}
        >
          {copied ? "Copied" : "Copy the token"}
        </Button>
        <Button color="inherit" onClick={onClose}>
          It is kept
        </Button>
      </span>
    </section>
  );
}

function SenderRow({ sender }: { sender: Sender }) {
  const rights = useRights();
  const [open, setOpen] = useState(false);
  const revoke = useRevoke();
  const { newest } = sender;
  const headings = Object.entries(sender.headings);
  return (
    <li className={sender.revoked_at ? styles.revoked : ""}>
      <div className={styles.sender}>
        <span>
          <b>{sender.name}</b>
          <small>
            {sender.kind}
            {sender.program_name && ` of ${sender.program_name}`}
            {sender.revoked_at && `, revoked ${momentOf(sender.revoked_at)}`}
          </small>
        </span>
        <Nights states={sender.states} />
        <span className={styles.newest}>
          {newest ? (
            <>
              {STATES[newest.state].says} <time dateTime={newest.at}>{momentOf(newest.at)}</time>
              {newest.state !== "waiting" && newest.says && <small>{newest.says}</small>}
            </>
          ) : (
            "Nothing was sent yet."
          )}
        </span>
        <span className={styles.acts}>
          {newest && (
            <Button color="inherit" aria-expanded={open} onClick={() => setOpen(!open)}>
              {open ? "Fold it" : "What came"}
            </Button>
          )}
          {rights.administer && !sender.revoked_at && (
            <Button
              color="inherit"
              title="The token works no more; what was sent stays"
              loading={revoke.isPending}
              onClick={() => revoke.mutate(sender)}
            >
              Revoke<span className="unseen"> {sender.name}</span>
            </Button>
          )}
        </span>
      </div>
      {newest?.state === "waiting" && <WaitingList sent={newest} />}
      {open && (
        <>
          {headings.length > 0 && (
            <p className={styles.note}>
              Its headings are read so: {headings.map(([head, column]) => `${head} as ${column}`).join(", ")}.
            </p>
          )}
          <SentLists sender={sender} />
        </>
      )}
    </li>
  );
}

/** The last lists of a sender as a row of marks, the newest at the right. */
function Nights({ states }: { states: Sender["states"] }) {
  const counts = new Map<string, number>();
  for (const s of states) counts.set(s, (counts.get(s) ?? 0) + 1);
  const said = [...counts].map(([s, n]) => `${n} ${STATES[s as keyof typeof STATES].noun}`).join(", ");
  return (
    <span className={styles.nights} role="img" aria-label={said ? `The last ones: ${said}` : "None yet"} title={said}>
      {states.map((s, n) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: marks have nothing else that tells them apart
        <i key={n} className={styles[STATES[s].mark]} />
      ))}
    </span>
  );
}
