import Button from "@mui/material/Button";
import { useState } from "react";
import { useNamed } from "../profiles/useProfiles";
import { Consequences } from "../shared/Consequences";
import { One } from "../shared/fields";
import styles from "./Commands.module.css";
import { Foretold } from "./Foretold";
import { useBring, useBringPlan } from "./useCommands";

interface BringPanelProps {
  through: string;
  rows: string[];
  onDone: () => void;
}

/** Brings the keys that layers give some commands into another layer: told first, then done. */
export function BringPanel({ through, rows, onDone }: BringPanelProps) {
  const profiles = useNamed().data ?? [];
  const [to, setTo] = useState("");
  const given = to ? { setup: through, rows, to } : null;
  const plan = useBringPlan(given);
  const bring = useBring(onDone);
  return (
    <section className={styles.reset} aria-label="Bring their keys into another layer">
      <One
        label="Their keys into the layer"
        value={to}
        choices={profiles}
        none="stay where they are"
        onChange={setTo}
      />
      {given && plan.isError && <Consequences plan={undefined} error={plan.error} />}
      {given && plan.data && (
        <>
          <Foretold plan={plan.data} />
          <Button
            variant="outlined"
            color="inherit"
            disabled={plan.data.count === 0}
            loading={bring.isPending}
            onClick={() => bring.mutate(given)}
          >
            Bring {plan.data.count} there
          </Button>
        </>
      )}
    </section>
  );
}
