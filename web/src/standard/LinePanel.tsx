import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useCallback, useId, useMemo, useState } from "react";
import type { Schemas } from "../api/client";
import { Caps } from "../keyboard/Caps";
import type { Judgement } from "../keyboard/PressField";
import { PressField } from "../keyboard/PressField";
import { BothMade, contradictionsIn } from "../shared/BothMade";
import type { Lens } from "../shared/lens";
import { Trouble, Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import { DraftChoice } from "./DraftChoice";
import { Exceptions } from "./Exceptions";
import { PlanTold } from "./PlanTold";
import styles from "./Standard.module.css";
import type { LineIn, Standard, Task, Through } from "./useStandard";
import { usePlan, useRow, useSaveLines } from "./useStandard";
import { WhoHasWhat } from "./WhoHasWhat";

const OWN = "own";
const NONE = "none";
const KINDS: Record<string, string> = {
  free: "Easiest that is free everywhere",
  pressed: "What most people press today",
  programs: "What most programs have",
};

interface LinePanelProps {
  lens: Lens;
  data: Standard;
  task: Task;
  through: Through;
  /** The program whose cell was opened, or null for the line alone. */
  program: string | null;
  draft: number | null;
  onDraft: (id: number | null) => void;
  onClose: () => void;
}

/** Under a row: who has what, what the task could have, and what setting it would do before it is saved. */
export function LinePanel(props: LinePanelProps) {
  const { data, task, through, lens, program, onClose } = props;
  const row = useRow(task.id, through);
  const rights = useRights();
  const [key, setKey] = useState("");
  const [own, setOwn] = useState<Judgement["shortcut"] | null>(null);
  const [family, setFamily] = useState(false);
  const [layouts, setLayouts] = useState("");
  const [reason, setReason] = useState("");
  const name = useId();
  const onJudged = useCallback((j: Judgement | null) => setOwn(j?.shortcut ?? null), []);
  const save = useSaveLines(onClose);
  const keys = key === OWN ? (own?.text ?? "") : key;
  const lines = useMemo<LineIn[]>(
    () =>
      key === "" || (keys === "" && key !== NONE)
        ? []
        : [
            {
              task: task.id,
              platform: data.platform,
              layouts: layouts ? [layouts] : [],
              keys: key === NONE ? null : keys,
              reason,
            },
          ],
    [key, keys, layouts, reason, task.id, data.platform],
  );
  const asked = useMemo(() => lines.map((v) => ({ ...v, reason: "" })), [lines]);
  const plan = usePlan(asked, family, data.digest);
  if (row.isError) return <Trouble error={row.error} again={() => row.refetch()} />;
  if (!row.data || row.data.task !== task.id) return <Waiting what={task.name} />;
  const { choices, family: kin } = row.data;
  const now = task.line;
  const both = contradictionsIn(save.error);
  return (
    <div className={styles.panel}>
      <WhoHasWhat row={row.data} program={program} />
      <form
        className={styles.set}
        onSubmit={(event) => {
          event.preventDefault();
          if (lines.length) save.mutate({ lines, family, seen: data.digest, chosen: [] });
        }}
      >
        <fieldset className={styles.choices}>
          <legend>
            {now ? (
              <>
                {task.name} is <Caps shortcut={now.shortcut} />
                {now.layouts.length > 0 && ` for ${now.layouts.join(", ")}`}
                {now.owner && `, by ${now.owner}`}
                {now.since && `, since ${now.since}`}
                {now.reason && `: ${now.reason}`}
              </>
            ) : (
              `The standard says nothing of ${task.name} yet`
            )}
          </legend>
          {task.further.map((f) => (
            <p key={f.key} className={styles.quiet}>
              and <Caps shortcut={f.shortcut} /> {f.layouts.length ? `for ${f.layouts.join(", ")}` : "for all others"}
            </p>
          ))}
          {rights.edit &&
            choices.map((c) => (
              <label key={c.shortcut.text} className={styles.choice}>
                <input
                  type="radio"
                  name={name}
                  checked={key === c.shortcut.text}
                  onChange={() => setKey(c.shortcut.text)}
                />
                <Caps shortcut={c.shortcut} />
                <span>
                  {KINDS[c.kind]}
                  <small>{whyOf(c)}</small>
                </span>
              </label>
            ))}
          {rights.edit && (
            <label className={styles.choice}>
              <input type="radio" name={name} checked={key === OWN} onChange={() => setKey(OWN)} />
              <span>Another key</span>
            </label>
          )}
          {rights.edit && now && (
            <label className={styles.choice}>
              <input type="radio" name={name} checked={key === NONE} onChange={() => setKey(NONE)} />
              <span>No line for it any more</span>
            </label>
          )}
        </fieldset>
        {key === OWN && (
          <PressField
            label="The standard's key"
            setup={lens.setup.setup}
            program={null}
            scope={null}
            onJudged={onJudged}
            listening
          />
        )}
        {key !== "" && (
          <div className={styles.how}>
            {kin.length > 0 && key !== NONE && (
              <label className={styles.tick}>
                <input type="checkbox" checked={family} onChange={(e) => setFamily(e.target.checked)} />
                The whole family, {kin.join(", ")} too
              </label>
            )}
            <TextField
              select
              label="On keyboards"
              value={layouts}
              onChange={(e) => setLayouts(e.target.value)}
              sx={{ width: 150 }}
              slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            >
              <MenuItem value="">all of them</MenuItem>
              {data.layouts.map((id) => (
                <MenuItem key={id} value={id}>
                  {id} only
                </MenuItem>
              ))}
            </TextField>
            <TextField
              label="Why (kept with the line)"
              value={reason}
              onChange={(e) => setReason(e.target.value)}
              sx={{ width: 220 }}
            />
          </div>
        )}
        {lines.length > 0 && <PlanTold plan={plan.data} error={plan.error} />}
        {both.length > 0 && (
          <BothMade
            by={save.error}
            found={both}
            onChosen={(chosen) => save.mutate({ lines, family, seen: data.digest, chosen })}
          />
        )}
        {rights.edit && (
          <div className={styles.acts}>
            <Button
              type="submit"
              variant="contained"
              disabled={lines.length === 0 || plan.isError}
              loading={save.isPending}
            >
              Save the line
            </Button>
            <DraftChoice
              lines={lines}
              family={family}
              draft={props.draft}
              onDraft={props.onDraft}
              onKept={onClose}
              name={task.name}
            />
            <Button color="inherit" onClick={onClose}>
              Leave it
            </Button>
          </div>
        )}
      </form>
      <Exceptions data={data} task={task} row={row.data} program={program} />
    </div>
  );
}

function whyOf(choice: Schemas["KeyChoiceOut"]): string {
  const has = choice.kind === "free" ? "" : choice.programs.join(", ");
  const reach = choice.reach === null ? "" : `reach ${choice.reach}`;
  return [choice.kind === "free" ? choice.reasons.join(", ") : choice.reasons[0], has, reach]
    .filter(Boolean)
    .join("; ");
}
