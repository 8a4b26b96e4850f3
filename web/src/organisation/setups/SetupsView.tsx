import Button from "@mui/material/Button";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import screen from "../../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../../shared/states";
import { useSetups } from "../useOrganisation";
import styles from "./Setups.module.css";

const SEVERITIES = ["blocker", "high", "medium", "low"] as const;

/** What keyboards meet, derived from who sits where: equal ones once, with how many people and machines have them. */
export function SetupsView() {
  const setups = useSetups();
  const [open, setOpen] = useState<string | null>(null);
  const [params] = useSearchParams();
  const navigate = useNavigate();
  if (setups.isError) return <Trouble error={setups.error} again={() => setups.refetch()} />;
  if (!setups.data) return <Waiting what="the setups" />;
  if (setups.data.length === 0) {
    return (
      <Empty title="No setup is in use yet.">
        <p>A setup follows from a person who sits at a machine. Add machines, then people who sit at them.</p>
      </Empty>
    );
  }
  const go = (path: string, name: string, value: string) => {
    const next = new URLSearchParams(params);
    next.set(name, value);
    navigate({ pathname: path, search: next.toString() });
  };
  const most = Math.max(...setups.data.map((s) => s.people));
  return (
    <div className={styles.view}>
      <div className={screen.top}>
        <h1>Setups in use</h1>
        <span>
          <b>{setups.data.length}</b> different ones follow from who sits where; whatever is computed is computed once
          for each.
        </span>
      </div>
      <div className={`${styles.row} ${screen.heads}`} aria-hidden="true">
        <span>Setup</span>
        <span>People and machines</span>
        <span>Layers, the nearest last</span>
        <span>Clashes</span>
      </div>
      <ul aria-label="Setups in use">
        {setups.data.map((s) => (
          <li key={s.id}>
            <button
              type="button"
              className={`${styles.row} ${styles.button}`}
              aria-expanded={open === s.id}
              onClick={() => setOpen(open === s.id ? null : s.id)}
            >
              <b>{s.name}</b>
              <span className={styles.people}>
                <i style={{ width: `${Math.max(2, (70 * s.people) / most)}px` }} aria-hidden="true" />
                {s.people} at {s.machines}
              </span>
              <span className={styles.quiet}>{s.layers.join(", ")}</span>
              <span className={styles.quiet}>
                {SEVERITIES.filter((v) => s.clashes[v])
                  .map((v) => `${s.clashes[v]} ${v}`)
                  .join(", ") || "none"}
              </span>
            </button>
            {open === s.id && (
              <div className={styles.more}>
                <p>
                  {s.platform} {s.edition}, {s.layout} on {s.body}. {s.programs.join(", ")}.
                </p>
                {s.unknown.map((says) => (
                  <p key={says}>{says}</p>
                ))}
                <div>
                  <Button variant="outlined" onClick={() => go("/clashes", "setup", s.id)}>
                    Look through it
                  </Button>
                  <Button color="inherit" onClick={() => go("/organisation/setups/files", "setup", s.id)}>
                    Its settings files
                  </Button>
                  <Button color="inherit" onClick={() => go("/organisation/people", "only", s.id)}>
                    Who has it
                  </Button>
                  <Button color="inherit" onClick={() => go("/organisation/machines", "only", s.id)}>
                    On which machines
                  </Button>
                </div>
              </div>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
