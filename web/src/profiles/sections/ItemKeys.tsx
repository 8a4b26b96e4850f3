import type { Schemas } from "../../api/client";
import { Caps } from "../../keyboard/Caps";
import { PLATFORMS } from "./parts";
import styles from "./Sections.module.css";

interface ItemKeysProps {
  keys: Record<string, Schemas["ShortcutOut"][]>;
  none: string;
}

/** The keys of an item on each platform. */
export function ItemKeys({ keys, none }: ItemKeysProps) {
  const there = PLATFORMS.filter((p) => (keys[p.id] ?? []).length > 0);
  if (there.length === 0) return <p className={styles.quiet}>{none}</p>;
  return (
    <p>
      {there.map((p, n) => (
        <span key={p.id}>
          {n > 0 && ", "}
          {(keys[p.id] ?? []).map((k) => (
            <Caps key={k.text} shortcut={k} />
          ))}{" "}
          <span className={styles.quiet}>on {p.name}</span>
        </span>
      ))}
    </p>
  );
}
