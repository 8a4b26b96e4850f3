import Button from "@mui/material/Button";
import { useState } from "react";
import { Refusal } from "../shared/Consequences";
import { One } from "../shared/fields";
import type { Lens } from "../shared/lens";
import { Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import { many } from "./PlanTold";
import styles from "./Standard.module.css";
import type { Standard } from "./useStandard";
import { useBorrowed, useLend, useSets, useTakeSetOff } from "./useStandard";

/** Gives a program another program's shortcuts, matched by task, as a set that can be taken off again. */
export function LendView({ data, lens }: { data: Standard; lens: Lens }) {
  const [program, setProgram] = useState("");
  const [source, setSource] = useState("");
  const layers = lens.setup.layer_ids
    .map((id, n) => ({ id, name: lens.setup.layers[n] ?? id }))
    .filter((l) => l.id !== "standard");
  const [layer, setLayer] = useState(layers[0]?.id ?? "");
  const asked =
    program && source && program !== source && layer
      ? { program, source, platform: data.platform, profile: layer }
      : null;
  const found = useBorrowed(asked);
  const lend = useLend();
  const takeOff = useTakeSetOff();
  const sets = useSets().data ?? [];
  const rights = useRights();
  return (
    <div className={styles.findings}>
      <div className={styles.how}>
        <span>Give</span>
        <div className={styles.select}>
          <One label="To" value={program} choices={data.programs} onChange={setProgram} />
        </div>
        <span>the shortcuts of</span>
        <div className={styles.select}>
          <One
            label="From"
            value={source}
            choices={data.programs.filter((p) => p.id !== program)}
            onChange={setSource}
          />
        </div>
        <span>kept in</span>
        <div className={styles.select}>
          <One label="Layer" value={layer} choices={layers} onChange={setLayer} />
        </div>
      </div>
      {asked && found.isError && <Refusal error={found.error} />}
      {asked && found.isPending && <Waiting what="what it would take" />}
      {asked && found.data && (
        <>
          <p role="status">
            <b>{many(found.data.taken.length, "task")}</b> would change hands, {found.data.same.length} are the same
            already, {found.data.refused.length} are refused, {found.data.lacking.length} it doesn't offer.{" "}
            <b>{found.data.people} people</b> would press something new.
          </p>
          <Listed
            title="Taken"
            rows={found.data.taken.map((t) => [t.task, `${t.command}: ${t.before || "no key"} becomes ${t.after}`])}
          />
          <Listed
            title="Refused"
            rows={found.data.refused.map((r) => [r.task, `${r.wanted} for ${r.command}: ${r.why}`])}
          />
          <Listed title="Would clash" rows={found.data.makes.map((m) => [m, ""])} />
          <Listed title="Would be solved" rows={found.data.solves.map((m) => [m, ""])} />
          {rights.edit && (
            <div className={styles.acts}>
              <Button
                variant="contained"
                disabled={found.data.taken.length === 0}
                loading={lend.isPending}
                onClick={() => lend.mutate(asked)}
              >
                Keep it as a set
              </Button>
            </div>
          )}
        </>
      )}
      <section aria-label="Sets in use">
        <h2>
          Sets in use <small>{sets.length}</small>
        </h2>
        {sets.length === 0 && <p className={styles.quiet}>No program has another one's shortcuts.</p>}
        <ul>
          {sets.map((s) => (
            <li key={`${s.profile}${s.id}`}>
              <b>{s.name}</b>
              <span>
                {many(s.entries, "shortcut")} in {s.profile_name}
              </span>
              {rights.edit && (
                <Button color="inherit" onClick={() => takeOff.mutate({ profile: s.profile, id: s.id })}>
                  Take it off again
                </Button>
              )}
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}

function Listed({ title, rows }: { title: string; rows: [string, string][] }) {
  if (rows.length === 0) return null;
  return (
    <details open={rows.length <= 8}>
      <summary>
        {title}: {rows.length}
      </summary>
      <ul>
        {rows.map(([name, says]) => (
          <li key={name + says}>
            {says ? <b>{name}</b> : name} {says}
          </li>
        ))}
      </ul>
    </details>
  );
}
