import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useState } from "react";
import { One } from "../../shared/fields";
import type { Draft } from "./draft";
import { newScopeId } from "./draft";
import styles from "./Making.module.css";
import type { Listed, Platform } from "./useCatalogue";
import { KINDS, PLATFORMS } from "./useCatalogue";

interface AboutProps {
  draft: Draft;
  disabled: boolean;
  onChange: (part: Partial<Draft>) => void;
}

/** The program itself: name, kind, platforms, and the scopes in which its commands are live. */
export function AboutProgram({ draft, disabled, onChange }: AboutProps) {
  return (
    <section className={styles.panel} aria-label="The program">
      <h2>The program</h2>
      <TextField
        label="Name"
        value={draft.name}
        disabled={disabled}
        onChange={(e) => onChange({ name: e.target.value })}
      />
      <TextField
        label="Told in a sentence"
        value={draft.description}
        disabled={disabled}
        multiline
        maxRows={4}
        onChange={(e) => onChange({ description: e.target.value })}
      />
      {draft.kind !== "system" && (
        <One
          label="Kind"
          value={draft.kind}
          choices={KINDS}
          disabled={disabled}
          onChange={(id) => onChange({ kind: id as Listed["kind"] })}
        />
      )}
      <ToggleButtonGroup
        value={draft.platforms}
        disabled={disabled}
        onChange={(_, next: Platform[]) => next.length > 0 && onChange({ platforms: next })}
        aria-label="Platforms"
      >
        {PLATFORMS.map((p) => (
          <ToggleButton key={p.id} value={p.id}>
            {p.name}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Scopes draft={draft} disabled={disabled} onChange={onChange} />
    </section>
  );
}

function Scopes({ draft, disabled, onChange }: AboutProps) {
  const [name, setName] = useState("");
  const root = draft.scopes.find((s) => !s.parent);
  const used = new Set(draft.rows.map((r) => r.scope));
  const parents = new Set(draft.scopes.map((s) => s.parent));
  const set = (id: string | null | undefined, part: Partial<Draft["scopes"][number]>) =>
    onChange({ scopes: draft.scopes.map((s) => (s.id === id ? { ...s, ...part } : s)) });
  return (
    <>
      <h3>Scopes</h3>
      <ul className={styles.scopes}>
        {draft.scopes.map((s) => (
          <li key={s.id}>
            <TextField
              label={
                s.parent ? `Scope inside ${draft.scopes.find((o) => o.id === s.parent)?.name}` : "Everywhere in it"
              }
              value={s.name}
              disabled={disabled}
              onChange={(e) => set(s.id, { name: e.target.value })}
            />
            <FormControlLabel
              control={
                <Switch
                  checked={s.takes_text ?? false}
                  disabled={disabled}
                  onChange={(e) => set(s.id, { takes_text: e.target.checked })}
                />
              }
              label="People type in it"
            />
            {s.parent && !disabled && !used.has(s.id ?? "") && !parents.has(s.id ?? "") && (
              <Button
                color="inherit"
                aria-label={`Take out the scope ${s.name}`}
                onClick={() => onChange({ scopes: draft.scopes.filter((o) => o.id !== s.id) })}
              >
                Take out
              </Button>
            )}
          </li>
        ))}
      </ul>
      {!disabled && (
        <form
          className={styles.acts}
          onSubmit={(event) => {
            event.preventDefault();
            if (!name.trim()) return;
            const id = newScopeId(
              name,
              draft.scopes.map((s) => s.id ?? ""),
            );
            onChange({
              scopes: [...draft.scopes, { id, name: name.trim(), parent: root?.id ?? null, takes_text: false }],
            });
            setName("");
          }}
        >
          <TextField label="Another scope" value={name} onChange={(e) => setName(e.target.value)} />
          <Button type="submit" variant="outlined" disabled={!name.trim()}>
            Add
          </Button>
        </form>
      )}
    </>
  );
}
