import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import type { ClipboardEvent } from "react";
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { FileButton } from "../../shared/FileButton";
import screen from "../../shared/screen.module.css";
import { Trouble, Waiting } from "../../shared/states";
import { useAddress } from "../../shared/useAddress";
import { useRights } from "../../shared/useSession";
import { Columns } from "./Columns";
import { ForProgram } from "./ForProgram";
import styles from "./List.module.css";
import { ListedRows } from "./ListedRows";
import type { List, Which } from "./useList";
import { isBusy, useBring, useList, useListSteps, useRows } from "./useList";

const WHICH: { id: Which; name: string }[] = [
  { id: "all", name: "All rows" },
  { id: "unread", name: "Can't be taken" },
  { id: "guessed", name: "Guessed" },
  { id: "contradicts", name: "Changed on both sides" },
  { id: "adds", name: "New" },
  { id: "changes", name: "Changed" },
  { id: "same", name: "As they are" },
];

/** A list of commands out of any table: what was understood of it, row by row, before anything is kept. */
export function ListView() {
  const [params, change] = useAddress();
  const rights = useRights();
  const list = useList(params.get("list"));
  if (!rights.edit) return <Trouble error={new Error("Lists are brought in by editors.")} again={() => undefined} />;
  if (params.get("list") === null) return <Bring onList={(id) => change({ list: id }, true)} />;
  if (list.isError) return <Trouble error={list.error} again={() => list.refetch()} />;
  if (!list.data) return <Waiting what="the list" />;
  return <Understood list={list.data} onAnother={() => change({ list: null })} />;
}

/** Where a table is pasted, or a file chosen. */
function Bring({ onList }: { onList: (id: string) => void }) {
  const bring = useBring(onList);
  const [text, setText] = useState("");
  const paste = (event: ClipboardEvent) => {
    const given = { text: event.clipboardData.getData("text/plain"), html: event.clipboardData.getData("text/html") };
    if (!given.text.includes("\n") && !given.html.includes("<table")) return;
    event.preventDefault();
    bring.mutate(given);
  };
  return (
    <>
      <div className={screen.top}>
        <h1>A list of commands</h1>
        <span>
          with their keys, as any sheet or help page has it. You see what was understood before anything is kept.
        </span>
        <span className={screen.right}>
          <Link to="/programs/all">All programs</Link>
        </span>
      </div>
      <form
        className={styles.bring}
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          const [file] = event.dataTransfer.files;
          if (file) bring.mutate(file);
        }}
        onSubmit={(event) => {
          event.preventDefault();
          if (text.trim()) bring.mutate({ text, html: "" });
        }}
      >
        <TextField
          label="Paste the table here"
          value={text}
          multiline
          minRows={7}
          maxRows={14}
          autoFocus
          onChange={(e) => setText(e.target.value)}
          onPaste={paste}
          helperText="Out of a sheet, a page or a text: a row for each command, whatever its columns are called. A file can be dropped here too."
        />
        <span className={styles.acts}>
          <Button type="submit" variant="contained" disabled={!text.trim()} loading={bring.isPending}>
            Read it
          </Button>
          <FileButton
            accept=".csv,.tsv,.txt,.xlsx,.ods,.json,.html,.htm"
            loading={bring.isPending}
            onFile={(file) => bring.mutate(file)}
          >
            Choose a file: CSV, XLSX, ODS, JSON, HTML
          </FileButton>
        </span>
      </form>
    </>
  );
}

