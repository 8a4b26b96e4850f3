import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { BothMade, contradictionsIn } from "../shared/BothMade";
import { useRights } from "../shared/useSession";
import { PlanTold } from "./PlanTold";
import styles from "./Standard.module.css";
import { useDraftPlan, useDrafts, useDropDraft, useKeepDraft, useTakeDraft } from "./useStandard";

interface DraftBarProps {
  draft: number | null;
  onDraft: (id: number | null) => void;
}

/** A what-if draft over many lines: held against the standard as it is, then taken over or dropped. */
export function DraftBar({ draft, onDraft }: DraftBarProps) {
  const drafts = useDrafts().data ?? [];
  const now = drafts.find((d) => d.id === draft) ?? null;
  if (!now) return null;
  return (
    <section className={styles.draft} aria-label="Draft">
      <div className={styles.how}>
        <b>{now.name}</b>
        <Acts key={now.id} id={now.id} name={now.name} onGone={() => onDraft(null)} />
      </div>
      <Told id={now.id} />
    </section>
  );
}

function Told({ id }: { id: number }) {
  const plan = useDraftPlan(id);
  return <PlanTold plan={plan.data} error={plan.error} withLines />;
}

function Acts({ id, name, onGone }: { id: number; name: string; onGone: () => void }) {
  const rights = useRights();
  const [called, setCalled] = useState(name);
  const keep = useKeepDraft(() => undefined);
  const take = useTakeDraft(id, onGone);
  const drop = useDropDraft();
  const both = contradictionsIn(take.error);
  if (!rights.edit) return null;
  return (
    <>
      <TextField label="Its name" value={called} onChange={(e) => setCalled(e.target.value)} sx={{ width: 180 }} />
      {called.trim() !== name && (
        <Button
          color="inherit"
          variant="outlined"
          disabled={!called.trim()}
          onClick={() => keep.mutate({ id, name: called, lines: [], family: false })}
        >
          Name it so
        </Button>
      )}
      <Button variant="contained" loading={take.isPending} onClick={() => take.mutate([])}>
        Take it over
      </Button>
      <Button
        color="inherit"
        onClick={() => {
          drop.mutate({ id, removed: true });
          onGone();
        }}
      >
        Drop it
      </Button>
      {both.length > 0 && (
        <BothMade by={take.error} found={both} editable={false} onChosen={(chosen) => take.mutate(chosen)} />
      )}
    </>
  );
}
