import Button from "@mui/material/Button";
import { useState } from "react";
import { Link } from "react-router";
import { momentOf } from "../../shared/days";
import { FileButton } from "../../shared/FileButton";
import { saveKey } from "../../shared/saveKey";
import screen from "../../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import { useSettled } from "../../shared/useSettled";
import { Would } from "../../shared/Would";
import styles from "./Survey.module.css";
import type { Into, OwnChange, Survey } from "./useSurvey";
import { OWN, useDrop, useLook, usePlan, useSurvey, useTake } from "./useSurvey";

/** What people have set for themselves, before anything is written: how many have it, and what becomes of it. */
export function SurveyView() {
  const rights = useRights();
  const survey = useSurvey();
  if (!rights.edit) {
    return (
      <Empty whole title="What people have set for themselves is for editors.">
        <p>
          <Link to="/machines">Agents</Link>
        </p>
      </Empty>
    );
  }
  if (survey.isError) return <Trouble error={survey.error} again={() => survey.refetch()} />;
  if (!survey.data) return <Waiting what="what people have" />;
  const found = survey.data.survey;
  return (
    <div className={styles.screen}>
      <div className={screen.top}>
        <h1>What people have now</h1>
        {found && <span role="status">{saidOf(found)}</span>}
        <span className={screen.right}>
          <Link to="/machines">Agents</Link>
        </span>
      </div>
      <Look again={found !== null} working={found?.state === "working"} />
      {found === null && (
        <Empty title="Nobody has looked yet.">
          <p>
            Before the first release, see what people have set in their programs: what many have may be worth a place in
            a profile, and nothing anybody needs is overwritten unseen. Of the files only that is kept, for 30 days.
          </p>
          <p>
            In a zip file each file lies in a folder that is called like its person, by name or id; below it, folders
            are as you like.
          </p>
        </Empty>
      )}
      {found?.state === "ready" && <Changes key={found.id} survey={found} />}
      {found && found.unread.length > 0 && <Unread survey={found} />}
    </div>
  );
}

function saidOf(survey: Survey): string {
  const of = `${survey.of}, ${momentOf(survey.at)}`;
  if (survey.state === "working") return `${of}: being read`;
  if (survey.state === "failed") return `${of}: ${survey.says}`;
  const files = `${survey.files.toLocaleString("en")} ${survey.files === 1 ? "file" : "files"}`;
  return `${files} of ${survey.people} people (${of})`;
}

function Look({ again, working }: { again: boolean; working: boolean }) {
  const look = useLook();
  return (
    <div className={styles.look}>
      <Button
        variant={again ? "outlined" : "contained"}
        color={again ? "inherit" : "primary"}
        loading={working || (look.isPending && look.variables === null)}
        onClick={() => look.mutate(null)}
      >
        Look at what agents have seen
      </Button>
      <FileButton accept=".zip" loading={look.isPending && look.variables !== null} onFile={look.mutate}>
        Look at a zip file of files
      </FileButton>
    </div>
  );
}

