import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Refusal } from "../../shared/Consequences";
import { FileButton } from "../../shared/FileButton";
import { saveKey } from "../../shared/saveKey";
import screen from "../../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../../shared/states";
import { useAddress } from "../../shared/useAddress";
import { useRights } from "../../shared/useSession";
import { useSettled } from "../../shared/useSettled";
import styles from "./Described.module.css";
import { FileLines } from "./FileLines";
import { OtherVersions } from "./OtherVersions";
import { ReadFromIt } from "./ReadFromIt";
import { containerName, Sentences } from "./Sentences";
import type { Called, Described, Read, Sample } from "./useDescribed";
import { calledById, madeNew, nameIn, useDescribedFiles, useKeep, useRead } from "./useDescribed";

type Files = Schemas["DescribedFilesOut"];

/** Where a program keeps its keys: a file is dropped, what was understood of it is corrected, tried out, and kept. */
export function DescribedView() {
  const [params] = useAddress();
  const program = params.get("program") ?? "";
  const version = params.get("version") ?? "";
  const files = useDescribedFiles(program, version);
  if (program === "") return <Empty whole title="No program is chosen." />;
  if (files.isError) return <Trouble error={files.error} again={() => files.refetch()} />;
  if (!files.data) return <Waiting what="the program" />;
  return <Describing key={files.data.digest} program={program} version={version} files={files.data} />;
}

