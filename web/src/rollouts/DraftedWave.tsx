import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import type { Named } from "../shared/fields";
import { Many, One } from "../shared/fields";
import styles from "./Rollouts.module.css";
import type { DraftWave } from "./useRollouts";
import { chosenBy, DAYS } from "./words";

const WAYS: Named[] = [
  { id: "setups", name: "one of every setup" },
  { id: "share", name: "a share of all" },
  { id: "department", name: "a department" },
  { id: "machines", name: "these machines" },
  { id: "rest", name: "everybody else" },
];

interface DraftedWaveProps {
  wave: DraftWave;
  number: number;
  departments: Named[];
  machines: Named[];
  onChange: (wave: DraftWave) => void;
  onGone?: () => void;
}

/** A wave on the drawing board: who is in it, what opens it, and when its machines may be written to. */
export function DraftedWave({ wave, number, departments, machines, onChange, onGone }: DraftedWaveProps) {
  const { chosen, gate, window } = wave;
  const hours = (label: string, value: number, least: number, most: number, set: (value: number) => void) => (
    <TextField
      label={label}
      type="number"
      value={value}
      onChange={(e) => set(Math.max(least, Math.min(most, Number(e.target.value) || 0)))}
      sx={{ width: 130 }}
    />
  );
  return (
    <fieldset className={styles.draft}>
      <legend>Wave {number + 1}</legend>
      <TextField
        label="Called"
        value={wave.name}
        onChange={(e) => onChange({ ...wave, name: e.target.value })}
        sx={{ width: 170 }}
        slotProps={{ htmlInput: { maxLength: 120 } }}
      />
      <div style={{ width: 180 }}>
        <One
          label="Who is in it"
          value={chosen.by}
          choices={WAYS}
          onChange={(by) => onChange(chosenBy(wave, by as typeof chosen.by, departments))}
        />
      </div>
      {chosen.by === "share" &&
        hours("Percent", chosen.share ?? 10, 1, 100, (share) => onChange({ ...wave, chosen: { ...chosen, share } }))}
      {chosen.by === "department" && (
        <div style={{ width: 220 }}>
          <One
            label="Department"
            value={chosen.department ?? ""}
            choices={departments}
            onChange={(department) => onChange({ ...wave, chosen: { ...chosen, department } })}
          />
        </div>
      )}
      {chosen.by === "machines" && (
        <div style={{ width: 360 }}>
          <Many
            label="Machines"
            value={chosen.machines ?? []}
            choices={machines}
            onChange={(ids) => onChange({ ...wave, chosen: { ...chosen, machines: ids } })}
          />
        </div>
      )}
      {onGone && (
        <Button color="inherit" onClick={onGone}>
          Take the wave out<span className="unseen"> of the plan: {wave.name}</span>
        </Button>
      )}
      {number > 0 && (
        <>
          <p>Opens when the wave before is done and</p>
          {hours("Hours of quiet", gate.quiet_hours, 0, 720, (quiet_hours) =>
            onChange({ ...wave, gate: { ...gate, quiet_hours } }),
          )}
          {hours("Stopped at most, %", gate.most_stopped, 0, 100, (most_stopped) =>
            onChange({ ...wave, gate: { ...gate, most_stopped } }),
          )}
          <FormControlLabel
            control={
              <Switch
                checked={!gate.drift}
                onChange={(e) => onChange({ ...wave, gate: { ...gate, drift: !e.target.checked } })}
              />
            }
            label="and nobody's own change waits"
          />
        </>
      )}
      <p>Its machines are written to</p>
      <div className={styles.days} role="group" aria-label={`Days of wave ${number + 1}`}>
        {DAYS.map((day, n) => (
          <button
            key={day}
            type="button"
            aria-pressed={window.days.includes(n)}
            onClick={() => {
              const days = window.days.includes(n) ? window.days.filter((d) => d !== n) : [...window.days, n].sort();
              onChange({ ...wave, window: { ...window, days } });
            }}
          >
            {day}
          </button>
        ))}
      </div>
      {hours("From hour", window.begins, 0, 23, (begins) => onChange({ ...wave, window: { ...window, begins } }))}
      {hours("Up to hour", window.ends, 1, 24, (ends) => onChange({ ...wave, window: { ...window, ends } }))}
      <TextField
        label="Not before"
        type="date"
        value={window.not_before ?? ""}
        onChange={(e) => onChange({ ...wave, window: { ...window, not_before: e.target.value || null } })}
        slotProps={{ inputLabel: { shrink: true } }}
      />
    </fieldset>
  );
}