function Changes({ survey }: { survey: Survey }) {
  const [into, setInto] = useState<Into>({});
  const drop = useDrop(survey.id);
  const take = useTake(survey.id, () => setInto({}));
  const here = survey.changes.filter((c) => c.id in into);
  const chosen = Object.fromEntries(here.map((c) => [c.id, into[c.id] ?? OWN]));
  const settled = JSON.parse(useSettled(JSON.stringify(chosen))) as Into;
  const plan = usePlan(survey.id, settled);
  const open = survey.changes.filter((c) => !c.dropped);
  const dropped = survey.changes.filter((c) => c.dropped);
  const able = here.length > 0 && !take.isPending;
  if (survey.people === 0) {
    return (
      <Empty title="There was no file of anybody to look at.">
        <p>
          Agents show files of programs whose settings file is described, on machines at which somebody sits. In a zip
          file each lies in a folder that is called like its person.
        </p>
      </Empty>
    );
  }
  if (survey.changes.length === 0) {
    return (
      <Empty title="Nobody has set anything of their own.">
        <p>What the files say is what the programs ship, or what people's profiles give them.</p>
      </Empty>
    );
  }
  const choose = (change: OwnChange, target: string) => {
    if (target === "nobody") {
      setInto(({ [change.id]: _, ...rest }) => rest);
      drop.mutate({ changes: [change.id], dropped: true });
    } else if (target === "") {
      setInto(({ [change.id]: _, ...rest }) => rest);
    } else {
      setInto((before) => ({ ...before, [change.id]: target }));
    }
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Ctrl+Enter takes what is chosen
    <div onKeyDown={saveKey(() => able && take.mutate(chosen))}>
      <div className={`${screen.heads} ${styles.row}`}>
        <span>Keys</span>
        <span>What they do</span>
        <span>Who has it</span>
        <span>
          What becomes of it{" "}
          <button
            type="button"
            className={styles.all}
            onClick={() => setInto(Object.fromEntries(open.map((c) => [c.id, c.proposed])))}
          >
            as proposed
          </button>
        </span>
      </div>
      <ul className={styles.list} aria-label="Own changes">
        {open.map((c) => (
          <Row key={c.id} change={c} target={into[c.id] ?? ""} onChoose={(target) => choose(c, target)} />
        ))}
      </ul>
      {dropped.length > 0 && (
        <p className={styles.dropped}>
          {dropped.length} {dropped.length === 1 ? "is" : "are"} to be nobody's:{" "}
          {dropped.map((c) => `${c.keys.join(" or ") || "no key"}`).join(", ")}.{" "}
          <button
            type="button"
            className={styles.all}
            onClick={() => drop.mutate({ changes: dropped.map((c) => c.id), dropped: false })}
          >
            Look at them again
          </button>
        </p>
      )}
      <div className={styles.foot}>
        <Button
          variant="contained"
          disabled={!able}
          loading={take.isPending}
          title="Ctrl+Enter"
          onClick={() => take.mutate(chosen)}
        >
          {here.length === 0 ? "Take the chosen ones" : `Take ${here.length}`}
        </Button>
        {here.length > 0 ? (
          <Would would={plan.data} error={plan.error} />
        ) : (
          <span>What isn't chosen stays as it is in people's files until somebody orders them to be written.</span>
        )}
      </div>
    </div>
  );
}

interface RowProps {
  change: OwnChange;
  target: string;
  onChoose: (target: string) => void;
}

function Row({ change: c, target, onChoose }: RowProps) {
  const widest = c.layers[0];
  const more = c.people - c.names.length;
  return (
    <li className={styles.row} data-chosen={target !== "" || undefined}>
      <span className={styles.keys}>{c.keys.join(" or ") || "no key"}</span>
      <span>
        <b>{c.command_name}</b>
        <small>
          {c.program_name}; ships with {c.default.join(" or ") || "none"}
        </small>
      </span>
      <span>
        {widest && widest.seen > 0 && (
          <span className={styles.share} aria-hidden="true">
            <i style={{ inlineSize: `${(100 * c.people) / widest.seen}%` }} />
          </span>
        )}
        {c.people === 1 ? "1 person" : `${c.people} people`}
        {widest && ` of ${widest.seen}`}
        <small>
          {c.names.join(", ")}
          {more > 0 && ` and ${more} more`}
        </small>
      </span>
      <select
        aria-label={`What becomes of ${c.command_name}`}
        value={target}
        onChange={(e) => onChoose(e.target.value)}
      >
        <option value="">Leave it as it is</option>
        {c.layers.map((l) => (
          <option key={l.profile} value={l.profile}>
            {l.profile === c.proposed ? "Proposed: into" : "Into"} {l.name}, {l.having} of {l.seen}
          </option>
        ))}
        <option value={OWN}>{c.proposed === OWN ? "Proposed: each one's own" : "Each one's own"}</option>
        <option value="nobody">Nobody's</option>
      </select>
    </li>
  );
}

function Unread({ survey }: { survey: Survey }) {
  return (
    <details className={styles.unread}>
      <summary>
        {survey.left === 1 ? "1 file says" : `${survey.left.toLocaleString("en")} files say`} nothing that can be read
      </summary>
      <ul>
        {survey.unread.map((u) => (
          <li key={u.path}>
            <code>{u.path}</code> {u.says}
          </li>
        ))}
      </ul>
      {survey.left > survey.unread.length && <p>and {survey.left - survey.unread.length} more</p>}
    </details>
  );
}
