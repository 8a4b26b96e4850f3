import type { Schemas } from "../api/client";
import styles from "./Caps.module.css";

interface CapsProps {
  shortcut: Pick<Schemas["ShortcutOut"], "caps" | "words">;
  /** What stands between the presses of a sequence. */
  then?: string;
}

/** A shortcut as key caps, printed in the language of the keyboard; read aloud as words. */
export function Caps({ shortcut, then = "then" }: CapsProps) {
  return (
    <span className={styles.caps}>
      <span className="unseen">{shortcut.words}</span>
      {shortcut.caps.map((press, n) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the presses of a sequence have no other identity than their place
        <span key={n} className={styles.press} aria-hidden="true">
          {n > 0 && <span className={styles.then}>{then}</span>}
          {press.map((cap) => (
            <kbd key={cap} className={styles.cap}>
              {cap}
            </kbd>
          ))}
        </span>
      ))}
    </span>
  );
}
