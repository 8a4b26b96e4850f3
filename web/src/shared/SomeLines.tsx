import styles from "./SomeLines.module.css";

interface SomeLinesProps {
  title: string;
  lines: string[];
  bad?: boolean;
}

/** Lines below what they are, as part of what a change would do; nothing where there are none. */
export function SomeLines({ title, lines, bad = false }: SomeLinesProps) {
  if (lines.length === 0) return null;
  return (
    <>
      <h3 className={`${styles.title} ${bad ? styles.bad : ""}`}>{title}</h3>
      <ul className={styles.lines}>
        {lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
    </>
  );
}
