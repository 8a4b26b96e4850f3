import styles from "./Rollouts.module.css";
import type { Stand, Wave } from "./useRollouts";
import { STANDS } from "./words";

const MOST_SINGLE = 48;

export function Mark({ state }: { state: Stand }) {
  return <i className={`${styles.m} ${styles[state.replace(" ", "")] ?? ""}`} aria-hidden="true" />;
}

/** A wave's machines on its line, as far as it has run: each a mark; of many, a mark and a number for those that stand alike. */
export function Run({ wave }: { wave: Wave }) {
  const to = wave.many === 0 ? 0 : Math.round((100 * wave.done) / wave.many);
  return (
    <div className={styles.run} style={{ "--to": `${to}%` } as React.CSSProperties}>
      {wave.many <= MOST_SINGLE
        ? wave.parts.flatMap((p) =>
            p.machines.map((m) => (
              <span key={m.id} title={`${m.name}: ${STANDS[p.state]}`} style={{ lineHeight: 0 }}>
                <Mark state={p.state} />
              </span>
            )),
          )
        : wave.parts.map((p) => (
            <span key={p.state} className={styles.counted}>
              <Mark state={p.state} /> {p.machines.length.toLocaleString("en")}
            </span>
          ))}
      <span className="unseen">
        {wave.parts.map((p) => `${STANDS[p.state]}: ${p.machines.map((m) => m.name).join("; ")}. `)}
      </span>
    </div>
  );
}

export function Legend() {
  return (
    <div className={styles.key} aria-hidden="true">
      {(["in step", "stopped", "silent", "own change", "asked", "to come"] as Stand[]).map((state) => (
        <span key={state}>
          <Mark state={state} />
          {STANDS[state]}
        </span>
      ))}
    </div>
  );
}
