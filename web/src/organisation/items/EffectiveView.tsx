import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import type { CSSProperties } from "react";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Caps } from "../../keyboard/Caps";
import { Refusal } from "../../shared/Consequences";
import consequences from "../../shared/Consequences.module.css";
import { Waiting } from "../../shared/states";
import { useEffective, useWithout } from "../useOrganisation";
import styles from "./Items.module.css";

type Layer = Schemas["AppliedLayerOut"];
type Said = Schemas["SaidOut"];

/** What is set for a person at a machine: the layers as frames, why each applies, and every entry with where it came from. */
export function EffectiveView({ person }: { person: string }) {
  const [at, setAt] = useState({ setup: "", machine: "" });
  const found = useEffective(person, at.setup, at.machine);
  const [without, setWithout] = useState<string | null>(null);
  if (found.isError) return <Refusal error={found.error} />;
  if (!found.data) return <Waiting what="the settings" />;
  const { data } = found;
  const seat = `${data.machine}|${data.setup}`;
  return (
    <>
      <TextField
        select
        label="At"
        value={seat}
        onChange={(e) => {
          const [machine = "", setup = ""] = e.target.value.split("|");
          setAt({ machine, setup });
          setWithout(null);
        }}
      >
        {data.choices.map((c) => (
          <MenuItem key={`${c.machine}|${c.setup}`} value={`${c.machine}|${c.setup}`}>
            {c.machine_name}, {c.layout} keyboard
          </MenuItem>
        ))}
      </TextField>
      <p className={styles.note}>{data.setup_name}</p>
      <h3 className={styles.sub}>Layers, the nearest last</h3>
      <ol className={styles.frames} aria-label="Layers">
        {data.layers.map((layer, depth) => (
          <li key={layer.profile} className={styles.frame} style={{ "--depth": depth } as CSSProperties}>
            <div>
              <b>{layer.name}</b>
              <Button
                color="inherit"
                size="small"
                aria-expanded={without === layer.profile}
                onClick={() => setWithout(without === layer.profile ? null : layer.profile)}
              >
                What if not?
              </Button>
            </div>
            <small>
              applies {layer.because.join(", and ")}; {said(layer)}
            </small>
            {without === layer.profile && <Without setup={data.setup} layer={layer.profile} />}
          </li>
        ))}
      </ol>
      {data.programs
        .filter((p) => p.settings.length > 0)
        .map((p) => (
          <section key={p.program} aria-label={p.name}>
            <h3 className={styles.sub}>
              {p.name} {p.version}: {p.settings.length} set, {p.untouched} as it comes
            </h3>
            {p.settings.map((s) => (
              <div key={s.command} className={styles.setting}>
                <div>
                  <b>{s.name}</b>
                  <Keys said={s.now} />
                  <span className={styles.by}>{s.now.layer}</span>
                </div>
                {s.hid.length > 0 && (
                  <span className={styles.was}>hides {s.hid.map((h) => `${words(h)} (${h.layer})`).join(", ")}</span>
                )}
                {s.refused.map((r) => (
                  <span key={r.layer} className={styles.vain}>
                    {r.layer} asks for {words(r)} in vain: {r.why}
                  </span>
                ))}
              </div>
            ))}
          </section>
        ))}
    </>
  );
}

function said(layer: Layer): string {
  const parts = [layer.sets === 0 ? "sets nothing that holds" : `sets ${layer.sets}`];
  if (layer.locks > 0) parts.push(`locks ${layer.locks}`);
  if (layer.reserves.length > 0) parts.push(`reserves ${layer.reserves.join(" and ")}`);
  if (layer.vain > 0) parts.push(`asks for ${layer.vain} in vain`);
  return parts.join(", ");
}

function words(said: Said): string {
  return said.shortcuts.map((s) => s.words).join(" and ") || "no shortcut";
}

function Keys({ said }: { said: Said }) {
  if (said.shortcuts.length === 0) return <span className={styles.was}>no shortcut</span>;
  return (
    <>
      {said.shortcuts.map((s) => (
        <Caps key={s.text} shortcut={s} />
      ))}
    </>
  );
}

function Without({ setup, layer }: { setup: string; layer: string }) {
  const found = useWithout(setup, layer);
  if (found.isError) return <Refusal error={found.error} />;
  if (!found.data) return <small role="status">Working it out …</small>;
  const { commands, solves, makes } = found.data;
  return (
    <div className={consequences.told} role="status" style={{ display: "grid" }}>
      <span>{commands.length === 0 ? "Without it, every key would stay." : "Without it:"}</span>
      <ul>
        {commands.map((c) => (
          <li key={c}>{c}</li>
        ))}
        {solves.map((c) => (
          <li key={c}>Solves {c}</li>
        ))}
        {makes.map((c) => (
          <li key={c}>Makes {c}</li>
        ))}
      </ul>
    </div>
  );
}
