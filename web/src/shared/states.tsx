import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { wordsOf } from "./Says";
import styles from "./states.module.css";

export function Waiting({ what }: { what: string }) {
  return (
    <p className={styles.state} role="status">
      Loading {what} …
    </p>
  );
}

/** A screen that can't be shown: what happened, what is safe, what to do. */
export function Trouble({ error, again }: { error: unknown; again: () => void }) {
  const [title, ...more] = wordsOf(error);
  return (
    <div className={styles.state} role="alert">
      <h2>{title}</h2>
      {more.map((line) => (
        <p key={line}>{line}</p>
      ))}
      <Button variant="outlined" onClick={again}>
        Try again
      </Button>
    </div>
  );
}

interface EmptyProps {
  title: string;
  children?: ReactNode;
  /** It is all that the screen has. */
  whole?: boolean;
}

/** Nothing to show, and what to do next. */
export function Empty({ title, children, whole = false }: EmptyProps) {
  return (
    <div className={styles.state}>
      {whole ? <h1>{title}</h1> : <h2>{title}</h2>}
      {children}
    </div>
  );
}
