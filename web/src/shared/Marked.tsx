import type { Schemas } from "../api/client";

/** A text with the words that were found in it underlined. */
export function Marked({ text, marks }: { text: string; marks: Schemas["MarkOut"][] }) {
  const parts = [];
  let at = 0;
  for (const { begin, end } of marks) {
    parts.push(text.slice(at, begin), <u key={begin}>{text.slice(begin, end)}</u>);
    at = end;
  }
  return (
    <>
      {parts}
      {text.slice(at)}
    </>
  );
}
