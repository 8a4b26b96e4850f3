import type { Schemas } from "../../api/client";
import styles from "./Described.module.css";
import type { Read } from "./useDescribed";

interface FileLinesProps {
  lines: string[];
  read: Read | undefined;
  tried: Schemas["WouldWriteOut"] | null | undefined;
}

/** The dropped file: what is read is underlined, what can't be read marked, what would be written stands in its place. */
export function FileLines({ lines, read, tried }: FileLinesProps) {
  const said = new Set(read?.entries.map((e) => e.line));
  const amber = new Set([
    ...(read?.unread.map((u) => u.line) ?? []),
    ...(read?.entries.filter((e) => e.command === null).map((e) => e.line) ?? []),
  ]);
  const other = new Map(tried?.lines.map((t) => [t.line, t]));
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, by keys too
    <ol className={styles.file} aria-label="The file" tabIndex={0}>
      {lines.map((line, n) => {
        const number = n + 1;
        const change = other.get(number);
        return (
          <li key={number} data-amber={amber.has(number) || undefined}>
            <span aria-hidden="true">{number}</span>
            <code data-read={said.has(number) || undefined}>{change ? <del>{change.before}</del> : line}</code>
            {change && <ins>{change.after}</ins>}
          </li>
        );
      })}
    </ol>
  );
}
