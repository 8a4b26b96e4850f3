import type { Cell, Count, ProgramHead, State, Task } from "./useStandard";

export const STATE_WORDS: Record<State, string> = {
  no_line: "no line",
  not_offered: "not offered",
  cannot: "can't",
  excepted: "excepted",
  unbound: "no key",
  differs: "differs",
  clashes: "clashes",
  agrees: "agrees",
};

const NARROWEST = 84;
const BROADEST = 122;

/** How broad a program's column is, in pixels: the more people use it, the broader. */
export function widthOf(program: ProgramHead, most: number): number {
  return Math.round(NARROWEST + (BROADEST - NARROWEST) * Math.sqrt(program.people / Math.max(1, most)));
}

export function percent(agree: number, could: number): string {
  return could === 0 ? "–" : `${Math.round((100 * agree) / could)} %`;
}

export function plainly(count: Count): string {
  return percent(count.agree, count.could);
}

export function byPeople(count: Count): string {
  return percent(count.people_agree, count.people_could);
}

/** A figure both ways: how many of how many, and by people. */
export function inShares(count: Count): string {
  return `${count.agree} of ${count.could}, ${byPeople(count)} by people,`;
}

/** A cell in words, for a screen reader and for whoever points at it. */
export function inWords(cell: Cell | undefined, program: ProgramHead, task: Task): string {
  if (!cell) return `${program.name}: ${task.name} is not offered`;
  const keys = cell.keys.map((k) => k.words).join(" and ");
  const has = cell.state === "agrees" ? "agrees" : `${STATE_WORDS[cell.state]}${keys ? `, ${keys}` : ""}`;
  const why = cell.why ? `, ${cell.why}` : "";
  const people = cell.people === cell.of ? `${cell.of} people` : `${cell.people} of ${cell.of} people`;
  return `${program.name}: ${has}${why}; ${people}`;
}

/** A cell as a spreadsheet has it. */
export function asText(cell: Cell | undefined): string {
  if (!cell) return "";
  const keys = cell.keys.map((k) => k.words).join(" and ");
  return keys ? `${STATE_WORDS[cell.state]}: ${keys}` : STATE_WORDS[cell.state];
}

/** Rows and columns of the matrix as CSV (RFC 4180). No text begins as a formula would. */
export function asCsv(tasks: Task[], programs: ProgramHead[]): string {
  const rows = tasks.map((t) => [
    t.name,
    t.line?.shortcut.words ?? "",
    ...programs.map((p) => asText(t.cells.find((c) => c.program === p.id))),
  ]);
  return [["Task", "Standard", ...programs.map((p) => p.name)], ...rows]
    .map((row) => row.map(quoted).join(","))
    .join("\r\n");
}

function quoted(text: string): string {
  const safe = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
