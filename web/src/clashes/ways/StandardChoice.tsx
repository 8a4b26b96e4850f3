import type { ReactNode } from "react";
import { useId } from "react";
import { Link, useLocation } from "react-router";
import type { Schemas } from "../../api/client";
import { Caps } from "../../keyboard/Caps";
import { lensParts } from "../../shared/lens";
import { PlanTold } from "../../standard/PlanTold";
import { usePlan } from "../../standard/useStandard";
import styles from "../Clashes.module.css";
import type { Asked, Says } from "./useWays";

interface StandardChoiceProps {
  asked: Asked[];
  says: Says;
  /** Without it, what the standard says is told and nothing is asked. */
  onChange?: (says: Says) => void;
}

/** What may be said in the standard with a way out. */
export function offeredBy(asked: Asked[]): Says[] {
  const offered: Says[] = ["nothing"];
  if (asked.some((a) => a.could_be_let_off)) offered.push("exception");
  if (asked.some((a) => a.line)) offered.push("line");
  return offered.length > 1 ? offered : [];
}

/** Whether the standard moves too: it stays as it is, lets the program off, or says what the command gets. */
export function StandardChoice({ asked, says, onChange }: StandardChoiceProps) {
  const name = useId();
  const lens = lensParts(useLocation().search);
  const offered = onChange ? offeredBy(asked) : [];
  const programs = new Intl.ListFormat("en-GB").format([...new Set(asked.map((a) => a.program_name))]);
  const words: Record<Says, ReactNode> = {
    nothing: asked.some((a) => a.could_be_let_off) ? `Leave it; ${programs} differs from it` : "Leave it at that",
    exception: `Let ${programs} off, with the reason`,
    line: <NewLines asked={asked} />,
  };
  return (
    <fieldset className={styles.task} aria-label="The standard">
      {asked.map((a) => (
        <span key={`${a.task} ${a.program_name}`} className={styles.asked}>
          <Said asked={a} /> <Link to={{ pathname: "/standard", search: `?${lineOf(a, lens)}` }}>Its line</Link>
        </span>
      ))}
      {offered.map((choice) => (
        <label key={choice}>
          <input type="radio" name={name} checked={says === choice} onChange={() => onChange?.(choice)} />
          {words[choice]}
        </label>
      ))}
      {says === "line" && offered.includes("line") && (
        <LinesPlanned lines={asked.flatMap((a) => (a.line ? [a.line] : []))} />
      )}
    </fieldset>
  );
}

function Said({ asked }: { asked: Asked }) {
  const { says, name, state, program_name } = asked;
  if (says === null)
    return (
      <>
        The standard says nothing of <b>{name}</b>.
      </>
    );
  const told = (
    <>
      The standard has <Caps shortcut={says} /> for <b>{name}</b>
    </>
  );
  if (state === "agrees")
    return (
      <>
        {told}, and so has {program_name} then.
      </>
    );
  if (state === "excepted")
    return (
      <>
        {told}; {program_name} is let off.
      </>
    );
  if (state === "cannot")
    return (
      <>
        {told}, which {program_name} can't take.
      </>
    );
  return <>{told}.</>;
}

function NewLines({ asked }: { asked: Asked[] }) {
  return (
    <span>
      {asked.some((a) => a.says) ? "Set it to" : "Make it the standard:"}{" "}
      {asked.map(
        (a, n) =>
          a.line &&
          a.gets && (
            <span key={a.task}>
              {n > 0 && ", "}
              <Caps shortcut={a.gets} />
              {asked.length > 1 && ` for ${a.name}`}
            </span>
          ),
      )}
    </span>
  );
}

function LinesPlanned({ lines }: { lines: Schemas["LineIn"][] }) {
  const plan = usePlan(lines, false, "");
  return (
    <div className={styles.planned}>
      <PlanTold plan={plan.data} error={plan.error} />
    </div>
  );
}

function lineOf(asked: Asked, lens: string): URLSearchParams {
  const line = new URLSearchParams(lens);
  line.set("task", asked.task);
  return line;
}
