import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import { useCallback, useState } from "react";
import { Caps } from "../keyboard/Caps";
import type { Judgement } from "../keyboard/PressField";
import { PressField } from "../keyboard/PressField";
import { LayerChoice } from "../shared/LayerChoice";
import { useLens } from "../shared/lens";
import { wordsOf } from "../shared/Says";
import { someOf } from "../shared/setupsInWords";
import { useRights } from "../shared/useSession";
import styles from "./Programs.module.css";
import type { Command, Program } from "./usePrograms";
import { useAssign, usePlan } from "./usePrograms";

/** A command's life (default, each layer, what holds), and giving it another shortcut. */
export function CommandPanel({ program, command }: { program: Program; command: Command }) {
  const [lens] = useLens();
  const setup = lens?.setup.setup ?? "";
  const rights = useRights();
  const [judged, setJudged] = useState<Judgement | null>(null);
  const [keep, setKeep] = useState(false);
  const onJudged = useCallback((j: Judgement | null) => setJudged(j), []);
  const fresh = judged && judged.verdict !== "impossible" ? judged.shortcut.text : null;
  const wanted = fresh ? [...(keep ? command.shortcuts.map((s) => s.text) : []), fresh] : null;
  const [layer, setLayer] = useState("");
  const target = layer || null;
  const given = wanted ? { setup, program: program.id, command: command.id, shortcuts: wanted, target } : null;
  const plan = usePlan(rights.edit ? given : null);
  const assign = useAssign();
  const fixed = command.grip === "fixed";
  const layers = [...command.hid].reverse();
  const original = layers[0];
  return (
    <div className={styles.panel}>
      <ol className={styles.life} aria-label="Where its shortcut comes from">
        {layers.map((l) => (
          <li key={l.layer} className={styles.hidden}>
            <span>{l.layer}</span>
            <span className={styles.caps}>
              {l.shortcuts.length === 0 ? "none" : l.shortcuts.map((s) => <Caps key={s.text} shortcut={s} />)}
            </span>
          </li>
        ))}
        <li>
          <span>
            <b>{command.layer}</b> holds
          </span>
          <span className={styles.caps}>
            {command.shortcuts.length === 0 ? "none" : command.shortcuts.map((s) => <Caps key={s.text} shortcut={s} />)}
          </span>
        </li>
      </ol>
      {command.source && (
        <p className={styles.source}>
          Its default was read in: {command.source === "likely" ? "no document; it is likely" : command.source}.
        </p>
      )}
      {command.shortcuts.map(
        (s) =>
          s.unreachable && (
            <p key={s.text}>
              Nobody can press {s.words} here: {s.unreachable}.
            </p>
          ),
      )}
      {fixed && <p>{program.name} keeps this press for itself; no setting changes it.</p>}
      {!fixed && !rights.edit && <p>Readers look; an editor gives shortcuts.</p>}
      {!fixed && rights.edit && (
        <div className={styles.assign}>
          <PressField
            label="New shortcut"
            setup={setup}
            program={program.id}
            scope={command.scope}
            onJudged={onJudged}
          />
          <FormControlLabel
            control={<Switch checked={keep} onChange={(e) => setKeep(e.target.checked)} />}
            label="Keep the present one too"
            disabled={command.shortcuts.length === 0}
          />
          <LayerChoice setup={setup} value={layer} onChange={setLayer} />
          {given && plan.isError && (
            <Alert severity="error" icon={false} variant="outlined">
              {wordsOf(plan.error).join(" ")}
            </Alert>
          )}
          {given && plan.data && (
            <p role="status">
              {plan.data.entries === 0
                ? "It has that already."
                : `${plan.data.people} people in ${someOf(plan.data.setups) || "no setup"} relearn it.`}{" "}
              {plan.data.solves.length > 0 && `Solves: ${plan.data.solves.join("; ")}. `}
              {plan.data.makes.length > 0 ? (
                <b className={styles.bad}>Makes: {plan.data.makes.join("; ")}.</b>
              ) : (
                <b className={styles.good}>Makes no clash.</b>
              )}
            </p>
          )}
          <div className={styles.do}>
            <Button
              variant="contained"
              disabled={!given || !plan.data || plan.data.entries === 0}
              loading={assign.isPending}
              onClick={() => given && assign.mutate(given)}
            >
              Give it
            </Button>
            <Button
              variant="outlined"
              color="inherit"
              disabled={command.shortcuts.length === 0}
              onClick={() => assign.mutate({ setup, program: program.id, command: command.id, shortcuts: [], target })}
            >
              Leave it without
            </Button>
            {original && (
              <Button
                variant="outlined"
                color="inherit"
                onClick={() =>
                  assign.mutate({
                    setup,
                    program: program.id,
                    command: command.id,
                    shortcuts: original.shortcuts.map((s) => s.text),
                    target,
                  })
                }
              >
                Back to the default key
              </Button>
            )}
          </div>
        </div>
      )}
    </div>
  );
}
