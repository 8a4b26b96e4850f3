import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, api } from "../api/client";
import { Clashes } from "../shared/Consequences";
import { momentOf } from "../shared/days";
import { useSays } from "../shared/Says";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useAddress } from "../shared/useAddress";
import { useChanged } from "../shared/useHistory";
import { useRights } from "../shared/useSession";
import styles from "./Comparing.module.css";
import type { Line, RevisionLine } from "./useComparing";
import { partsOf, useCameOfIt, useGoBack, useLine, useUndoSome, useWords } from "./useComparing";

/** So many revisions are drawn at once: words are made for these only. */
const PAGE = 40;

/** The revisions of a document, the newest first: who, when, what changed; named, gone back to, held against now. */
export function LineView() {
  const [params] = useAddress();
  const of = params.get("of") ?? "";
  const line = useLine(of);
  if (of === "") return <Empty title="No document is chosen." />;
  if (line.isError) return <Trouble error={line.error} again={() => line.refetch()} />;
  if (!line.data) return <Waiting what="the revisions" />;
  return <Revisions key={of} of={of} line={line.data} />;
}

function matches(r: RevisionLine, words: string, by: string, kind: string): boolean {
  if (by !== "" && r.by !== by) return false;
  if (kind === "named" && r.name === "") return false;
  if (kind === "released" && !r.released) return false;
  if (kind === "settled" && r.settled === 0) return false;
  return `${r.number} ${r.name} ${r.note} ${r.by}`.toLowerCase().includes(words.toLowerCase());
}

function Revisions({ of, line }: { of: string; line: Line }) {
  const [params, change] = useAddress();
  const [words, setWords] = useState("");
  const [by, setBy] = useState("");
  const [kind, setKind] = useState("");
  const [most, setMost] = useState(PAGE);
  const authors = [...new Set(line.revisions.map((r) => r.by))].sort();
  const found = line.revisions.filter((r) => matches(r, words, by, kind));
  const shown = found.slice(0, most);
  const told = useWords(
    of,
    shown.slice(-PAGE).map((r) => r.number),
  );
  const first = useWords(
    of,
    shown.slice(0, PAGE).map((r) => r.number),
  );
  const says = new Map([...(told.data ?? []), ...(first.data ?? [])].map((w) => [w.number, w]));
  const at = params.get("revision");
  return (
    <>
      <div className={screen.top}>
        <h1>{line.name}</h1>
        <span>its revisions, the newest first</span>
        <span className={screen.right}>
          {found.length} of {line.revisions.length}
        </span>
      </div>
      <div className={styles.filters}>
        <TextField label="Words" value={words} onChange={(e) => setWords(e.target.value)} sx={{ width: 200 }} />
        <TextField select label="By" value={by} onChange={(e) => setBy(e.target.value)} sx={{ width: 150 }}>
          <MenuItem value="">anybody</MenuItem>
          {authors.map((a) => (
            <MenuItem key={a} value={a}>
              {a}
            </MenuItem>
          ))}
        </TextField>
        <TextField select label="Which" value={kind} onChange={(e) => setKind(e.target.value)} sx={{ width: 190 }}>
          <MenuItem value="">all</MenuItem>
          <MenuItem value="named">named ones</MenuItem>
          <MenuItem value="released">the released one</MenuItem>
          <MenuItem value="settled">those that decided clashes</MenuItem>
        </TextField>
      </div>
      {found.length === 0 && <Empty title="No revision is like that." />}
      <ol className={styles.line} aria-label="Revisions">
        {shown.map((r) => (
          <Revision
            key={r.number}
            of={of}
            line={line}
            revision={r}
            says={says.get(r.number)}
            open={at === String(r.number)}
            onOpen={(open) => change({ revision: open ? String(r.number) : null }, true)}
          />
        ))}
      </ol>
      {found.length > most && (
        <div className={styles.more}>
          <Button variant="outlined" color="inherit" onClick={() => setMost(most + PAGE)}>
            {Math.min(PAGE, found.length - most)} older ones
          </Button>
        </div>
      )}
    </>
  );
}

interface RevisionProps {
  of: string;
  line: Line;
  revision: RevisionLine;
  says: { says: string[]; count: number } | undefined;
  open: boolean;
  onOpen: (open: boolean) => void;
}

