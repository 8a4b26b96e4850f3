import Alert from "@mui/material/Alert";
import type { Schemas } from "../api/client";
import { ProblemError } from "../api/client";
import styles from "./Consequences.module.css";
import { wordsOf } from "./Says";
import { WorthTold } from "./WorthTold";

/** Sentences, and the clashes in words (the first of them) and in number. */
export interface Told {
  told: string[];
  solves: string[];
  makes: string[];
  solved: number;
  made: number;
  worth?: Schemas["WorthOut"];
}

/** What a change would do, before it is made: sentences, and the clashes that it solves and makes. */
export function Consequences({ plan, error }: { plan: Told | undefined; error: unknown }) {
  if (error) return <Refusal error={error} />;
  if (!plan) return null;
  return (
    <div className={styles.told} role="status" aria-label="What it would do">
      {plan.told.map((t) => (
        <span key={t}>{t}</span>
      ))}
      {plan.worth && <WorthTold worth={plan.worth} />}
      <Clashes title={`Solves ${count(plan.solved)}`} says={plan.solves} all={plan.solved} />
      <Clashes title={`Makes ${count(plan.made)}`} says={plan.makes} all={plan.made} />
    </div>
  );
}

function count(number: number): string {
  if (number === 0) return "no clash.";
  return number === 1 ? "1 clash:" : `${number} clashes:`;
}

export function Clashes({ title, says, all }: { title: string; says: string[]; all: number }) {
  if (all === 0) return <span>{title}</span>;
  return (
    <div>
      {title}
      <ul>
        {says.map((s) => (
          <li key={s}>{s}</li>
        ))}
        {all > says.length && <li>and {all - says.length} more</li>}
      </ul>
    </div>
  );
}

/** A refusal with every fault and its place. */
export function Refusal({ error }: { error: unknown }) {
  const faults = error instanceof ProblemError ? error.problem.faults : undefined;
  const [title, ...more] = wordsOf(error);
  return (
    <Alert severity="error" icon={false} variant="outlined">
      <b>{title}</b>
      {faults && faults.length > 0 ? (
        <ul>
          {faults.map((f) => (
            <li key={`${f.place}${f.says}`}>
              {f.place && <code>{f.place}</code>} {f.says} {f.cure}
            </li>
          ))}
        </ul>
      ) : (
        more.map((m) => <div key={m}>{m}</div>)
      )}
    </Alert>
  );
}