function Describing({ program, version, files }: { program: string; version: string; files: Files }) {
  const rights = useRights();
  const [sample, setSample] = useState<Sample | null>(null);
  const [number, setNumber] = useState(0);
  const known = (files.described[number] as unknown as Described | undefined) ?? null;
  const [draft, setDraft] = useState<Described | null>(known);
  const [which, setWhich] = useState(0);
  const [called, setCalled] = useState<Called>({});
  const [command, setCommand] = useState("");
  const [shortcuts, setShortcuts] = useState("");
  const [text, setText] = useState<string | null>(null);
  const guessed = useRead(
    program,
    version,
    { sample, described: null, called: {}, command: "", shortcuts: "" },
    known === null || draft === null,
  );
  const proposals = guessed.data?.proposals ?? [];
  const how = draft ?? (proposals[which]?.described as unknown as Described | undefined) ?? null;
  const now = JSON.stringify({ described: how, called, command, shortcuts });
  const asked = useSettled(now);
  const settled = JSON.parse(asked) as {
    described: Described | null;
    called: Called;
    command: string;
    shortcuts: string;
  };
  const corrected = useRead(program, version, { sample, ...settled }, settled.described !== null);
  const keep = useKeep(program, version, () => setSample(null));
  const newest = sample && how ? corrected.data?.proposals[0] : undefined;
  // Where something was said that can't be so, what was read before stays, so that it can be put right there.
  const [before, setBefore] = useState<Read>();
  const read = newest ?? (sample ? before : undefined);
  // What names may be is taken as said, until somebody says otherwise.
  useEffect(() => {
    const fresh = read?.entries.filter((e) => e.may_be && !(nameIn(e) in called)) ?? [];
    if (fresh.length > 0) setCalled({ ...Object.fromEntries(fresh.map((e) => [nameIn(e), e.may_be])), ...called });
  }, [read, called]);
  useEffect(() => {
    if (newest) setBefore(newest);
  }, [newest]);
  const fault = how ? corrected.error : guessed.error;
  const drop = (file: File) => {
    setSample({ number: (sample?.number ?? 0) + 1, file });
    setDraft(known);
    setWhich(0);
    setCalled({});
    setBefore(undefined);
    setText(null);
  };
  const change = (next: Described) => {
    setDraft(next);
    setText(null);
  };
  const save = () => {
    if (!how) return;
    keep.mutate({
      digest: files.digest,
      number,
      described: how as unknown as Record<string, never>,
      called: calledById(called),
      new: madeNew(called, read?.entries ?? []),
    });
  };
  const able = rights.edit && how !== null && !fault && !keep.isPending;
  const search = `program=${program}&version=${encodeURIComponent(version)}`;
  const lines = (corrected.data ?? guessed.data)?.lines ?? [];
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: files are dropped anywhere on it, and Ctrl+Enter keeps
    <div
      className={styles.screen}
      onKeyDown={saveKey(() => able && save())}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        const [file] = event.dataTransfer.files;
        if (file) drop(file);
      }}
    >
      <div className={screen.top}>
        <h1>Where {files.name} keeps its keys</h1>
        {read && (
          <span>
            {draft === null ? "guessed from " : "in "}
            {sample?.file.name}; <b>{read.read.toLocaleString("en")}</b> of{" "}
            {(read.read + read.unread.length).toLocaleString("en")} entries read
            {read.shown > 0 && `, ${read.shown.toLocaleString("en")} defaults shown`}
          </span>
        )}
        <span className={screen.right}>
          {read && read.read + read.shown > 0 && (
            <span>
              written back unchanged: <b>{read.same ? "the same bytes" : "not the same bytes"}</b>
            </span>
          )}
          <Link to={{ pathname: "/programs/edit", search }}>Its sheet</Link>
        </span>
      </div>
      {files.described.length > 0 && (
        <p className={screen.sub}>
          {files.described.map((d, n) => (
            <Button
              // biome-ignore lint/suspicious/noArrayIndexKey: a description has no other identity than its place
              key={n}
              color="inherit"
              variant={n === number ? "outlined" : "text"}
              aria-pressed={n === number}
              onClick={() => {
                setNumber(n);
                setDraft(d as unknown as Described);
              }}
            >
              {firstPath(d as unknown as Described)}
            </Button>
          ))}
          {rights.edit && (
            <Button
              color="inherit"
              variant={number === files.described.length ? "outlined" : "text"}
              onClick={() => {
                setNumber(files.described.length);
                setDraft(null);
              }}
            >
              Another file of it
            </Button>
          )}
        </p>
      )}
      <OtherVersions files={files} number={number} disabled={!rights.edit} onBegin={setDraft} />
      {!sample && (
        <section className={styles.bring} aria-label="A file of it">
          <p>
            {known
              ? "Drop a settings file of it here to see what this reads, and what writing it would change."
              : "Drop a settings file of it here. What can be read of it is told before anything is kept; nothing of the file is."}
          </p>
          <FileButton accept="*" loading={guessed.isFetching} variant={known ? "outlined" : "contained"} onFile={drop}>
            Choose a settings file
          </FileButton>
        </section>
      )}
      {fault && (
        <div className={styles.fault}>
          <Refusal error={fault} />
        </div>
      )}
      {sample && !fault && guessed.isSuccess && !how && (
        <Empty title={`Nothing in ${sample.file.name} reads as keys.`}>
          <p>
            Give a command a key in the program first, so that its file has one; or choose the file in which it keeps
            them.
          </p>
        </Empty>
      )}
      <div className={sample ? styles.sides : styles.alone}>
        {sample && <FileLines lines={lines} read={read} tried={command ? corrected.data?.tried : undefined} />}
        {how && (
          <div className={styles.told}>
            {draft === null && proposals.length > 1 && (
              <fieldset className={styles.ways}>
                <legend>It can be read so:</legend>
                {proposals.map((p, n) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: proposals have no other identity than their place
                  <label key={n}>
                    <input
                      type="radio"
                      name="way"
                      checked={n === which}
                      onChange={() => {
                        setWhich(n);
                        setCalled({});
                      }}
                    />
                    <b>{wayOf(p.described as unknown as Described)}</b> {p.why.join(", ")}
                  </label>
                ))}
              </fieldset>
            )}
            <Sentences how={how} platforms={files.platforms} disabled={!rights.edit} onChange={change} />
            {draft !== null && sample && known === null && (
              <Button color="inherit" onClick={() => setDraft(null)}>
                As it was guessed
              </Button>
            )}
            {read && (
              <ReadFromIt
                read={read}
                commands={files.commands}
                called={called}
                disabled={!rights.edit}
                onCalled={setCalled}
              />
            )}
            {sample && (
              <section className={styles.try} aria-label="Try writing">
                <h2>Try writing</h2>
                <select aria-label="Command" value={command} onChange={(e) => setCommand(e.target.value)}>
                  <option value="">No command</option>
                  {files.commands.map(({ id, name }) => (
                    <option key={id} value={id}>
                      {name}
                    </option>
                  ))}
                </select>
                <TextField
                  label="Its keys"
                  value={shortcuts}
                  placeholder="Alt+T"
                  disabled={!command}
                  onChange={(e) => setShortcuts(e.target.value)}
                />
                {command && shortcuts && corrected.data?.tried && (
                  <span role="status">{corrected.data.tried.refused || changedWords(corrected.data.tried)}</span>
                )}
              </section>
            )}
            <details
              onToggle={(e) => setText((e.target as HTMLDetailsElement).open ? JSON.stringify(how, null, 1) : null)}
            >
              <summary>Everything of it, as text</summary>
              {text !== null && (
                <TextField
                  label="The description"
                  multiline
                  fullWidth
                  maxRows={16}
                  value={text}
                  disabled={!rights.edit}
                  error={parsed(text) === null}
                  helperText={parsed(text) === null ? "This is no JSON object yet." : " "}
                  onChange={(e) => {
                    setText(e.target.value);
                    const next = parsed(e.target.value);
                    if (next) setDraft(next);
                  }}
                />
              )}
            </details>
          </div>
        )}
      </div>
      {rights.edit && how && (
        <div className={styles.foot}>
          <Button variant="contained" disabled={!able} loading={keep.isPending} title="Ctrl+Enter" onClick={save}>
            Keep this description
          </Button>
          {sample && (
            <FileButton accept="*" loading={false} onFile={drop}>
              Another file
            </FileButton>
          )}
          {known && (
            <Button
              color="inherit"
              onClick={() => keep.mutate({ digest: files.digest, number, described: null, called: {}, new: [] })}
            >
              Take it away
            </Button>
          )}
          <span>Everything that isn't underlined stays byte for byte: comments, order, line ends.</span>
        </div>
      )}
    </div>
  );
}

function parsed(text: string): Described | null {
  try {
    const value: unknown = JSON.parse(text);
    const whole = typeof value === "object" && value !== null && "keys" in value && "dialect" in value;
    return whole ? (value as Described) : null;
  } catch {
    return null;
  }
}

function firstPath(how: Described): string {
  return Object.values(how.path ?? {})[0] ?? how.export?.called ?? `${containerName(how)} without a place`;
}

function wayOf(how: Described): string {
  const at = how.at?.length ? `, ${how.at.join(" > ")}` : "";
  return `${containerName(how)}${at}:`;
}

function changedWords(tried: NonNullable<Schemas["SettingsFileOut"]["tried"]>): string {
  const [first] = tried.lines;
  if (!first) return "changes nothing";
  return tried.lines.length === 1
    ? `changes line ${first.line}`
    : `changes ${tried.lines.length} lines from ${first.line} on`;
}