function Understood({ list, onAnother }: { list: List; onAnother: () => void }) {
  const { ask, take } = useListSteps(list.id);
  const [which, setWhich] = useState<Which>("all");
  const [pages, setPages] = useState(1);
  const rows = useRows(list, which, pages);
  const busy = isBusy(list) || ask.isPending || take.isPending;
  const asked = list.asked;
  const good = (["adds", "changes"] as const).reduce((sum, w) => sum + (list.counts[w] ?? 0), 0);
  const takes = asked.next_version ? good + (list.counts.same ?? 0) + (list.counts.gone ?? 0) : good;
  const named = Boolean(asked.program ?? asked.new);
  const correct = (row: number, field: string, text: string) => {
    const before = asked.corrections[row] ?? {};
    ask.mutate({ ...asked, corrections: { ...asked.corrections, [row]: { ...before, [field]: text } } });
  };
  if (list.state === "taken") return <Taken list={list} onAnother={onAnother} />;
  return (
    <>
      <div className={screen.top}>
        <h1>What {list.name} says</h1>
        <span role="status">{list.state === "failed" ? list.says.join(" ") : list.told.join(" ")}</span>
        <span className={screen.right}>
          <Button color="inherit" onClick={onAnother}>
            Another list
          </Button>
        </span>
      </div>
      {isBusy(list) && (
        <div className={styles.busy} role="status">
          {list.total > 0
            ? `${list.done.toLocaleString("en")} of ${list.total.toLocaleString("en")} rows`
            : "Reading it"}
          <LinearProgress
            aria-label="How far it is"
            variant={list.total > 0 ? "determinate" : "indeterminate"}
            value={list.total > 0 ? (100 * list.done) / list.total : 0}
          />
        </div>
      )}
      {list.tables.length > 0 && (
        <>
          <ForProgram
            key={JSON.stringify([asked.program, asked.new, asked.next_version])}
            list={list}
            onAsk={(part) => ask.mutate({ ...asked, ...part })}
          />
          <Columns list={list} onAsk={(part) => ask.mutate({ ...asked, ...part })} />
          <div className={styles.filter}>
            <ToggleButtonGroup
              exclusive
              value={which}
              aria-label="Which rows"
              onChange={(_, next: Which | null) => {
                if (next === null) return;
                setWhich(next);
                setPages(1);
              }}
            >
              {WHICH.filter((w) => w.id === "all" || (list.counts[w.id] ?? 0) > 0).map((w) => (
                <ToggleButton key={w.id} value={w.id}>
                  {w.name}
                  {w.id !== "all" && <small>{list.counts[w.id]?.toLocaleString("en")}</small>}
                </ToggleButton>
              ))}
            </ToggleButtonGroup>
            <span className={screen.right}>
              {!named && <em>Say first which program this is.</em>}
              <Button
                key={named ? "named" : ""}
                autoFocus={named}
                variant="contained"
                disabled={!named || takes === 0 || busy}
                loading={take.isPending}
                onClick={() => take.mutate()}
              >
                {asked.next_version
                  ? `Make version ${asked.next_version}`
                  : `Take ${good.toLocaleString("en")} ${good === 1 ? "command" : "commands"}`}
              </Button>
            </span>
          </div>
          <ListedRows list={list} rows={rows.data?.rows ?? []} disabled={busy} onCorrect={correct} />
          {rows.data && rows.data.total > rows.data.rows.length && (
            <Button className={styles.more} color="inherit" onClick={() => setPages(pages + 1)}>
              Show more of {rows.data.total.toLocaleString("en")}
            </Button>
          )}
        </>
      )}
    </>
  );
}

function Taken({ list, onAnother }: { list: List; onAnother: () => void }) {
  const old = list.asked.program?.split("@").slice(1).join("@") ?? "";
  const newer = list.asked.next_version;
  const version = newer ?? (old || list.asked.new?.version || "");
  const search = `program=${list.program}&version=${encodeURIComponent(version)}`;
  const next = useRef<HTMLAnchorElement>(null);
  useEffect(() => next.current?.focus(), []);
  return (
    <div className={styles.taken}>
      <h1>{list.name} has been taken</h1>
      <p>{list.told.join(" ")}</p>
      <span className={styles.acts}>
        {newer && (
          <Button
            ref={next}
            variant="contained"
            component={Link}
            to={`/programs/upgrade?${new URLSearchParams({ of: list.program, old, new: newer })}`}
          >
            See what the upgrade means
          </Button>
        )}
        <Button
          ref={newer ? undefined : next}
          variant={newer ? "outlined" : "contained"}
          color={newer ? "inherit" : "primary"}
          component={Link}
          to={{ pathname: "/programs/matching", search }}
        >
          Find their tasks
        </Button>
        <Button variant="outlined" color="inherit" component={Link} to={{ pathname: "/programs/edit", search }}>
          Look at the program
        </Button>
        <Button color="inherit" onClick={onAnother}>
          Another list
        </Button>
      </span>
    </div>
  );
}
