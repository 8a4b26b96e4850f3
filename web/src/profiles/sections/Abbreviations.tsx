import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Many, One } from "../../shared/fields";
import { Empty } from "../../shared/states";
import { WhenReady } from "./Draft";
import { ItemList } from "./ItemList";
import { idFrom } from "./parts";
import styles from "./Sections.module.css";
import type { Held, Wish } from "./useHeld";
import { useOffers } from "./useHeld";

const SET_OFF = [
  { id: "after a space or sign", name: "after a space or sign" },
  { id: "at once", name: "at once" },
  { id: "on a key", name: "on a key" },
];

/** Short forms that become texts while people type. */
export function Abbreviations({ held }: { held: Held }) {
  return (
    <ItemList
      held={held}
      section="abbreviations"
      label="Abbreviations"
      add="Add an abbreviation"
      items={held.abbreviations.map((a) => ({ ...a, name: a.short }))}
      empty={
        <Empty title={`${held.name} has no abbreviations yet.`}>
          <p>A short form becomes a text: a greeting, an address, a note with places to fill in.</p>
        </Empty>
      }
      head={(a) => <b>{a.short}</b>}
      body={(a) => (
        <>
          <p>{a.text}</p>
          <span className={styles.quiet}>
            Set off {a.set_off}
            {a.programs.length > 0 && `, in ${a.programs.join(", ")} only`}
            {a.filled.length > 0 && `; ${a.filled.join(", ")} filled in`}
          </span>
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
  const offers = useOffers().data ?? [];
  const was = of.item ?? {};
  const [short, setShort] = useState(String(was.short ?? ""));
  const [text, setText] = useState(String(was.text ?? ""));
  const [programs, setPrograms] = useState((was.programs as string[] | undefined) ?? []);
  const [setOff, setSetOff] = useState(String(was.set_off ?? "after a space or sign"));
  const [anyCase, setAnyCase] = useState(was.any_case === true);
  const taken = held.abbreviations.map((a) => a.key);
  const item = { id: was.id ?? idFrom(short, taken), short, text, programs, set_off: setOff, any_case: anyCase };
  return (
    <section className={styles.form} aria-label="An abbreviation">
      <div className={styles.line}>
        <span className={styles.field}>
          <TextField label="Short form" value={short} onChange={(e) => setShort(e.target.value)} autoFocus fullWidth />
        </span>
        <span className={styles.long}>
          <TextField
            label="Becomes"
            value={text}
            onChange={(e) => setText(e.target.value)}
            multiline
            maxRows={8}
            fullWidth
            helperText="{date}, {time} and {name} are put in; {caret} is where the caret stands; {ask: Berth} is filled in by people."
          />
        </span>
      </div>
      <div className={styles.line}>
        <span className={styles.field}>
          <One label="Set off" value={setOff} choices={SET_OFF} onChange={setSetOff} />
        </span>
        <span className={styles.long}>
          <Many label="In these programs, if not in all" value={programs} choices={offers} onChange={setPrograms} />
        </span>
        <FormControlLabel
          control={<Switch checked={anyCase} onChange={(e) => setAnyCase(e.target.checked)} />}
          label="Capitals set it off too"
        />
      </div>
      <WhenReady
        ready={short !== "" && text !== ""}
        profile={held.profile}
        section="abbreviations"
        wishes={[{ key: of.key, item }]}
        onLeave={onLeave}
        onSaved={onLeave}
      />
    </section>
  );
}
