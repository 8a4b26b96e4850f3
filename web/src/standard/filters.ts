import type { Standard, State, Task } from "./useStandard";

/** Which rows and columns of the matrix; "" asks for nothing. */
export interface Filters {
  words: string;
  keys: string;
  state: string;
  group: string;
  program: string;
  family: string;
  department: string;
  layout: string;
}

const NAMES = ["words", "keys", "state", "group", "program", "family", "department", "layout"] as const;

export const NOTHING: Filters = {
  words: "",
  keys: "",
  state: "",
  group: "",
  program: "",
  family: "",
  department: "",
  layout: "",
};

export function filtersFrom(params: URLSearchParams): Filters {
  return Object.fromEntries(NAMES.map((n) => [n, params.get(`s.${n}`) ?? ""])) as unknown as Filters;
}

/** The parts of the address that say a change of filters. */
export function addressOf(change: Partial<Filters>): Record<string, string | null> {
  return Object.fromEntries(Object.entries(change).map(([name, value]) => [`s.${name}`, value || null]));
}

export function isAsked(filters: Filters): boolean {
  return NAMES.some((n) => filters[n] !== "");
}

/** "open" stands for whatever could agree and doesn't; a task without a line is in no state. */
export const OPEN: State[] = ["unbound", "differs", "clashes"];

function isIn(task: Task, state: string, program: string): boolean {
  if (state === "no_line") return task.line === null;
  const cells = program ? task.cells.filter((c) => c.program === program) : task.cells;
  return cells.some((c) => (state === "open" ? OPEN.includes(c.state) : c.state === state));
}

/** The tasks that are looked for, in their order. `onKeys`: those that the keys asked for have to do with; null for all. */
export function rowsOf(data: Standard, filters: Filters, onKeys: ReadonlySet<string> | null): Task[] {
  const { words, state, group, program, family } = filters;
  const asked = words.toLowerCase().split(/\s+/).filter(Boolean);
  const name = new Map(data.families.map((f) => [f.id, f.name]));
  return data.tasks.filter((task) => {
    if (group && task.group !== group) return false;
    if (family && task.family !== family) return false;
    if (program && !task.cells.some((c) => c.program === program)) return false;
    if (state && !isIn(task, state, program)) return false;
    if (onKeys !== null && !onKeys.has(task.id)) return false;
    if (asked.length === 0) return true;
    const text = [
      task.name,
      ...task.other_words,
      task.group,
      (task.family && name.get(task.family)) ?? "",
      task.line?.shortcut.words ?? "",
      ...task.cells.flatMap((c) => c.keys.map((k) => k.words)),
    ]
      .join(" ")
      .toLowerCase();
    return asked.every((w) => text.includes(w));
  });
}

/** Rows with the heads of their groups between them. */
export type Item =
  | { kind: "group"; name: string; before: string }
  | { kind: "task"; task: Task; family: "" | "first" | "middle" | "last" };

export function itemsOf(tasks: Task[]): Item[] {
  const items: Item[] = [];
  tasks.forEach((task, n) => {
    const before = tasks[n - 1];
    const after = tasks[n + 1];
    if (task.group && task.group !== before?.group) items.push({ kind: "group", name: task.group, before: task.id });
    const same = (other: Task | undefined) =>
      task.family !== null && other?.family === task.family && other.group === task.group;
    const family = !same(before) && !same(after) ? "" : !same(before) ? "first" : same(after) ? "middle" : "last";
    items.push({ kind: "task", task, family });
  });
  return items;
}
