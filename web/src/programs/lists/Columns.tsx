import { One } from "../../shared/fields";
import { PlatformsChoice } from "../making/PlatformsChoice";
import styles from "./List.module.css";
import type { Asked, Field, List } from "./useList";
import { FIELDS } from "./useList";

/** What each column of the sheet is; what was guessed of it. */
export function Columns({ list, onAsk }: { list: List; onAsk: (part: Partial<Asked>) => void }) {
  return (
    <section className={styles.columns} aria-label="What its columns are">
      {list.heads.map((head, n) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a column is its place
        <span key={n}>
          <One
            label={head || `Column ${n + 1}`}
            value={list.columns[n] ?? ""}
            none="left out"
            choices={FIELDS}
            onChange={(id) => {
              const columns: Record<string, Field> = { ...list.columns };
              for (const [place, field] of Object.entries(columns)) if (field === id) delete columns[place];
              if (id) columns[n] = id as Field;
              else delete columns[n];
              onAsk({ columns, head: list.head });
            }}
          />
        </span>
      ))}
      {Object.values(list.columns).includes("keys") && list.keys_may_count_on.length > 1 && (
        <span className={styles.where}>
          Keys that name no platform count on
          <PlatformsChoice
            value={list.keys_count_on}
            of={list.keys_may_count_on}
            label="Where keys count that name no platform"
            onChange={(platforms) => platforms.length > 0 && onAsk({ platforms })}
          />
        </span>
      )}
      {list.says.length > 0 && <p>{list.says.join(" ")}</p>}
    </section>
  );
}
