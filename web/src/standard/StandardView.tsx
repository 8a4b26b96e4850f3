import Button from "@mui/material/Button";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useCallback, useEffect, useMemo, useState } from "react";
import { Link } from "react-router";
import { useKeyChoice, useShownOnStrip } from "../keyboard/strip";
import type { Given } from "../keyboard/usePress";
import { usePress } from "../keyboard/usePress";
import { useLens } from "../shared/lens";
import { useSays } from "../shared/Says";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useAddress } from "../shared/useAddress";
import { CarryView } from "./CarryView";
import { asCsv } from "./cells";
import { DraftBar } from "./DraftBar";
import { Departments, Figures } from "./Figures";
import { FindingsView } from "./FindingsView";
import type { Filters } from "./filters";
import { addressOf, filtersFrom, isAsked, itemsOf, NOTHING, rowsOf } from "./filters";
import { Grid } from "./Grid";
import { LendView } from "./LendView";
import { LinePanel } from "./LinePanel";
import { many } from "./PlanTold";
import { ReleasePanel } from "./ReleasePanel";
import { RoomsView } from "./RoomsView";
import styles from "./Standard.module.css";
import { StandardFilters } from "./StandardFilters";
import type { Task } from "./useStandard";
import { useFindings, useStandard, useTasksOn } from "./useStandard";

type Tab = "matrix" | "findings" | "rooms" | "carry" | "lend";

