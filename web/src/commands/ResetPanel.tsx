import Button from "@mui/material/Button";
import { useState } from "react";
import { Caps } from "../keyboard/Caps";
import { Consequences } from "../shared/Consequences";
import styles from "./Commands.module.css";
import { Foretold } from "./Foretold";
import type { ResetIn } from "./useCommands";
import { useReset, useResetPlan } from "./useCommands";

interface ResetPanelProps {
  given: ResetIn;
  what: string;
  onDone?: () => void;
}

const TO = ["what is beneath", "the default"] as const;

/** Takes what layers say away again: first what returns, what that clashes with and whom it surprises, then one press. */
export function ResetPanel({ given, what, onDone }: ResetPanelProps) {
  const [to, setTo] = useState<(typeof TO)[number] | null>(null);
  const asked = to ? { ...given, to } : null;
  const plan = useResetPlan(asked);
  const reset = useReset(() => {
    setTo(null);
    onDone?.();
  });
  return (
    <section className={styles.reset} aria-label={`Reset ${what}`}>
      <div className={styles.do}>
        {TO.map((one) => (
          <Button
            key={one}
            variant={to === one ? "contained" : "outlined"}
            color="inherit"
            aria-pressed={to === one}
            onClick={() => setTo(to === one ? null : one)}
          >
            Back to {one}
          </Button>
        ))}
      </div>
      {asked && plan.isError && <Consequences plan={undefined} error={plan.error} />}
      {asked && plan.data && (
        <>
          <ul className={styles.returns} aria-label="What returns">
            {plan.data.returns.map((r) => (
              <li key={r.id}>
                <span>
                  {r.name} in {r.program_name}
                </span>
                <Keys keys={r.before} /> <span>becomes</span> <Keys keys={r.after} />
              </li>
            ))}
            {plan.data.count > plan.data.returns.length && (
              <li>and {plan.data.count - plan.data.returns.length} more</li>
            )}
            {plan.data.unseen > 0 && <li>and {plan.data.unseen} that count elsewhere, as on another platform</li>}
          </ul>
          <Foretold plan={plan.data} />
          <Button
            variant="contained"
            disabled={plan.data.count + plan.data.unseen === 0}
            loading={reset.isPending}
            onClick={() => asked && reset.mutate(asked)}
          >
            Reset {plan.data.count === 1 ? what : `${plan.data.count} commands`}
          </Button>
        </>
      )}
    </section>
  );
}

function Keys({ keys }: { keys: Parameters<typeof Caps>[0]["shortcut"][] }) {
  return keys.length === 0 ? <i>no key</i> : keys.map((k) => <Caps key={k.words} shortcut={k} />);
}
