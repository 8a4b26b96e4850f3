import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { One } from "../../shared/fields";
import { Empty } from "../../shared/states";
import { WhenReady } from "./Draft";
import { ItemKeys } from "./ItemKeys";
import { ItemList } from "./ItemList";
import { KeyField } from "./KeyField";
import { idFrom, moved, usePlatform } from "./parts";
import styles from "./Sections.module.css";
import { AddCommand } from "./Shelves";
import type { Held, Wish } from "./useHeld";
import { useOffering, useOffers } from "./useHeld";

type Step = Record<string, unknown>;
const WHERE: Record<string, string> = {
  document: "in a document",
  person: "with the person",
  machine: "with the machine",
};

/** Named steps with a key; each read as sentences. */
export function Macros({ held }: { held: Held }) {
  return (
    <ItemList
      held={held}
      section="macros"
      label="Macros"
      add="Add a macro"
      items={held.macros}
      empty={
        <Empty title={`${held.name} has no macros yet.`}>
          <p>A macro does several things one after another at one key, in a program that has macros.</p>
        </Empty>
      }
      head={(m) => (
        <>
          <b>{m.name}</b>
          <br />
          <span className={styles.quiet}>{m.program_name}</span>
        </>
      )}
      body={(m) => (
        <>
          <ItemKeys keys={m.keys} none="no key" />
          <ol>
            {m.steps.map((s, n) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a step may stand there twice
              <li key={n}>{s}</li>
            ))}
          </ol>
          <span className={styles.quiet}>
            Kept {m.kept}, replayed {m.replay}.
          </span>
          {m.lost && <p className={styles.lost}>{m.lost}.</p>}
          {!m.approved && <p className={styles.needs}>A releaser approves it before it reaches anybody.</p>}
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
  const offers = useOffers().data?.filter((o) => o.has.includes("macros")) ?? [];
  const [program, setProgram] = useState(String(was.program ?? ""));
  const offering = useOffering(program).data;
  const platform = usePlatform(offering?.platforms.map((p) => p.id) ?? []);
  const [name, setName] = useState(String(was.name ?? ""));
  const [steps, setSteps] = useState<Step[]>((was.steps as Step[] | undefined) ?? []);
  const [kept, setKept] = useState(String(was.kept ?? "person"));
  const [documentName, setDocumentName] = useState(String(was.document ?? ""));
  const [replay, setReplay] = useState(String(was.replay ?? "from the caret"));
  const stood = (was.shortcuts ?? {}) as Record<string, string[]>;
  const [key, setKey] = useState(String(stood[platform]?.[0] ?? ""));
  const rules = offering?.macros;
  const keptIn = rules && !rules.kept_in.includes(kept as "person") ? (rules.kept_in[0] ?? kept) : kept;
  const replayed = rules && !rules.replay.includes(replay as "from the caret") ? (rules.replay[0] ?? replay) : replay;
  const shortcuts = { ...stood, [platform]: key ? [key] : [] };
  if (!key) delete shortcuts[platform];
  const item = {
    program,
    id:
      was.id ??
      idFrom(
        name,
        held.macros.map((m) => String(m.item.id)),
      ),
    name,
    steps,
    kept: keptIn,
    document: keptIn === "document" ? documentName || undefined : undefined,
    replay: replayed,
    shortcuts,
  };
  const ready = program !== "" && name !== "" && steps.length > 0 && (keptIn !== "document" || documentName !== "");
  return (
    <section className={styles.form} aria-label="A macro">
      <div className={styles.line}>
        <span className={styles.field}>
          <One label="Program" value={program} choices={offers} onChange={setProgram} disabled={of.key !== null} />
        </span>
        <TextField label="Name" value={name} onChange={(e) => setName(e.target.value)} autoFocus={of.key !== null} />
        {rules && (
          <>
            <span className={styles.field}>
              <One
                label="Kept"
                value={keptIn}
                choices={rules.kept_in.map((k) => ({ id: k, name: WHERE[k] ?? k }))}
                onChange={setKept}
              />
            </span>
            {keptIn === "document" && (
              <TextField
                label="Which document"
                value={documentName}
                onChange={(e) => setDocumentName(e.target.value)}
              />
            )}
            <span className={styles.field}>
              <One
                label="Replayed"
                value={replayed}
                choices={rules.replay.map((r) => ({ id: r, name: r }))}
                onChange={setReplay}
              />
            </span>
          </>
        )}
      </div>
      {offering && (
        <>
          <Steps steps={steps} offering={offering.commands} program={program} platform={platform} onChange={setSteps} />
          <KeyField label="Its key" platform={platform} program={program} value={key} onChange={setKey} />
        </>
      )}
      <WhenReady
        ready={ready}
        wants="A macro wants a program, a name and a step at least."
        profile={held.profile}
        section="macros"
        wishes={[{ key: of.key, item }]}
        onLeave={onLeave}
        onSaved={onLeave}
      />
    </section>
  );
}

interface StepsProps {
  steps: Step[];
  offering: { id: string; name: string }[];
  program: string;
  platform: string;
  onChange: (steps: Step[]) => void;
}

/** The steps in their order; new ones run a command, type a text, or press keys. */
function Steps({ steps, offering, program, platform, onChange }: StepsProps) {
  const [text, setText] = useState("");
  const [keys, setKeys] = useState("");
  const [turn, setTurn] = useState(0);
  const say = (s: Step) => {
    if (s.types !== undefined) return `Type “${s.types}”`;
    if (s.presses !== undefined) return `Press ${Array.isArray(s.presses) ? s.presses.join(" then ") : s.presses}`;
    return `Run ${offering.find((c) => c.id === s.runs)?.name ?? s.runs}`;
  };
  const move = (at: number, by: number) => {
    if (at + by >= 0 && at + by < steps.length) onChange(moved(steps, at, at + by));
  };
  return (
    <>
      <ol className={styles.lines} aria-label="Steps">
        {steps.map((s, n) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a step may stand there twice
          <li key={n}>
            <span>
              {n + 1}. {say(s)}
            </span>
            <span className={styles.buttons}>
              <Button size="small" color="inherit" aria-label={`Step ${n + 1} up`} onClick={() => move(n, -1)}>
                ↑
              </Button>
              <Button size="small" color="inherit" aria-label={`Step ${n + 1} down`} onClick={() => move(n, 1)}>
                ↓
              </Button>
              <Button size="small" color="inherit" onClick={() => onChange(steps.filter((_, at) => at !== n))}>
                Take out<span className="unseen"> step {n + 1}</span>
              </Button>
            </span>
          </li>
        ))}
      </ol>
      <div className={styles.line}>
        <AddCommand commands={offering} onAdd={(command) => onChange([...steps, { runs: command }])} />
        <TextField
          label="Or type a text"
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Enter" && text) {
              e.preventDefault();
              onChange([...steps, { types: text }]);
              setText("");
            }
          }}
        />
        <KeyField
          key={turn}
          label="Or press keys"
          platform={platform}
          program={program}
          value={keys}
          onChange={setKeys}
        />
        {keys && (
          <Button
            variant="outlined"
            onClick={() => {
              onChange([...steps, { presses: keys.includes(" then ") ? keys.split(" then ") : keys }]);
              setKeys("");
              setTurn(turn + 1);
            }}
          >
            Add this press
          </Button>
        )}
      </div>
    </>
  );
}
