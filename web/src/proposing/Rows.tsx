import Button from "@mui/material/Button";
import { Caps } from "../keyboard/Caps";
import styles from "./Propose.module.css";
import type { AskedOf, Line, Point } from "./useProposals";

export type Shown = "changed" | "all" | "commands" | "clashes";

interface RowsProps {
  point: Point;
  against: Point | null;
  shown: Shown;
  pins: AskedOf["pins"];
  onPin: ((pins: AskedOf["pins"]) => void) | null;
  /** Asks what it would come to if a line's key weren't to be had. */
  onWithout: ((line: Line) => void) | null;
}

const DOES: Record<Point["changes"][number]["does"], string> = {
  follows: "follows",
  keeps: "keeps its own",
  moves: "moves to",
  loses: "loses its key",
  further: "keeps a further key",
  clears: "gives up",
};

/** The rows of a plan: tasks with their keys and why, or who keeps what, or what clashes. */
export function Rows({ point, against, shown, pins, onPin, onWithout }: RowsProps) {
  if (shown === "commands") return <Commands point={point} />;
  if (shown === "clashes") return <Clashes point={point} />;
  const lines = shown === "all" ? point.lines : point.lines.filter((line) => differs(line, against));
  if (lines.length === 0) return <p className={styles.note}>Nothing differs.</p>;
  return (
    <ul className={styles.rows} aria-label="Tasks">
      {lines.map((line) => {
        const first = line.tasks[0];
        if (!first) return null;
        const pinned = pins.some((p) => line.tasks.some((t) => t.task === p.task));
        return (
          <li key={`${first.task} ${line.layouts.join(" ")}`} className={styles.row}>
            <b>
              {line.tasks.map((t) => t.name).join(", ")}
              {line.layouts.length > 0 && <small> on {line.layouts.join(", ")}</small>}
              {pinned && <em className={styles.pinned}>pinned</em>}
            </b>
            <span className={styles.keys}>
              {line.tasks.slice(0, 2).map((t) => (
                <Caps key={t.task} shortcut={t.keys} />
              ))}
            </span>
            <span className={styles.why}>
              {why(line, against).join(" ")}
              {onWithout && !line.pinned && (
                <button
                  type="button"
                  className={styles.without}
                  aria-label={`Do without it: ${first.keys.words} for ${first.name}`}
                  onClick={() => onWithout(line)}
                >
                  Do without it
                </button>
              )}
            </span>
            <span className={styles.people}>
              {line.relearned > 0 ? `${line.relearned.toLocaleString("en")} relearn it` : "nobody relearns"}
              {onPin && !pinned && (
                <Button
                  color="inherit"
                  aria-label={`Pin ${first.name}`}
                  onClick={() =>
                    onPin([...pins, ...line.tasks.map((t) => ({ task: t.task, keys: t.keys.text, family: false }))])
                  }
                >
                  Pin
                </Button>
              )}
            </span>
          </li>
        );
      })}
    </ul>
  );
}

function before(line: Line, against: Point | null): Map<string, string> {
  if (against === null)
    return new Map(line.tasks.flatMap((t) => (t.before ? [[t.task, t.before.words] as const] : [])));
  const found = against.lines.flatMap((o) => (o.layouts.join() === line.layouts.join() ? o.tasks : []));
  const mine = new Set(line.tasks.map((t) => t.task));
  return new Map(found.filter((t) => mine.has(t.task)).map((t) => [t.task, t.keys.words]));
}

function differs(line: Line, against: Point | null): boolean {
  const had = before(line, against);
  return (
    line.tasks.some((t) => had.get(t.task) !== t.keys.words) && (against !== null || line.relearned > 0 || had.size > 0)
  );
}

function why(line: Line, against: Point | null): string[] {
  const had = before(line, against);
  const was = line.tasks.flatMap((t) => {
    const old = had.get(t.task);
    return old && old !== t.keys.words ? [old] : [];
  });
  return [
    ...(was.length ? [`${was.join(", ")} before.`] : []),
    ...line.why,
    ...(line.keep.length
      ? [`${line.keep.join(", ")} ${line.keep.length === 1 ? "keeps its own" : "keep their own"}.`]
      : []),
    ...(line.second !== null && line.second > 0
      ? [`Any other key costs about ${line.second.toLocaleString("en")} points more.`]
      : []),
  ];
}

function Commands({ point }: { point: Point }) {
  if (point.changes.length === 0)
    return <p className={styles.note}>Every program follows, and nobody has to make room.</p>;
  return (
    <ul className={styles.rows} aria-label="Commands">
      {point.changes.map((c) => (
        <li key={`${c.program} ${c.command} ${c.does} ${c.keys?.text ?? ""}`} className={styles.row}>
          <b>
            {c.name} <small>in {c.program_name}</small>
          </b>
          <span className={styles.keys}>
            {DOES[c.does]} {c.keys && <Caps shortcut={c.keys} />}
          </span>
          <span className={styles.why}>{c.why}</span>
          <span className={styles.people}>{c.people === 1 ? "1 person" : `${c.people} people`}</span>
        </li>
      ))}
    </ul>
  );
}

function Clashes({ point }: { point: Point }) {
  if (point.makes.length === 0) return <p className={styles.note}>It makes no clash that there wasn't.</p>;
  return (
    <ul className={styles.rows} aria-label="Clashes made">
      {point.makes.map((c) => (
        <li key={`${c.kind} ${c.keys} ${c.commands.join(" ")}`} className={styles.row}>
          <b>{c.keys}</b>
          <span className={styles.keys}>{c.severity}</span>
          <span className={styles.why}>{c.commands.join(" and ")}</span>
          <span className={styles.people}>{c.people === 1 ? "1 person" : `${c.people} people`}</span>
        </li>
      ))}
    </ul>
  );
}
