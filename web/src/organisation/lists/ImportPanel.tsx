import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import { useRef, useState } from "react";
import { Refusal } from "../../shared/Consequences";
import { One } from "../../shared/fields";
import { useRights } from "../../shared/useSession";
import styles from "./Lists.module.css";
import type { ListImport } from "./useImport";
import { isBusy, useImport, useImportSteps, useUpload } from "./useImport";

const NAMES: Record<ListImport["kind"], string> = { people: "people", machines: "machines", uses: "uses by role" };

interface Out {
  kind: ListImport["kind"];
  called: string;
  query: string;
}

/** A list of people goes out with their names or without. */
function outs(kind: ListImport["kind"]): Out[] {
  if (kind !== "people") return [{ kind, called: NAMES[kind], query: "" }];
  return [
    { kind, called: "people with their names", query: "?names=true" },
    { kind, called: "people by ids alone", query: "?names=false" },
  ];
}

/** Lists as sheets: out in one click; in by matching columns, a check of every row, and taking what is good. */
export function ImportPanel({ kinds }: { kinds: ListImport["kind"][] }) {
  const rights = useRights();
  const input = useRef<HTMLInputElement>(null);
  const [kind, setKind] = useState(kinds[0] ?? "people");
  const [id, setId] = useState<string | null>(null);
  const upload = useUpload();
  const found = useImport(id);
  const leave = () => {
    setId(null);
    upload.reset();
    if (input.current) input.current.value = "";
  };
  return (
    <section className={styles.lists} aria-label="Lists in and out">
      <div className={styles.line}>
        {kinds.flatMap(outs).map(({ kind: k, called, query }) => (
          <span key={called} className={styles.out}>
            {called} as{" "}
            {["csv", "ods", "xlsx"].map((form) => (
              <a key={form} href={`/api/organisation/lists/${k}.${form}${query}`} download>
                {form.toUpperCase()}
                <span className="unseen"> of {called}</span>{" "}
              </a>
            ))}
          </span>
        ))}
        {rights.edit &&
          kinds.map((k, n) => (
            <Button
              key={k}
              variant="outlined"
              autoFocus={n === 0}
              onClick={() => {
                setKind(k);
                input.current?.click();
              }}
            >
              Bring in {NAMES[k]}
            </Button>
          ))}
        <input
          ref={input}
          type="file"
          accept=".csv,.xlsx,.txt"
          hidden
          aria-hidden="true"
          tabIndex={-1}
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) upload.mutate({ kind, file }, { onSuccess: (begun) => setId(begun.id) });
          }}
        />
        <span className={styles.note}>
          CSV or XLSX with a line of headings. Nothing is taken before you have seen what it does.
        </span>
      </div>
      {upload.isError && <Refusal error={upload.error} />}
      {found.isError && <Refusal error={found.error} />}
      {found.data && (
        <Steps key={`${found.data.id} ${found.data.state === "opening"}`} found={found.data} onLeave={leave} />
      )}
    </section>
  );
}

/** A list from its headings to what it does, step by step. */
export function Steps({ found, onLeave }: { found: ListImport; onLeave: () => void }) {
  const { check, take } = useImportSteps(found.id);
  const [matching, setMatching] = useState<Record<string, number>>(found.matching);
  const busy = isBusy(found);
  const heads = found.heads.map((h, n) => ({ id: String(n), name: h || `column ${n + 1}` }));
  const missing = found.columns.filter((c) => c.needed && matching[c.id] === undefined);
  const match = (column: string, place: string) => {
    const next = { ...matching };
    for (const other of Object.keys(next)) if (String(next[other]) === place) delete next[other];
    if (place === "") delete next[column];
    else next[column] = Number(place);
    setMatching(next);
  };
  return (
    <div className={styles.steps}>
      <b>{found.name}</b>
      {(found.state === "new" || found.state === "checked" || found.state === "failed") && found.heads.length > 0 && (
        <>
          <p className={styles.note}>Which heading is what? The first row says: {example(found)}</p>
          <div className={styles.columns}>
            {found.columns.map((c) => (
              <One
                key={c.id}
                label={c.title}
                value={String(matching[c.id] ?? "")}
                none={c.needed ? "not in it: for known ones only" : "not in it"}
                choices={heads}
                onChange={(place) => match(c.id, place)}
              />
            ))}
          </div>
          {missing.length > 0 && (
            <p className={styles.note}>
              Without {missing.map((c) => c.title).join(" and ")}, rows can change what is known and add nothing.
            </p>
          )}
        </>
      )}
      {busy && (
        <div role="status">
          {busyWith(found)}
          <LinearProgress
            aria-label="How far it is"
            variant={found.total > 0 && found.state === "checking" ? "determinate" : "indeterminate"}
            value={found.total > 0 ? (100 * found.done) / found.total : 0}
          />
          <span className={styles.note}>You can leave; a worker goes on with it.</span>
        </div>
      )}
      {found.says && <p role="alert">{found.says}</p>}
      {found.told.length > 0 && !busy && (
        <ul className={styles.told} aria-label="What it would do">
          {found.told.map((t) => (
            <li key={t}>{t}</li>
          ))}
        </ul>
      )}
      {found.guessed.length > 0 && !busy && (
        <ul className={styles.told} aria-label="What was guessed">
          <li>Guessed, so look whether it is right:</li>
          {found.guessed.map((f) => (
            <li key={`${f.place} ${f.says}`}>
              <b>{f.place}</b> {f.says}
            </li>
          ))}
        </ul>
      )}
      {found.faults.length > 0 && !busy && (
        <ul className={styles.faults} aria-label="Faults">
          {found.faults.map((f) => (
            <li key={`${f.place} ${f.says}`}>
              <b>{f.place}</b> {f.says} {f.cure}
            </li>
          ))}
        </ul>
      )}
      <div className={styles.line}>
        {!busy && found.state !== "taken" && found.heads.length > 0 && (
          <Button
            variant={found.state === "checked" ? "outlined" : "contained"}
            loading={check.isPending}
            autoFocus={found.state === "new"}
            onClick={() => check.mutate(matching)}
          >
            {found.state === "new" ? "Check it" : "Check it again"}
          </Button>
        )}
        {found.state === "checked" && found.good > 0 && (
          <Button variant="contained" autoFocus loading={take.isPending} onClick={() => take.mutate(found.bad > 0)}>
            {found.bad > 0
              ? `Take the ${found.good === 1 ? "good row" : `${found.good} good rows`}, leave ${found.bad}`
              : `Take ${found.good}`}
          </Button>
        )}
        <Button color="inherit" onClick={onLeave}>
          {found.state === "taken" ? "Done" : "Leave it"}
        </Button>
        {found.state === "taken" && <span role="status">Taken. One undo takes all of it back.</span>}
      </div>
    </div>
  );
}

function busyWith(found: ListImport): string {
  if (found.state === "opening") return "Opening the sheet …";
  return found.state === "checking" ? `Checking: ${found.done} of ${found.total || "?"} rows` : "Taking it over …";
}

function example(found: ListImport): string {
  const first = found.first[0] ?? [];
  return found.heads
    .map((h, n) => `${h}: ${first[n] || "empty"}`)
    .slice(0, 6)
    .join(", ");
}
