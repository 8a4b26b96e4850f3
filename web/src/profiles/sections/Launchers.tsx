import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Empty } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import { Draft } from "./Draft";
import { ItemKeys } from "./ItemKeys";
import { KeyField } from "./KeyField";
import { idFrom, PLATFORMS } from "./parts";
import styles from "./Sections.module.css";
import type { Held, Wish } from "./useHeld";
import { useSaveItems } from "./useHeld";

/** What a key starts from anywhere: a program, a file or an address. */
export function Launchers({ held }: { held: Held }) {
  const rights = useRights();
  const may = rights.edit && !held.compiled;
  const save = useSaveItems(held.profile, "launchers");
  const [open, setOpen] = useState<Wish | null>(null);
  return (
    <>
      {held.launchers.length === 0 && (
        <Empty title={`${held.name} starts nothing by a key yet.`}>
          <p>A launcher is a command line with a key for each platform. A releaser approves what it runs.</p>
        </Empty>
      )}
      <ul className={styles.rows} aria-label="Launchers">
        {held.launchers.map((v) => (
          <li key={v.key}>
            <b>{v.name}</b>
            <div>
              <ItemKeys keys={v.keys} none="no key" />
              <p>
                Runs <code>{v.runs}</code>
              </p>
              {!v.approved && <p className={styles.needs}>A releaser approves it before it reaches anybody.</p>}
            </div>
            {may && (
              <span className={styles.buttons}>
                <Button size="small" color="inherit" onClick={() => setOpen({ key: v.key, item: v.item })}>
                  Change<span className="unseen"> {v.name}</span>
                </Button>
                <Button size="small" color="inherit" onClick={() => save.mutate([{ key: v.key, item: null }])}>
                  Take out<span className="unseen"> {v.name}</span>
                </Button>
              </span>
            )}
          </li>
        ))}
      </ul>
      {may && !open && (
        <p className={styles.form}>
          <span>
            <Button variant="outlined" onClick={() => setOpen({ key: null, item: {} })}>
              Add a launcher
            </Button>
          </span>
        </p>
      )}
      {open && <Form key={open.key ?? "new"} held={held} of={open} onLeave={() => setOpen(null)} />}
    </>
  );
}

interface FormProps {
  held: Held;
  of: Wish;
  onLeave: () => void;
}

function Form({ held, of, onLeave }: FormProps) {
  const was = of.item ?? {};
  const [name, setName] = useState(String(was.name ?? ""));
  const [runs, setRuns] = useState(String(was.runs ?? ""));
  const [keys, setKeys] = useState((was.shortcuts ?? {}) as Record<string, string[]>);
  const given = Object.fromEntries(Object.entries(keys).filter(([, own]) => own.length > 0));
  const taken = held.launchers.map((v) => v.key);
  const item = { id: was.id ?? idFrom(name, taken), name, runs, shortcuts: given };
  return (
    <section className={styles.form} aria-label="A launcher">
      <div className={styles.line}>
        <TextField label="Name" value={name} onChange={(e) => setName(e.target.value)} autoFocus />
        <span className={styles.long}>
          <TextField label="Command line" value={runs} onChange={(e) => setRuns(e.target.value)} fullWidth />
        </span>
      </div>
      <div className={styles.line}>
        {PLATFORMS.map((p) => (
          <KeyField
            key={p.id}
            label={`Key on ${p.name}`}
            platform={p.id}
            program={null}
            value={keys[p.id]?.[0] ?? ""}
            onChange={(text) => setKeys((old) => ({ ...old, [p.id]: text ? [text] : [] }))}
          />
        ))}
      </div>
      {name !== "" && runs !== "" ? (
        <Draft
          profile={held.profile}
          section="launchers"
          wishes={[{ key: of.key, item }]}
          onLeave={onLeave}
          onSaved={onLeave}
        />
      ) : (
        <div className={styles.bar}>
          <Button variant="outlined" color="inherit" onClick={onLeave}>
            Leave it as it was
          </Button>
        </div>
      )}
    </section>
  );
}
