import Button from "@mui/material/Button";
import { ProblemError } from "../../api/client";
import { Refusal } from "../../shared/Consequences";
import { Would } from "../../shared/Would";
import styles from "./Sections.module.css";
import type { Plan, Wish } from "./useHeld";
import { useItemsPlan, useSaveItems } from "./useHeld";

const SHOWN = 3;

interface DraftProps {
  profile: string;
  section: string;
  wishes: Wish[];
  /** Of a shelf, the command that is put somewhere on purpose. */
  about?: string;
  /** Says more of the plan than its clashes. */
  more?: (plan: Plan) => React.ReactNode;
  onLeave: () => void;
  onSaved: () => void;
}

/** What a draft would do, told before it is saved; then saving it, or leaving all as it was. */
export function Draft({ profile, section, wishes, about = "", more, onLeave, onSaved }: DraftProps) {
  const plan = useItemsPlan(profile, section, wishes, about);
  const save = useSaveItems(profile, section, onSaved);
  if (wishes.length === 0) return null;
  return (
    <section className={styles.draft} aria-label="What it would do">
      {plan.isError ? (
        <Refused error={plan.error} />
      ) : (
        plan.data && (
          <>
            {more?.(plan.data)}
            {plan.data.told.map((t) => (
              <p key={t}>{t}</p>
            ))}
            {plan.data.waits.map((w) => (
              <p key={w} className={styles.needs}>
                {w}
              </p>
            ))}
            {plan.data.would.makes.slice(0, SHOWN).map((m) => (
              <p key={m} className={styles.needs}>
                {m}
              </p>
            ))}
            <Would would={plan.data.would} error={null} />
          </>
        )
      )}
      <div className={styles.bar}>
        <Button
          variant="contained"
          disabled={plan.isError || !plan.data}
          loading={save.isPending}
          onClick={() => save.mutate(wishes)}
        >
          Save it
        </Button>
        <Button variant="outlined" color="inherit" onClick={onLeave}>
          Leave it as it was
        </Button>
        <span>One undo takes it back. Nothing reaches machines before it is released.</span>
      </div>
    </section>
  );
}

interface WhenReadyProps extends DraftProps {
  ready: boolean;
  /** What is still wanted. */
  wants?: string;
}

/** A draft as soon as enough of it is said; until then only a way back. */
export function WhenReady({ ready, wants = "", ...draft }: WhenReadyProps) {
  if (ready) return <Draft {...draft} />;
  return (
    <div className={styles.bar}>
      <Button variant="outlined" color="inherit" onClick={draft.onLeave}>
        Leave it as it was
      </Button>
      <span>{wants}</span>
    </div>
  );
}

/** Why an item can't be so. There is one draft, so its places need no telling. */
function Refused({ error }: { error: unknown }) {
  const faults = error instanceof ProblemError ? error.problem.faults : undefined;
  if (!faults || faults.length === 0) return <Refusal error={error} />;
  return (
    <ul className={styles.refused} role="alert">
      {faults.map((f) => (
        <li key={`${f.place} ${f.says}`}>
          {f.says} {f.cure}
        </li>
      ))}
    </ul>
  );
}
