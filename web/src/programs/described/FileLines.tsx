import type { Schemas } from "../../api/client";
import styles from "./Described.module.css";
import type { Read } from "./useDescribed";

interface FileLinesProps {
  lines: string[];
  read: Read | undefined;
  tried: Schemas["WouldWriteOut"] | null | undefined;
}

type Place = Read["places"][number];

/** The dropped file: what is read is underlined, what can't be read marked, what would be written stands in its place. */
export function FileLines({ lines, read, tried }: FileLinesProps) {
  const places = new Map<number, Place[]>();
  for (const p of read?.places ?? []) places.set(p.line, [...(places.get(p.line) ?? []), p]);
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
            <code>
              {change ? <del>{change.before}</del> : <Underlined line={line} places={places.get(number) ?? []} />}
            </code>
            {change && <ins>{change.after}</ins>}
          </li>
        );
      })}
    </ol>
  );
}

/** A line with the parts underlined that writing may change; everything else stays as it is. */
function Underlined({ line, places }: { line: string; places: Place[] }) {
  const parts: React.ReactNode[] = [];
  // A place is counted in whole characters, JavaScript counts some of them twice.
  const signs = [...line];
  let at = 0;
  for (const { begin, end } of places) {
    if (begin < at) continue;
    parts.push(signs.slice(at, begin).join(""), <u key={begin}>{signs.slice(begin, end).join("")}</u>);
    at = end;
  }
  return (
    <>
      {parts}
      {signs.slice(at).join("")}
    </>
  );
}
