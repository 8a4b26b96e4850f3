import Button from "@mui/material/Button";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { One } from "../../shared/fields";
import { Empty } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import { Draft } from "./Draft";
import styles from "./Sections.module.css";
import type { Held } from "./useHeld";
import { useOffering, useOffers, useSaveItems } from "./useHeld";

type Place = Schemas["PreferencePlaceOut"];
type Value = boolean | number | string;

/** Settings of programs that belong to how people work: set in layers like keys, and locked likewise. */
export function Preferences({ held }: { held: Held }) {
  const rights = useRights();
  const may = rights.edit && !held.compiled;
  const save = useSaveItems(held.profile, "preferences");
  const programs = [...new Set(held.preferences.map((p) => p.program_name))];
  return (
    <>
      {held.preferences.length === 0 && (
        <Empty title={`${held.name} sets no preference yet.`}>
          <p>Text size, theme, form of dates: what a program lets people set beside keys.</p>
        </Empty>
      )}
      {programs.map((name) => (
        <section key={name} aria-label={name}>
          <h3 className={styles.form}>{name}</h3>
          <ul className={styles.rows} aria-label={`Preferences of ${name}`}>
            {held.preferences
              .filter((p) => p.program_name === name)
              .map((p) => (
                <li key={p.key}>
                  <b>{p.name}</b>
                  <span>
                    {p.value}{" "}
                    <span className={styles.quiet}>
                      instead of {p.default || "nothing"}
                      {p.platform_name && `, on ${p.platform_name} only`}
                    </span>
                    {p.lost && <p className={styles.lost}>{p.lost}.</p>}
                  </span>
                  {may && (
                    <span className={styles.buttons}>
                      <Switch
                        checked={p.locked}
                        onChange={() => save.mutate([{ key: p.key, item: { ...p.item, locked: !p.locked } }])}
                        slotProps={{
                          input: { "aria-label": `Nearer layers can't change ${p.name} in ${p.program_name}` },
                        }}
                      />
                      <span className={styles.quiet}>{p.locked ? "locked" : "nearer layers may change it"}</span>
                      <Button size="small" color="inherit" onClick={() => save.mutate([{ key: p.key, item: null }])}>
                        Take out<span className="unseen"> {p.name}</span>
                      </Button>
                    </span>
                  )}
                </li>
              ))}
          </ul>
        </section>
      ))}
      {may && <SetPreference held={held} />}
    </>
  );
}

function SetPreference({ held }: { held: Held }) {
  const offers = useOffers().data?.filter((o) => o.has.includes("preferences")) ?? [];
  const [program, setProgram] = useState("");
  const offering = useOffering(program).data;
  const [preference, setPreference] = useState("");
  const place = offering?.preferences.find((p) => p.id === preference);
  const stands = held.preferences.find(
    (p) => p.item.program === program && p.item.preference === preference && !p.item.platform,
  );
  const [value, setValue] = useState<Value | null>(null);
  const now = value ?? (stands?.item.value as Value | undefined) ?? place?.default ?? "";
  const leave = () => {
    setPreference("");
    setValue(null);
  };
  if (offers.length === 0) return <p className={styles.form}>No program here says what people can set in it.</p>;
  return (
    <section className={styles.form} aria-label="Set a preference">
      <h3>Set a preference</h3>
      <div className={styles.line}>
        <span className={styles.field}>
          <One
            label="Program"
            value={program}
            choices={offers}
            onChange={(next) => {
              leave();
              setProgram(next);
            }}
          />
        </span>
        {offering && (
          <span className={styles.wide}>
            <One
              label="Preference"
              value={preference}
              choices={offering.preferences}
              onChange={(next) => {
                setValue(null);
                setPreference(next);
              }}
            />
          </span>
        )}
        {place && <ValueField place={place} value={now} onChange={setValue} />}
      </div>
      {place && (
        <p className={styles.quiet}>
          The maker ships {place.said || "nothing"}
          {place.in_a_file ? "; it stands in the settings file." : "; no settings file has it, so it is set by hand."}
        </p>
      )}
      {place && value !== null && (
        <Draft
          profile={held.profile}
          section="preferences"
          wishes={[
            {
              key: stands?.key ?? null,
              item: { ...(stands?.item ?? {}), program, preference, value },
            },
          ]}
          onLeave={leave}
          onSaved={leave}
        />
      )}
    </section>
  );
}

interface ValueFieldProps {
  place: Place;
  value: Value;
  onChange: (value: Value) => void;
}

function ValueField({ place, value, onChange }: ValueFieldProps) {
  if (place.kind === "yes or no") {
    const choices = [
      { id: "yes", name: "yes" },
      { id: "no", name: "no" },
    ];
    return (
      <span className={styles.field}>
        <One
          label={place.name}
          value={value === true ? "yes" : "no"}
          choices={choices}
          onChange={(v) => onChange(v === "yes")}
        />
      </span>
    );
  }
  if (place.kind === "choice") {
    const choices = place.choices.map((c) => ({ id: c, name: c }));
    return (
      <span className={styles.field}>
        <One label={place.name} value={String(value)} choices={choices} onChange={onChange} />
      </span>
    );
  }
  if (place.kind === "number") {
    const between = [place.least, place.most].some((v) => v !== null);
    return (
      <TextField
        label={place.name}
        type="number"
        value={String(value)}
        onChange={(e) => onChange(e.target.value === "" ? "" : Number(e.target.value))}
        helperText={`${between ? `${place.least ?? "…"} to ${place.most ?? "…"} ` : ""}${place.unit}`}
        slotProps={{ htmlInput: { min: place.least ?? undefined, max: place.most ?? undefined, step: 1 } }}
      />
    );
  }
  return (
    <TextField
      label={place.name}
      value={String(value)}
      onChange={(e) => onChange(e.target.value)}
      helperText={place.kind === "date form" ? "D, M and Y with signs between them" : ""}
    />
  );
}
