import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import type { Schemas } from "../../api/client";
import { One } from "../../shared/fields";
import { type Draft, REACHED_BY, type Row } from "./draft";
import styles from "./Making.module.css";

interface ChosenProps {
  rows: Row[];
  draft: Draft;
  tasks: Schemas["ListedTaskOut"][];
  kinds: string[];
  /** What shall be so of all of them; null takes them out. */
  onChange: (part: Partial<Row> | null) => void;
  onDone: () => void;
}

/** The rest of a command; of several, what they shall have together. */
export function ChosenPanel({ rows, draft, tasks, kinds, onChange, onDone }: ChosenProps) {
  const [first] = rows;
  if (!first) return null;
  const one = rows.length === 1;
  const same = <K extends keyof Row>(field: K): Row[K] | "" =>
    rows.every((r) => r[field] === first[field]) ? first[field] : "";
  const ways = Object.entries(REACHED_BY).map(([id, name]) => ({ id, name }));
  const told = same("reachedBy");
  if (told && !(told in REACHED_BY)) ways.push({ id: told, name: `${told} deep` });
  const pick = (
    label: string,
    field: "scope" | "kind" | "task" | "closes",
    choices: { id: string; name: string }[],
    none?: string,
  ) => (
    <One
      label={label}
      value={(same(field) as string | null) ?? ""}
      choices={choices}
      none={none ?? (one ? undefined : "as each has it")}
      onChange={(id) => onChange({ [field]: id || null })}
    />
  );
  return (
    <section className={styles.panel} aria-label={one ? first.name : `${rows.length} commands`}>
      <h2>{one ? first.name || "New command" : `${rows.length} commands`}</h2>
      {pick(
        "Live in",
        "scope",
        draft.scopes.map((s) => ({ id: s.id ?? s.name, name: s.name })),
      )}
      {pick("Task", "task", tasks, "no task")}
      {pick(
        "Kind",
        "kind",
        kinds.map((k) => ({ id: k, name: k })),
      )}
      <One
        label="Without a key it is reached by"
        value={told}
        choices={ways}
        none={one ? "nothing is said of it" : "as each has it"}
        onChange={(reachedBy) => onChange({ reachedBy })}
      />
      {!one && <TextField label="Group" value={same("group")} onChange={(e) => onChange({ group: e.target.value })} />}
      {one && (
        <>
          <TextField
            label="Told in a sentence"
            value={first.description}
            multiline
            maxRows={4}
            onChange={(e) => onChange({ description: e.target.value })}
          />
          <TextField
            label="Its name in other languages"
            value={first.names}
            placeholder="de = Speichern; fr = Enregistrer"
            helperText="As it stands on cards: de, en, fr or sv, an equals sign, the name."
            onChange={(e) => onChange({ names: e.target.value })}
          />
          <TextField
            label="Other words for it"
            value={first.otherWords}
            helperText="Several with semicolons between."
            onChange={(e) => onChange({ otherWords: e.target.value })}
          />
          <TextField label="What it opens" value={first.opens} onChange={(e) => onChange({ opens: e.target.value })} />
          {first.opens &&
            pick(
              "Closed again by",
              "closes",
              draft.rows.filter((r) => r.id).map((r) => ({ id: r.id as string, name: r.name })),
              "nothing",
            )}
          <TextField
            label="Arguments that a shortcut can give it"
            value={first.arguments}
            placeholder="by = 1, 5, 10; direction"
            helperText="A name, and behind an equals sign the values that it may have, or 1 to 99. In the name of the command: [by]."
            onChange={(e) => onChange({ arguments: e.target.value })}
          />
          {first.was.length > 0 && <p className={styles.was}>Was called {first.was.join(", ")} in files.</p>}
        </>
      )}
      <FormControlLabel
        control={
          <Switch checked={rows.every((r) => r.risky)} onChange={(e) => onChange({ risky: e.target.checked })} />
        }
        label="Risky: pressed by mistake, it does harm"
      />
      <FormControlLabel
        control={
          <Switch checked={rows.every((r) => r.retired)} onChange={(e) => onChange({ retired: e.target.checked })} />
        }
        label="Retired: not there any more"
      />
      <div className={styles.acts}>
        <Button variant="outlined" color="inherit" onClick={() => onChange(null)}>
          Take {one ? "it" : "them"} out
        </Button>
        <Button color="inherit" onClick={onDone}>
          Done
        </Button>
      </div>
    </section>
  );
}
