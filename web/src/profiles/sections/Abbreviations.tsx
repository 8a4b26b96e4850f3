import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Many, One } from "../../shared/fields";
import { Empty } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import { Draft } from "./Draft";
import { idFrom } from "./parts";
import styles from "./Sections.module.css";
import type { Held, Wish } from "./useHeld";
import { useOffers, useSaveItems } from "./useHeld";

const SET_OFF = [
  { id: "after a space or sign", name: "after a space or sign" },
  { id: "at once", name: "at once" },
  { id: "on a key", name: "on a key" },
];

/** Short forms that become texts while people type. */
export function Abbreviations({ held }: { held: Held }) {
  const rights = useRights();
  const may = rights.edit && !held.compiled;
  const save = useSaveItems(held.profile, "abbreviations");
  const [open, setOpen] = useState<Wish | null>(null);
  return (
    <>
      {held.abbreviations.length === 0 && (
        <Empty title={`${held.name} has no abbreviations yet.`}>
          <p>A short form becomes a text: a greeting, an address, a note with places to fill in.</p>
        </Empty>
      )}
      <ul className={styles.rows} aria-label="Abbreviations">
        {held.abbreviations.map((a) => (
          <li key={a.key}>
            <b>{a.short}</b>
            <div>
              <p>{a.text}</p>
              <span className={styles.quiet}>
                Set off {a.set_off}
                {a.programs.length > 0 && `, in ${a.programs.join(", ")} only`}
                {a.filled.length > 0 && `; ${a.filled.join(", ")} filled in`}
              </span>
            </div>
            {may && (
              <span className={styles.buttons}>
                <Button size="small" color="inherit" onClick={() => setOpen({ key: a.key, item: a.item })}>
                  Change<span className="unseen"> {a.short}</span>
                </Button>
                <Button size="small" color="inherit" onClick={() => save.mutate([{ key: a.key, item: null }])}>
                  Take out<span className="unseen"> {a.short}</span>
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
              Add an abbreviation
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
      {short !== "" && text !== "" ? (
        <Draft
          profile={held.profile}
          section="abbreviations"
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
