import { Caps } from "../keyboard/Caps";
import styles from "./Cards.module.css";
import type { Card } from "./useCards";

const SHAPES: Record<string, string> = {
  A4: styles.tall ?? "",
  "A4 across": styles.wide ?? "",
  "A4 folded": styles.wide ?? "",
  A5: styles.tall ?? "",
  "A5 across": styles.wide ?? "",
};

/** A card as it will lie on the desk. */
export function Sheet({ card, paper }: { card: Card; paper: string }) {
  return (
    <article className={`${styles.sheet} ${SHAPES[paper] ?? ""}`} aria-label="The card">
      <header>
        <h2>{card.title}</h2>
        <span>{card.organisation}</span>
      </header>
      <div className={styles.parts}>
        {card.parts.map((part) => (
          <section key={part.title} aria-label={part.title}>
            <h3>{part.title}</h3>
            <ul>
              {part.lines.map((line) => (
                <li key={`${line.id} ${line.keys[0]?.text}`}>
                  <span className={styles.line}>
                    <span>
                      {line.name} {line.programs.length > 0 && <small>{line.programs.join(", ")}</small>}
                    </span>
                    <span className={styles.keys}>
                      {line.old.map((k) => (
                        <s key={k.text}>{k.words}</s>
                      ))}
                      {line.keys.map((k) => (
                        <Caps key={k.text} shortcut={k} then={card.between_presses} />
                      ))}
                    </span>
                  </span>
                  {line.notes.map((note) => (
                    <small key={note}>{note}</small>
                  ))}
                </li>
              ))}
            </ul>
          </section>
        ))}
        {card.parts.length === 0 && <p>Nothing stands on it: choose more keys, or other people.</p>}
      </div>
      <footer>{card.foot}</footer>
    </article>
  );
}
