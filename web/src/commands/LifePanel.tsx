import Button from "@mui/material/Button";
import { Link, useLocation } from "react-router";
import { Caps } from "../keyboard/Caps";
import { Refusal } from "../shared/Consequences";
import { dayOf } from "../shared/days";
import { Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import { AssignKeys } from "./AssignKeys";
import styles from "./Commands.module.css";
import { ResetPanel } from "./ResetPanel";
import { UsedBy } from "./UsedBy";
import type { CommandRow, Life } from "./useCommands";
import { useLife } from "./useCommands";

interface LifePanelProps {
  through: string;
  row: string;
  onClose: () => void;
}

/** A command's life at the side: each version's default, each layer's word with who said it, what holds, and what to do. */
export function LifePanel({ through, row, onClose }: LifePanelProps) {
  const life = useLife(through, row);
  return (
    <aside className={styles.side} aria-label="The life of a command">
      {life.isError && <Refusal error={life.error} />}
      {!life.data && !life.isError && <Waiting what="its life" />}
      {life.data && <Told life={life.data} through={through} />}
      <Button color="inherit" onClick={onClose}>
        Close
      </Button>
    </aside>
  );
}

function Told({ life, through }: { life: Life; through: string }) {
  const { row } = life;
  const rights = useRights();
  const { search } = useLocation();
  const at = new URLSearchParams(search);
  const clash = row.clashes[0];
  const toClash = new URLSearchParams({ setup: row.setup, clash: clash ?? "" });
  for (const name of ["program", "scope"]) if (at.get(name)) toClash.set(name, at.get(name) ?? "");
  const versions = life.versions.filter((v) => v.there);
  return (
    <>
      <h2>{row.name}</h2>
      <p>{row.description}</p>
      <p className={styles.quiet}>
        {row.program_name} {versions.map((v) => v.version).join(" and ")}, {row.scope_name}
        {row.group && `; among ${row.group}`}. {row.people} {row.people === 1 ? "person has" : "people have"} it.
      </p>
      <ol className={styles.life} aria-label="Where its keys come from">
        {life.stages.map((stage, n) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a layer is told by its place on the way
          <li key={n} className={stage.holds ? styles.now : stage.in_vain ? styles.vain : undefined}>
            <span className={styles.stage}>
              <b>{stage.layer}</b>
              {stage.keys.length === 0 ? <i>{n === 0 ? "no key" : "takes it away"}</i> : null}
              {stage.keys.map((k) => (
                <Caps key={k.text} shortcut={k} />
              ))}
            </span>
            <small>
              {n === 0 ? otherVersions(life, row) : said(stage)}
              {stage.in_vain && ` In vain: ${stage.in_vain}.`}
            </small>
          </li>
        ))}
      </ol>
      {life.notes.map((note) => (
        <p key={note}>{note}</p>
      ))}
      {life.source && (
        <p className={styles.quiet}>
          Its default was read in: {life.source === "likely" ? "no document; it is likely" : life.source}.
        </p>
      )}
      <Link to={{ pathname: "/programs/behaviour", search: ofProgram(at, row) }}>How {row.program_name} behaves</Link>
      {clash && row.states.includes("clashing") && (
        <Link to={{ pathname: "/clashes", search: toClash.toString() }}>It clashes: look at where it stops</Link>
      )}
      {row.task && (
        <div>
          <b>{row.task_name}</b>
          {life.elsewhere.length === 0 ? (
            <p className={styles.quiet}>No other command does this task.</p>
          ) : (
            <ul className={styles.elsewhere} aria-label={`What else does ${row.task_name}`}>
              {life.elsewhere.map((e) => (
                <li key={e.id}>
                  <span>
                    {e.program_name}: {e.name}
                  </span>
                  {e.keys.length === 0 ? <i>no key</i> : e.keys.map((k) => <Caps key={k.text} shortcut={k} />)}
                </li>
              ))}
            </ul>
          )}
        </div>
      )}
      {!row.settable && <p>{row.program_name} keeps this press for itself; no setting changes it.</p>}
      {row.settable && !rights.edit && <p>Readers look; an editor gives keys.</p>}
      {row.settable && rights.edit && <AssignKeys key={row.id} row={row} through={through} />}
      {rights.edit && row.states.includes("own key") && (
        <ResetPanel key={`reset ${row.id}`} given={{ setup: through, rows: [row.id] }} what={row.name} />
      )}
      <UsedBy key={`used ${row.id}`} row={row} uses={life.uses} />
    </>
  );
}

function ofProgram(at: URLSearchParams, row: CommandRow): string {
  const next = new URLSearchParams(at);
  next.set("of", `${row.program} ${row.version}`);
  return next.toString();
}

function said({ by, at, long_ago }: Life["stages"][number]): string {
  if (long_ago) return "for a long time";
  return by && at ? `${by}, ${dayOf(at)}` : "";
}

/** What other versions of the program have it on, where that is something else. */
function otherVersions(life: Life, row: CommandRow): string {
  const keys = (v: Life["versions"][number]) => v.keys.map((k) => k.words).join(" or ") || "no key";
  const own = life.versions.find((v) => v.version === row.version);
  const others = life.versions.filter((v) => v !== own && (!v.there || !own || keys(v) !== keys(own)));
  return others
    .map((v) => (v.there ? `in ${v.version} the maker gave it ${keys(v)}` : `${v.version} hasn't it`))
    .join("; ");
}
