import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useCallback, useEffect, useMemo, useState } from "react";
import { Link, useNavigate } from "react-router";
import { ProblemError } from "../../api/client";
import { DeleteIt } from "../../profiles/Deleting";
import { BothMade, contradictionsIn } from "../../shared/BothMade";
import { wordsOf } from "../../shared/Says";
import { Sheets } from "../../shared/Sheets";
import { SomeLines } from "../../shared/SomeLines";
import { saveKey } from "../../shared/saveKey";
import screen from "../../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../../shared/states";
import { useAddress } from "../../shared/useAddress";
import { useRights } from "../../shared/useSession";
import { useSettled } from "../../shared/useSettled";
import { AboutProgram } from "./AboutProgram";
import { ChosenPanel } from "./ChosenPanel";
import { CommandSheet } from "./CommandSheet";
import type { Draft, Row } from "./draft";
import { draftOf, editOf, faultsByRow, rowsFrom, sameDraft } from "./draft";
import styles from "./Making.module.css";
import type { Edited } from "./useCatalogue";
import { PLATFORMS, useEdited, usePlanOfEdit, useSaveEdit, useTasks } from "./useCatalogue";

/** One program with its commands as a sheet that is typed over. Nothing is saved before it is told what that does. */
export function ProgramEditor() {
  const [params] = useAddress();
  const program = params.get("program") ?? "";
  const version = params.get("version") ?? "";
  const edited = useEdited(program, version);
  if (program === "") return <Empty whole title="No program is chosen." />;
  if (edited.isError) return <Trouble error={edited.error} again={() => edited.refetch()} />;
  if (!edited.data) return <Waiting what="the program" />;
  return <Editor key={`${program}@${version} ${edited.data.digest}`} program={edited.data} />;
}

