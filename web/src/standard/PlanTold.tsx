import { Refusal } from "../shared/Consequences";
import { WorthTold } from "../shared/WorthTold";
import { byPeople, plainly } from "./cells";
import styles from "./Standard.module.css";
import type { Plan } from "./useStandard";

const FEW = 4;

interface PlanToldProps {
  plan: Plan | undefined;
  error: unknown;
  /** The lines are told too, where it isn't plain from above which they are. */
  withLines?: boolean;
  whole?: boolean;
}

/** What a change of the standard would do: programs, people and what they relearn, clashes, coverage; in sentences. */
export function PlanTold({ plan, error, withLines = false, whole = false }: PlanToldProps) {
  if (error) return <Refusal error={error} />;
  if (!plan) return <p className={styles.quiet}>Working out what that would do …</p>;
  const few = whole ? 12 : FEW;
  return (
    <div className={styles.plan} role="status" aria-label="What it would do">
      {withLines && (
        <p>
          <b>{many(plan.lines.length, "line")}</b> {plan.lines.length === 1 ? "differs" : "differ"} from the standard as
          it is
          {plan.lines.length > 0 && plan.lines.length <= few && <>: {plan.lines.map(lineInWords).join("; ")}</>}.
        </p>
      )}
      {plan.programs.length > 0 ? (
        <p>
          Changes <b>{many(plan.entries, "entry", "entries")}</b> in {listed(plan.programs)}:{" "}
          <b>{plan.people} people</b> press something new.
        </p>
      ) : (
        <p>No program changes and nobody relearns anything.</p>
      )}
      {plan.stays.slice(0, few).map((s) => (
        <p key={`${s.program}${s.task}${s.why}`}>
          {s.program} won't follow{withLines ? ` with ${s.task}` : ""} ({s.people} people): {s.why}.
        </p>
      ))}
      {plan.stays.length > few && <p>{plan.stays.length - few} more won't follow.</p>}
      {plan.broken.length > 0 && (
        <p className={styles.warns}>
          {listed(plan.broken)} {plan.broken.length === 1 ? "keeps" : "keep"} one shape no longer.
        </p>
      )}
      <WorthTold worth={plan.worth} />
      {plan.learners.length > 0 && (
        <details>
          <summary>Who relearns what</summary>
          <ul>
            {plan.learners.slice(0, few * 2).map((who) => (
              <li key={who.setups.join()}>
                <b>{who.people} people</b>:{" "}
                {who.relearn
                  .slice(0, 6)
                  .map((r) => `${r.command} in ${r.program}, ${r.before || "no key"} to ${r.after || "no key"}`)
                  .join("; ")}
                {who.relearn.length > 6 && ` and ${who.relearn.length - 6} more`}
              </li>
            ))}
            {plan.learners.length > few * 2 && <li>and {plan.learners.length - few * 2} more groups of people</li>}
          </ul>
        </details>
      )}
      <Clashes title="Would clash" says={plan.makes} none="Nothing would clash." few={few} />
      {plan.solves.length > 0 && <Clashes title="Would be solved" says={plan.solves} none="" few={few} />}
      <p>
        Once released, agreement goes from {plainly(plan.before)} to <b>{plainly(plan.after)}</b>, by people from{" "}
        {byPeople(plan.before)} to <b>{byPeople(plan.after)}</b>.
      </p>
    </div>
  );
}

function Clashes({ title, says, none, few }: { title: string; says: string[]; none: string; few: number }) {
  if (says.length === 0) return <p>{none}</p>;
  return (
    <details open={says.length <= few}>
      <summary>
        {title}: {says.length}
      </summary>
      <ul>
        {says.slice(0, few * 3).map((s) => (
          <li key={s}>{s}</li>
        ))}
        {says.length > few * 3 && <li>and {says.length - few * 3} more</li>}
      </ul>
    </details>
  );
}

function lineInWords(line: Plan["lines"][number]): string {
  const where = line.layouts.length ? ` (${line.layouts.join(", ")})` : "";
  return `${line.name}${where} ${line.before || "no key"} to ${line.after || "no key"}`;
}

export function many(n: number, one: string, several = `${one}s`): string {
  return `${n} ${n === 1 ? one : several}`;
}

function listed(names: string[]): string {
  return new Intl.ListFormat("en-GB").format(names);
}
