import { useId } from "react";
import type { Schemas } from "../../api/client";
import styles from "../Clashes.module.css";
import { Outcome } from "./WayTold";

interface TaskChoiceProps {
  move: Schemas["TaskMoveOut"];
  chosen: boolean;
  onChange: (withTask: boolean) => void;
}

/** Whether the task moves along in the other programs, so that it keeps one shortcut everywhere. */
export function TaskChoice({ move, chosen, onChange }: TaskChoiceProps) {
  const name = useId();
  return (
    <fieldset className={styles.task} aria-label={`The task ${move.task}`}>
      <legend>
        <b>{move.task}</b> is a task that other programs have too.
      </legend>
      <label>
        <input type="radio" name={name} checked={!chosen} onChange={() => onChange(false)} />
        Only here
      </label>
      <label>
        <input
          type="radio"
          name={name}
          checked={chosen}
          disabled={move.moves.length === 0}
          onChange={() => onChange(true)}
        />
        {move.moves.length === 0 ? (
          "Nowhere else has it the old key."
        ) : (
          <>
            Move it in {new Intl.ListFormat("en-GB").format(move.moves.map((f) => f.program_name))} too
            <Outcome way={move.way} />
          </>
        )}
      </label>
      {move.stays.length > 0 && (
        <small>Stays: {move.stays.map((f) => `${f.program_name} ${f.why_not}`).join("; ")}.</small>
      )}
    </fieldset>
  );
}
