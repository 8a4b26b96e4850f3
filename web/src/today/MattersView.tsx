import Button from "@mui/material/Button";
import type { KeyboardEvent } from "react";
import { Link } from "react-router";
import { dayOf } from "../shared/days";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { FeedAddress } from "./FeedAddress";
import styles from "./Matters.module.css";
import type { Matter } from "./useToday";
import { useAside, useToday } from "./useToday";

/** What needs whoever is signed in: what gets worse by a day first, then what touches most people. */
export function MattersView() {
  const today = useToday();
  if (today.isError) return <Trouble error={today.error} again={() => today.refetch()} />;
  if (!today.data) return <Waiting what="what needs you" />;
  const { matters, aside } = today.data;
  const dated = matters.filter((m) => m.worse_on !== null);
  const others = matters.filter((m) => m.worse_on === null);
  return (
    <div className={styles.screen}>
      <div className={screen.top}>
        <h1>Today</h1>
        <span>
          {matters.length === 0
            ? "Nothing needs you."
            : `${matters.length} ${matters.length === 1 ? "thing needs" : "things need"} you`}
        </span>
      </div>
      {matters.length === 0 && (
        <Empty title="Nothing needs you today.">
          <p>
            What is new, runs out, drifts or waits for a yes stands here by itself
            {aside.length > 0 ? "; what you put aside is below" : ""}.
          </p>
        </Empty>
      )}
      <Part title="Gets worse by a day" matters={dated} />
      <Part title={dated.length > 0 ? "Waits" : ""} matters={others} />
      {aside.length > 0 && (
        <details className={styles.aside}>
          <summary>Put aside: {aside.length}</summary>
          <Part title="" matters={aside} aside />
        </details>
      )}
      <FeedAddress has={today.data.feed} />
    </div>
  );
}

interface PartProps {
  title: string;
  matters: Matter[];
  aside?: boolean;
}

function Part({ title, matters, aside = false }: PartProps) {
  if (matters.length === 0) return null;
  const most = Math.max(...matters.map((m) => m.people));
  return (
    <section aria-label={title || (aside ? "Put aside" : "What needs you")}>
      {title && <h2>{title}</h2>}
      <ul className={styles.matters} onKeyDown={walk}>
        {matters.map((m) => (
          <Row key={m.id} matter={m} aside={aside} most={most} />
        ))}
      </ul>
    </section>
  );
}

/** Arrows lead from one matter to the next, whatever of it has the focus. */
function walk(event: KeyboardEvent<HTMLElement>) {
  const step = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
  if (step === 0) return;
  const all = [...event.currentTarget.querySelectorAll<HTMLElement>("[data-matter]")];
  const at = all.findIndex((one) => one.closest("li")?.contains(document.activeElement));
  const next = all[at + step];
  if (next) {
    event.preventDefault();
    next.focus();
  }
}

interface RowProps {
  matter: Matter;
  aside: boolean;
  /** The people of the matter that touches most. */
  most: number;
}

function Row({ matter, aside, most }: RowProps) {
  const { put, back } = useAside();
  return (
    <li>
      <span className={styles.whom}>
        {matter.worse_on && <span className={styles.dated}>{dayOf(matter.worse_on)}</span>}
        {matter.people > 0 && (
          <small>
            {matter.people} {matter.people === 1 ? "person" : "people"}
          </small>
        )}
        {matter.people > 0 && !matter.worse_on && (
          <span className={styles.bar} style={{ width: `${Math.max(4, (100 * matter.people) / most)}%` }} />
        )}
      </span>
      <span className={styles.says}>
        <Link data-matter to={matter.to}>
          {matter.says}
        </Link>
      </span>
      <span className={styles.acts}>
        {aside ? (
          <>
            <small>{matter.until ? `back on ${dayOf(matter.until)}` : "not yours"}</small>
            <Button color="inherit" onClick={() => back.mutate(matter.id)}>
              Bring back
            </Button>
          </>
        ) : (
          <>
            <Button color="inherit" onClick={() => put.mutate({ id: matter.id, how: "until Monday" })}>
              Until Monday
            </Button>
            <Button color="inherit" onClick={() => put.mutate({ id: matter.id, how: "not mine" })}>
              Not mine
            </Button>
          </>
        )}
      </span>
    </li>
  );
}
