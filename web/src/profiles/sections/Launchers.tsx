import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Empty } from "../../shared/states";
import { WhenReady } from "./Draft";
import { ItemKeys } from "./ItemKeys";
import { ItemList } from "./ItemList";
import { KeyField } from "./KeyField";
import { idFrom, PLATFORMS } from "./parts";
import styles from "./Sections.module.css";
import type { Held, Wish } from "./useHeld";

/** What a key starts from anywhere: a program, a file or an address. */
export function Launchers({ held }: { held: Held }) {
  return (
    <ItemList
      held={held}
      section="launchers"
      label="Launchers"
      add="Add a launcher"
      items={held.launchers}
      empty={
        <Empty title={`${held.name} starts nothing by a key yet.`}>
          <p>A launcher is a command line with a key for each platform. A releaser approves what it runs.</p>
        </Empty>
      }
      head={(v) => <b>{v.name}</b>}
      body={(v) => (
        <>
          <ItemKeys keys={v.keys} none="no key" />
          <p>
            Runs <code>{v.runs}</code>
          </p>
          {!v.approved && <p className={styles.needs}>A releaser approves it before it reaches anybody.</p>}
        </>
      )}
      form={(of, onLeave) => <Form held={held} of={of} onLeave={onLeave} />}
    />
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
      <WhenReady
        ready={name !== "" && runs !== ""}
        profile={held.profile}
        section="launchers"
        wishes={[{ key: of.key, item }]}
        onLeave={onLeave}
        onSaved={onLeave}
      />
    </section>
  );
}
