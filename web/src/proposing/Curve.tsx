import type { KeyboardEvent } from "react";
import { useEffect, useRef } from "react";
import styles from "./Propose.module.css";
import type { Proposal } from "./useProposals";

const WIDTH = 1080;
const HEIGHT = 160;
const LEFT = 60;
const FOOT = 24;
const TOP = 30;

interface CurveProps {
  points: Proposal["points"];
  chosen: number | null;
  says: string;
  onChoose: (id: number) => void;
}

/** What relearning buys: each point is the best standard for so many keys relearned. Walked by the arrows. */
export function Curve({ points, chosen, says, onChoose }: CurveProps) {
  const most = Math.max(1, ...points.map((p) => p.relearned));
  const worths = points.map((p) => p.worth);
  const top = Math.max(1, ...worths);
  const low = Math.min(0, ...worths);
  const x = (relearned: number) => LEFT + ((WIDTH - LEFT - 40) * relearned) / most;
  const y = (worth: number) => HEIGHT - FOOT - ((HEIGHT - FOOT - TOP) * (worth - low)) / (top - low);
  const at = points.findIndex((p) => p.id === chosen);
  const now = points[at];
  // Keys are quicker than a point is drawn: each goes on from where the one before leads.
  const aimed = useRef(at);
  const awaited = useRef(false);
  useEffect(() => {
    // What is drawn on the way there doesn't count.
    if (awaited.current && at !== aimed.current) return;
    awaited.current = false;
    aimed.current = at;
  }, [at]);
  const go = (to: number) => {
    aimed.current = Math.max(0, Math.min(points.length - 1, to));
    awaited.current = aimed.current !== at;
    const next = points[aimed.current];
    if (next) onChoose(next.id);
  };
  const onKey = (event: KeyboardEvent) => {
    const step = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (step !== undefined) go(aimed.current + step);
    else if (event.key === "Home") go(0);
    else if (event.key === "End") go(points.length - 1);
    else return;
    event.preventDefault();
  };
  const path = points.map((p, n) => {
    return `${n === 0 ? `M ${x(0)} ${y(0)} H ${x(p.relearned)}` : `H ${x(p.relearned)}`} V ${y(p.worth)}`;
  });
  const right = now !== undefined && x(now.relearned) > WIDTH * 0.6;
  return (
    <div
      className={styles.curve}
      role="slider"
      tabIndex={0}
      aria-label="Keys relearned, over all people"
      aria-valuemin={points[0]?.relearned ?? 0}
      aria-valuemax={points.at(-1)?.relearned ?? 0}
      aria-valuenow={now?.relearned ?? 0}
      aria-valuetext={says}
      onKeyDown={onKey}
    >
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden="true">
        <text x={4} y={12}>
          worth, in points
        </text>
        <line className={styles.axis} x1={LEFT} x2={WIDTH - 20} y1={HEIGHT - FOOT} y2={HEIGHT - FOOT} />
        {[0, top / 2, top].map((worth) => (
          <text key={worth} x={LEFT - 8} y={y(worth) + 4} textAnchor="end">
            {short(worth)}
          </text>
        ))}
        <path className={styles.step} d={`${path.join(" ")} H ${WIDTH - 20}`} />
        {points.map((p) => (
          <g key={p.id}>
            {p.id === chosen ? (
              <>
                <line
                  className={styles.drop}
                  x1={x(p.relearned)}
                  x2={x(p.relearned)}
                  y1={y(p.worth)}
                  y2={HEIGHT - FOOT}
                />
                <rect className={styles.here} x={x(p.relearned) - 8} y={y(p.worth) - 8} width={16} height={16} />
              </>
            ) : (
              // biome-ignore lint/a11y/noStaticElementInteractions: the whole curve is walked by keys
              <circle
                className={styles.point}
                cx={x(p.relearned)}
                cy={y(p.worth)}
                r={5}
                onClick={() => go(points.indexOf(p))}
              />
            )}
            {(p.id === chosen || p === points[0] || p === points.at(-1)) && (
              <text x={x(p.relearned)} y={HEIGHT - 8} textAnchor="middle">
                {p.relearned.toLocaleString("en")}
              </text>
            )}
          </g>
        ))}
        {now && (
          <text
            className={styles.said}
            x={x(now.relearned) + (right ? -18 : 18)}
            y={HEIGHT - FOOT - 10}
            textAnchor={right ? "end" : "start"}
          >
            {says}
          </text>
        )}
      </svg>
    </div>
  );
}

function short(points: number): string {
  return Math.abs(points) >= 10_000 ? `${Math.round(points / 1000)}k` : Math.round(points).toLocaleString("en");
}