function Revision({ of, line, revision: r, says, open, onOpen }: RevisionProps) {
  const rights = useRights();
  const goBack = useGoBack(of);
  const compare = new URLSearchParams({ left: of, right: `${of}~${r.number}` });
  const marks = [r.newest && "here now", r.released && "released", r.undone && "taken back since"].filter(Boolean);
  const oldest = line.revisions.at(-1)?.number;
  return (
    <li className={r.newest || r.released ? styles.marked : undefined}>
      <div className={styles.head}>
        <b>
          {r.number}
          {r.name && `, ${r.name}`}
        </b>
        {marks.length > 0 && <em>{marks.join(", ")}</em>}
        <span>
          {momentOf(r.at)}, {r.by}
        </span>
        {r.note && <span className={styles.note}>{r.note}</span>}
        {r.settled > 0 && <span>decided {r.settled === 1 ? "a clash" : `${r.settled} clashes`}</span>}
      </div>
      {says && (
        <p className={styles.says}>
          {r.number === oldest ? `The first one, with ${says.count} things in it.` : said(says)}
        </p>
      )}
      <div className={styles.do}>
        <Button size="small" color="inherit" aria-expanded={open} onClick={() => onOpen(!open)}>
          What came of it
        </Button>
        {!r.newest && (
          <Button
            size="small"
            color="inherit"
            component={Link}
            to={{ pathname: "/profiles/compare", search: compare.toString() }}
          >
            Hold it against now
          </Button>
        )}
        {!r.newest && rights.edit && (
          <Button
            size="small"
            color="inherit"
            loading={goBack.isPending}
            onClick={() => goBack.mutate({ number: r.number, seen: line.newest })}
          >
            Back to this one
          </Button>
        )}
      </div>
      {open && <CameOfIt of={of} revision={r} />}
    </li>
  );
}

function said({ says, count }: { says: string[]; count: number }): string {
  if (count === 0) return "Nothing differs from the one before.";
  return `${says.join(" ")}${count > says.length ? ` And ${count - says.length} more.` : ""}`;
}

function CameOfIt({ of, revision }: { of: string; revision: RevisionLine }) {
  const found = useCameOfIt(of, revision.number);
  const rights = useRights();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const undo = useUndoSome(() => setChosen(new Set()));
  if (found.isError) return <Trouble error={found.error} again={() => found.refetch()} />;
  if (!found.data) return <Waiting what="what came of it" />;
  const { says, count, change } = found.data;
  const one = says.length > 1 && change !== null && rights.edit && !revision.undone;
  const set = (id: string, on: boolean) => {
    const next = new Set(chosen);
    if (on) next.add(id);
    else next.delete(id);
    setChosen(next);
  };
  return (
    <section className={styles.came} aria-label={`What came of revision ${revision.number}`}>
      <ul>
        {says.map((s) => (
          <li key={s.id}>
            {one ? (
              <FormControlLabel
                control={
                  <Switch size="small" checked={chosen.has(s.id)} onChange={(e) => set(s.id, e.target.checked)} />
                }
                label={s.says}
              />
            ) : (
              s.says
            )}
          </li>
        ))}
        {count > says.length && <li>And {count - says.length} more.</li>}
      </ul>
      <div role="status" className={styles.clashes}>
        <Clashes title={solved("Solved", found.data.solved)} says={found.data.solves} all={found.data.solved} />
        <Clashes title={solved("Made", found.data.made)} says={found.data.makes} all={found.data.made} />
      </div>
      {one && (
        <Button
          size="small"
          variant="outlined"
          color="inherit"
          disabled={chosen.size === 0}
          loading={undo.isPending}
          onClick={() => undo.mutate({ change, differences: { [of]: [...chosen] } })}
        >
          Undo {chosen.size || "what is chosen"} of these alone
        </Button>
      )}
      {rights.edit && <Name of={of} revision={revision} />}
    </section>
  );
}

function solved(verb: string, number: number): string {
  if (number === 0) return `${verb} no clash.`;
  return number === 1 ? `${verb} 1 clash:` : `${verb} ${number} clashes:`;
}

function Name({ of, revision }: { of: string; revision: RevisionLine }) {
  const [name, setName] = useState(revision.name);
  const changed = useChanged();
  const says = useSays();
  const give = useMutation({
    mutationFn: () =>
      answer(
        api.PUT("/api/documents/{kind}/{doc_id}/revisions/{number}/name", {
          params: { path: { ...partsOf(of), number: revision.number } },
          body: { name },
        }),
      ),
    onSuccess: async (now) => {
      await changed();
      says.done(
        now.name ? `Revision ${now.number} is called ${now.name} now.` : `Revision ${now.number} has no name now.`,
      );
    },
    onError: says.refused,
  });
  return (
    <form
      className={styles.name}
      onSubmit={(e) => {
        e.preventDefault();
        give.mutate();
      }}
    >
      <TextField label="Its name" value={name} onChange={(e) => setName(e.target.value)} sx={{ width: 220 }} />
      <Button
        type="submit"
        color="inherit"
        variant="outlined"
        disabled={name === revision.name}
        loading={give.isPending}
      >
        Name it
      </Button>
    </form>
  );
}
