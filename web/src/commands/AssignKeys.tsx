import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import { useCallback, useState } from "react";
import { Caps } from "../keyboard/Caps";
import type { Judgement } from "../keyboard/PressField";
import { PressField } from "../keyboard/PressField";
import { useAssign, usePlan } from "../programs/usePrograms";
import { LayerChoice } from "../shared/LayerChoice";
import { wordsOf } from "../shared/Says";
import { someOf } from "../shared/setupsInWords";
import { WorthTold } from "../shared/WorthTold";
import styles from "./Commands.module.css";
import { FreeKeys } from "./FreeKeys";
import type { CommandRow, FreeKey } from "./useCommands";
import { useValues } from "./useValues";

/** Gives a command another key, several, or none: told first, then done. */
export function AssignKeys({ row, through }: { row: CommandRow; through: string }) {
  const [judged, setJudged] = useState<Judgement | null>(null);
  const [looks, setLooks] = useState(false);
  const [picked, setPicked] = useState<FreeKey["keys"] | null>(null);
  const [reason, setReason] = useState("");
  const [keep, setKeep] = useState(false);
  const [layer, setLayer] = useState("");
  const onJudged = useCallback((j: Judgement | null) => {
    setJudged(j);
    if (j) setPicked(null);
  }, []);
  const fresh = picked?.text ?? (judged && judged.verdict !== "impossible" ? judged.shortcut.text : null);
  const risky = row.states.includes("risky");
  const wanted = fresh ? [...(keep ? row.keys.map((s) => s.text) : []), fresh] : null;
  const target = layer || null;
  const { values, fields, missing } = useValues(row);
  const of = { setup: row.setup, program: row.program, command: row.command, target, arguments: values };
  const given = wanted && !missing ? { ...of, shortcuts: wanted } : null;
  const plan = usePlan(given);
  const assign = useAssign();
  return (
    <div className={styles.assign}>
      {fields}
      <PressField label="Another key" setup={row.setup} program={row.program} scope={row.scope} onJudged={onJudged} />
      <Button color="inherit" aria-expanded={looks} onClick={() => setLooks(!looks)}>
        Free keys
      </Button>
      {looks && <FreeKeys row={row} through={through} onPick={setPicked} />}
      {picked && (
        <p role="status">
          Picked: <Caps shortcut={picked} />
        </p>
      )}
      <FormControlLabel
        control={<Switch checked={keep} onChange={(e) => setKeep(e.target.checked)} />}
        label="Keep the present one too"
        disabled={row.keys.length === 0}
      />
      <LayerChoice setup={row.setup} value={layer} onChange={setLayer} />
      {fresh && missing && <p role="status">{missing}</p>}
      {given && plan.isError && (
        <Alert severity="error" icon={false} variant="outlined">
          {wordsOf(plan.error).join(" ")}
        </Alert>
      )}
      {given && plan.data && <WorthTold worth={plan.data.worth} />}
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
      {risky && fresh && (
        <TextField
          label="It is risky: why it shall have a key"
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 600 } }}
          fullWidth
        />
      )}
      <div className={styles.do}>
        <Button
          variant="contained"
          disabled={!given || !plan.data || plan.data.entries === 0 || (risky && reason.trim().length < 3)}
          loading={assign.isPending}
          onClick={() => given && assign.mutate({ ...given, reason })}
        >
          Give it
        </Button>
        <Button
          variant="outlined"
          color="inherit"
          disabled={row.keys.length === 0}
          onClick={() => assign.mutate({ ...of, shortcuts: [] })}
        >
          Leave it without
        </Button>
      </div>
    </div>
  );
}