/** The standard: tasks down, programs across, how far we are, and what a change would do. */
export function StandardView() {
  const [lens] = useLens();
  const [params, change] = useAddress();
  const says = useSays();
  const tab = (params.get("show") ?? "matrix") as Tab;
  const asked = params.toString();
  const filters = useMemo(() => filtersFrom(new URLSearchParams(asked)), [asked]);
  const through = useMemo(
    () => ({
      setup: lens?.setup.setup ?? "",
      everywhere: lens?.everywhere ?? false,
      layout: filters.layout,
      department: filters.department,
    }),
    [lens, filters.layout, filters.department],
  );
  const standard = useStandard(through);
  const findings = useFindings(tab === "findings");
  const setFilters = useCallback((part: Partial<Filters>) => change(addressOf(part)), [change]);
  const data = standard.data;
  const onKeys = useTasksOn(filters.keys, through);
  const tasks = useMemo(() => (data ? rowsOf(data, filters, onKeys) : []), [data, filters, onKeys]);
  const items = useMemo(() => itemsOf(tasks), [tasks]);
  const programs = useMemo(
    () => (data?.programs ?? []).filter((p) => !filters.program || p.id === filters.program),
    [data, filters.program],
  );
  const open = params.get("task");
  const at = params.get("at");
  const draft = Number(params.get("draft")) || null;
  const releasing = params.get("release") === "1";
  const opened = data?.tasks.find((t) => t.id === open);
  const ownKeys = opened?.line?.shortcut.text;
  const line = usePress(through.setup, null, null, ownKeys ? { text: ownKeys } : null);
  const stroke = ownKeys ? line.data?.strokes[0]?.[0] : undefined;
  useShownOnStrip(stroke?.modifiers ?? null, stroke?.code ?? null, opened?.name ?? "");
  // A clicked key is called by its name on this keyboard, so that it is found on others too.
  const [clicked, setClicked] = useState<Given | null>(null);
  const named = usePress(through.setup, lens?.program ?? null, lens?.scope ?? null, clicked);
  const called = clicked && !named.isPlaceholderData ? named.data?.shortcut.text : undefined;
  useEffect(() => {
    if (called === undefined) return;
    setFilters({ keys: called });
    setClicked(null);
  }, [called, setFilters]);
  useKeyChoice((code, modifiers) => setClicked({ strokes: [{ code, modifiers, key: "" }] }));
  if (standard.isError) return <Trouble error={standard.error} again={() => standard.refetch()} />;
  if (!data || !lens) return <Waiting what="the standard" />;
  const setDraft = (id: number | null) => change({ draft: id === null ? null : String(id) });
  const openTask = (task: string | null, program: string | null) => change({ task, at: program });
  const copied = (cells: number) => says.done(`Copied ${many(cells, "cell")} as CSV`);
  const panel = (task: Task) => (
    <LinePanel
      key={task.id}
      lens={lens}
      data={data}
      task={task}
      through={through}
      program={at}
      draft={draft}
      onDraft={setDraft}
      onClose={() => openTask(null, null)}
    />
  );
  return (
    <div className={styles.screen}>
      <div className={screen.top}>
        <h1>Standard</h1>
        {tab === "matrix" && <Figures data={data} filters={filters} change={setFilters} />}
        {tab === "matrix" && lens.everywhere && <Departments data={data} filters={filters} change={setFilters} />}
        {tab === "matrix" && isAsked(filters) && (
          <Button color="inherit" onClick={() => setFilters(NOTHING)}>
            Ask for all
          </Button>
        )}
        <span className={screen.right}>
          <Link to="/standard/propose">Propose</Link>
          <Link to="/standard/tasks">Edit tasks</Link>
          {data.waiting.entries > 0 && (
            <Button
              color="inherit"
              variant="outlined"
              aria-expanded={releasing}
              onClick={() => change({ release: releasing ? null : "1" })}
            >
              {many(data.waiting.entries, "entry", "entries")} to release
            </Button>
          )}
          <ToggleButtonGroup
            exclusive
            size="small"
            value={tab}
            onChange={(_, next: Tab | null) => next && change({ show: next === "matrix" ? null : next }, true)}
            aria-label="Which part of the standard"
          >
            <ToggleButton value="matrix">Tasks</ToggleButton>
            <ToggleButton value="findings">
              Worth a look{findings.data ? ` ${findings.data.findings.filter((f) => !f.allowed).length}` : ""}
            </ToggleButton>
            <ToggleButton value="rooms">Making room</ToggleButton>
            <ToggleButton value="carry">Carry over</ToggleButton>
            <ToggleButton value="lend">Lend</ToggleButton>
          </ToggleButtonGroup>
        </span>
      </div>
      {releasing && <ReleasePanel data={data} onClose={() => change({ release: null })} />}
      {tab === "findings" && (
        <FindingsView
          seen={data.digest}
          platform={data.platform}
          onTask={(task) => change({ ...addressOf(NOTHING), show: null, task, at: null }, true)}
        />
      )}
      {tab === "rooms" && (
        <RoomsView
          data={data}
          lens={lens}
          draft={draft}
          onTask={(task) => change({ ...addressOf(NOTHING), show: null, task, at: null }, true)}
        />
      )}
      {tab === "carry" && <CarryView data={data} draft={draft} onDraft={setDraft} />}
      {tab === "lend" && <LendView data={data} lens={lens} />}
      {tab === "matrix" && (
        <>
          <StandardFilters
            lens={lens}
            data={data}
            filters={filters}
            change={setFilters}
            through={through}
            draft={draft}
            onDraft={setDraft}
            onCopy={() =>
              void navigator.clipboard
                ?.writeText(asCsv(tasks, programs))
                .then(() => copied(tasks.length * programs.length))
            }
          />
          {draft !== null && <DraftBar draft={draft} onDraft={setDraft} />}
          {items.length === 0 ? (
            <Empty title={isAsked(filters) ? "No task is like that" : "No program here offers a task"}>
              {!isAsked(filters) && (
                <p>
                  A line of the standard gives one key to a task in all programs. It needs tasks, and commands of the
                  programs on these machines that say which task they do.
                </p>
              )}
              {isAsked(filters) && (
                <Button variant="outlined" onClick={() => setFilters(NOTHING)}>
                  Ask for all
                </Button>
              )}
            </Empty>
          ) : (
            <Grid
              data={data}
              items={items}
              programs={programs}
              open={open}
              onOpen={openTask}
              onProgram={(program) =>
                setFilters(filters.program === program ? { program: "", state: "" } : { program, state: "open" })
              }
              panel={panel}
              onSelect={() => undefined}
              onCopied={copied}
            />
          )}
        </>
      )}
    </div>
  );
}
