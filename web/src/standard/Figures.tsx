import { byPeople, plainly, STATE_WORDS } from "./cells";
import type { Filters } from "./filters";
import { OPEN } from "./filters";
import styles from "./Standard.module.css";
import type { Count, Standard, State } from "./useStandard";

interface FiguresProps {
  data: Standard;
  filters: Filters;
  change: (part: Partial<Filters>) => void;
}

const SHOWN: State[] = ["differs", "unbound", "clashes", "cannot", "excepted"];
const NAMES: Partial<Record<State, string>> = {
  differs: "Departures",
  unbound: "Unbound",
  clashes: "Clashes",
  cannot: "Can't",
  excepted: "Excepted",
};

/** How far we are; every figure opens what it counts. */
export function Figures({ data, filters, change }: FiguresProps) {
  const count = (state: State) => data.states.find((s) => s.state === state)?.count ?? 0;
  const open = OPEN.reduce((sum, s) => sum + count(s), 0);
  const press = (state: string) => change({ state: filters.state === state ? "" : state });
  const without = data.tasks.filter((t) => t.line === null).length;
  return (
    <>
      <span role="status">
        <button
          type="button"
          className={styles.figure}
          aria-pressed={filters.state === "open"}
          onClick={() => press("open")}
          title={`${data.whole.agree} of ${data.whole.could} that could agree do. Press to see the ${open} that don't.`}
        >
          <b>{plainly(data.whole)}</b> of what could agree does, <b>{byPeople(data.whole)}</b> by people
        </button>
      </span>
      <Course points={data.points} />
      <span className={styles.states}>
        {SHOWN.map((s) => (
          <button
            key={s}
            type="button"
            className={styles.figure}
            aria-pressed={filters.state === s}
            onClick={() => press(s)}
            title={`Tasks that some program here has so: ${STATE_WORDS[s]}`}
          >
            {NAMES[s]} <b>{count(s)}</b>
          </button>
        ))}
        <button
          type="button"
          className={styles.figure}
          aria-pressed={filters.state === "no_line"}
          onClick={() => press("no_line")}
          title="Tasks of which the standard says nothing"
        >
          No line <b>{without}</b>
        </button>
        <button
          type="button"
          className={styles.figure}
          aria-pressed={filters.state === "agrees"}
          onClick={() => press("agrees")}
          title="Tasks that some program here has as the standard says"
        >
          Agree <b>{count("agrees")}</b>
        </button>
      </span>
    </>
  );
}

/** Coverage by department; a figure shows its people's setups alone. */
export function Departments({ data, filters, change }: FiguresProps) {
  if (data.departments.length === 0) return null;
  return (
    <fieldset className={styles.departments} aria-label="Agreement by department">
      {data.departments.map((d) => (
        <button
          key={d.id}
          type="button"
          className={styles.figure}
          aria-pressed={filters.department === d.id}
          onClick={() => change({ department: filters.department === d.id ? "" : d.id })}
          title={`${d.name}: ${plainly(d.covered)} agree, ${byPeople(d.covered)} by people. Press to look at its people alone.`}
        >
          {d.name} <b>{plainly(d.covered)}</b>
          <Bar count={d.covered} />
        </button>
      ))}
    </fieldset>
  );
}

export function Bar({ count }: { count: Count }) {
  const share = count.could ? (100 * count.agree) / count.could : 0;
  return (
    <i className={styles.bar} aria-hidden="true">
      <i style={{ width: `${share}%` }} />
    </i>
  );
}

const WIDE = 84;
const HIGH = 18;

/** Coverage by people at each revision, as a small line. */
export function Course({ points }: { points: Standard["points"] }) {
  const shares = points.flatMap((p) =>
    p.covered.people_could ? [p.covered.people_agree / p.covered.people_could] : [],
  );
  const last = points.at(-1);
  if (shares.length < 2 || !last) return null;
  const least = Math.min(...shares);
  const range = Math.max(0.02, Math.max(...shares) - least);
  const at = shares.map((s, n) => {
    const x = 2 + ((WIDE - 4) * n) / (shares.length - 1);
    return `${x.toFixed(1)},${(HIGH - 3 - ((HIGH - 6) * (s - least)) / range).toFixed(1)}`;
  });
  const told = points
    .map((p) => `revision ${p.revision}${p.released ? ", released" : ""}: ${byPeople(p.covered)}`)
    .join("; ");
  return (
    <svg
      width={WIDE}
      height={HIGH}
      role="img"
      aria-label={`By people, over revisions: ${told}`}
      className={styles.course}
    >
      <title>{told}</title>
      <polyline points={at.join(" ")} fill="none" stroke="currentColor" strokeWidth="1.4" />
      {points.map(
        (p, n) =>
          p.released && (
            <circle key={p.at} cx={at[n]?.split(",")[0]} cy={at[n]?.split(",")[1]} r="2.4" fill="currentColor" />
          ),
      )}
    </svg>
  );
}