function Editor({ program }: { program: Edited }) {
  const before = useMemo(() => draftOf(program), [program]);
  const [draft, setDraft] = useState<Draft>(before);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [text, setText] = useState("");
  const rights = useRights();
  const navigate = useNavigate();
  const tasks = useTasks();
  const changed = !sameDraft(draft, before);
  const settled = useSettled(draft);
  const asked = changed && settled === draft ? draft : null;
  const plan = usePlanOfEdit(program.id, program.version, asked ? editOf(asked, program.digest) : null);
  const save = useSaveEdit(program.id, program.version);
  useEffect(() => {
    if (!changed) return;
    const stay = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", stay);
    return () => window.removeEventListener("beforeunload", stay);
  }, [changed]);
  const problem = changed && plan.error instanceof ProblemError ? plan.error.problem : null;
  const faults = useMemo(() => faultsByRow(problem?.faults ?? [], draft), [problem, draft]);
  const onRow = useCallback(
    (row: number, part: Partial<Row>) =>
      setDraft((old) => ({ ...old, rows: old.rows.map((r) => (r.row === row ? { ...r, ...part } : r)) })),
    [],
  );
  const onChoose = useCallback(
    (row: number, on: boolean) =>
      setChosen((old) => {
        const next = new Set(old);
        if (on) next.add(row);
        else next.delete(row);
        return next;
      }),
    [],
  );
  const onChosen = (part: Partial<Row> | null) => {
    if (part === null) {
      setDraft({ ...draft, rows: draft.rows.filter((r) => !chosen.has(r.row)) });
      setChosen(new Set());
    } else setDraft({ ...draft, rows: draft.rows.map((r) => (chosen.has(r.row) ? { ...r, ...part } : r)) });
  };
  const platform = draft.platforms[0] ?? "windows";
  const add = () => {
    const more = rowsFrom(text, draft, platform, tasks.data?.tasks);
    setDraft({ ...draft, rows: [...draft.rows, ...more], next: draft.next + more.length });
    setText("");
  };
  const fixed = !rights.edit;
  const named = PLATFORMS.find((p) => p.id === platform)?.name;
  const both = contradictionsIn(save.error);
  const keep = () => save.mutate(editOf(draft, program.digest));
  const able = changed && problem === null && !save.isPending && !fixed;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Ctrl+Enter saves wherever the focus is in it
    <div className={styles.editor} onKeyDown={saveKey(() => able && keep())}>
      <div className={styles.sheetSide}>
        <div className={screen.top}>
          <h1>
            {draft.name} {program.version}
          </h1>
          <span>
            <b>{draft.rows.length.toLocaleString("en")}</b> {draft.rows.length === 1 ? "command" : "commands"}
          </span>
          <span className={screen.right}>
            <a
              href={`/api/documents/program/${program.id}@${encodeURIComponent(program.version)}`}
              download={`${program.id}-${program.version}.json`}
            >
              Take it as a file
            </a>
            {!program.table && draft.rows.some((r) => !r.task) && (
              <Link
                to={{
                  pathname: "/programs/matching",
                  search: `program=${program.id}&version=${encodeURIComponent(program.version)}`,
                }}
              >
                Find its tasks
              </Link>
            )}
            <Sheets
              sheets={[
                {
                  name: `Commands of ${program.name}`,
                  path: `/api/catalogue/${program.id}/${encodeURIComponent(program.version)}/commands`,
                },
                { name: "Names of its commands in all languages", path: "/api/names", query: { program: program.id } },
              ]}
            />
            {!program.table && (
              <Link
                to={{
                  pathname: "/programs/file",
                  search: `program=${program.id}&version=${encodeURIComponent(program.version)}`,
                }}
              >
                Where it keeps its keys
              </Link>
            )}
            <Link to="/programs/all">All programs</Link>
          </span>
        </div>
        {!fixed && (
          <form
            className={styles.addRow}
            onSubmit={(event) => {
              event.preventDefault();
              if (text.trim()) add();
            }}
          >
            <TextField
              label="Add commands"
              value={text}
              multiline
              maxRows={8}
              autoFocus={program.commands.length === 0}
              placeholder="Save the sheet: Ctrl+S or F12"
              helperText={`A name, a colon, its keys on ${named}. Enter adds it; several lines can be pasted at once.`}
              onChange={(e) => setText(e.target.value)}
              onKeyDown={(event) => {
                if (event.key === "Enter" && !event.shiftKey && !event.ctrlKey && !event.metaKey) {
                  event.preventDefault();
                  if (text.trim()) add();
                }
              }}
            />
            <Button type="submit" variant="outlined" disabled={!text.trim()}>
              Add
            </Button>
          </form>
        )}
        {draft.rows.length === 0 ? (
          <Empty title={`${draft.name} has no commands yet.`}>
            <p>What people can do in it, and the keys that its maker ships for that.</p>
          </Empty>
        ) : (
          <CommandSheet
            draft={draft}
            faults={faults}
            chosen={chosen}
            tasks={tasks.data?.tasks ?? []}
            disabled={fixed}
            onRow={onRow}
            onChoose={onChoose}
            onAll={(rows) => setChosen(new Set(rows))}
          />
        )}
      </div>
      <aside className={styles.side} aria-label="What is edited">
        {changed && (
          <section className={styles.told} aria-label="What it would do">
            {problem ? (
              <Alert severity="error" icon={false} variant="outlined">
                {wordsOf(plan.error).join(" ")}
              </Alert>
            ) : (
              plan.data && <Told plan={plan.data} />
            )}
            {both.length > 0 && (
              <BothMade
                by={save.error}
                found={both}
                onChosen={(items) => save.mutate({ ...editOf(draft, program.digest), chosen: items })}
              />
            )}
            <div className={styles.acts}>
              <Button
                variant="contained"
                disabled={problem !== null}
                loading={save.isPending}
                title="Ctrl+Enter"
                onClick={keep}
              >
                Save {draft.name}
              </Button>
              <Button color="inherit" onClick={() => setDraft(before)}>
                Leave it as it was
              </Button>
            </div>
          </section>
        )}
        {chosen.size > 0 && !fixed && (
          <ChosenPanel
            key={[...chosen].join()}
            rows={draft.rows.filter((r) => chosen.has(r.row))}
            draft={draft}
            tasks={tasks.data?.tasks ?? []}
            kinds={program.kinds}
            onChange={onChosen}
            onDone={() => setChosen(new Set())}
          />
        )}
        <AboutProgram draft={draft} disabled={fixed} onChange={(part) => setDraft({ ...draft, ...part })} />
        {!fixed && !program.table && (
          <div className={styles.acts}>
            <DeleteIt
              kind="program"
              id={`${program.id}@${program.version}`}
              name={`${program.name} ${program.version}`}
              onGone={() => navigate("/programs/all")}
            />
          </div>
        )}
      </aside>
    </div>
  );
}

type Plan = NonNullable<ReturnType<typeof usePlanOfEdit>["data"]>;

/** What an edit would do to people, before it is saved. */
function Told({ plan }: { plan: Plan }) {
  const quiet = plan.made === 0 && plan.solved === 0 && plan.orphans.length === 0 && plan.lines.length === 0;
  return (
    <div role="status">
      <p>
        <b>
          {plan.differences} {plan.differences === 1 ? "difference" : "differences"}
        </b>
        {quiet && ", which make no clash and leave nothing behind."}
      </p>
      <SomeLines title={`Makes ${plan.made} ${plan.made === 1 ? "clash" : "clashes"}`} lines={plan.makes} bad />
      <SomeLines title={`Solves ${plan.solved} ${plan.solved === 1 ? "clash" : "clashes"}`} lines={plan.solves} />
      <SomeLines title="Is set for commands that would be gone" lines={plan.orphans} bad />
      <SomeLines title="Lines of the standard that nothing would do any more" lines={plan.lines} bad />
    </div>
  );
}
