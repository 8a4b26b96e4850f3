import { namesFrom, namesText } from "../../shared/names";
import type { Edit, Edited, EditedCommand } from "./useCatalogue";

/** A row of the sheet: a command as it shall be. `row` names it while it is edited; a new one has no id yet. */
export interface Row {
  row: number;
  id: string | null;
  name: string;
  was: string[];
  group: string;
  scope: string;
  description: string;
  otherWords: string;
  /** Names in other languages, as text. */
  names: string;
  kind: EditedCommand["kind"];
  task: string | null;
  risky: boolean;
  opens: string;
  closes: string | null;
  /** As `by = 1, 5; to`: several with semicolons, each with the values that it may have, if they are named. */
  arguments: string;
  /** How people come to it without a key: what by, and how deep; empty where nothing is said. */
  reachedBy: string;
  retired: boolean;
  keys: Record<string, string>;
}

export interface Draft {
  name: string;
  description: string;
  kind: Edited["kind"];
  platforms: Edited["platforms"];
  scopes: Edit["scopes"];
  rows: Row[];
  next: number;
}

export function draftOf(program: Edited): Draft {
  const rows = program.commands.map((c, n) => ({
    row: n,
    id: c.id,
    name: c.name,
    was: c.was,
    group: c.group,
    scope: c.scope,
    description: c.description,
    otherWords: c.other_words.join("; "),
    names: namesText(c.names),
    kind: c.kind,
    task: c.task,
    risky: c.risky,
    opens: c.opens,
    closes: c.closes,
    arguments: c.arguments.map(argumentText).join("; "),
    reachedBy: c.reached_by ? `${c.reached_by.by} ${c.reached_by.depth ?? 1}` : "",
    retired: c.retired,
    keys: c.keys,
  }));
  return {
    name: program.name,
    description: program.description,
    kind: program.kind,
    platforms: program.platforms,
    scopes: program.scopes.map((s) => ({ id: s.id, name: s.name, parent: s.parent, takes_text: s.takes_text })),
    rows,
    next: rows.length,
  };
}

export function editOf(draft: Draft, digest: string): Edit {
  return {
    digest,
    name: draft.name,
    description: draft.description,
    kind: draft.kind,
    platforms: draft.platforms,
    scopes: draft.scopes,
    commands: draft.rows.map((r) => ({
      ...(r.id ? { id: r.id } : {}),
      name: r.name,
      group: r.group,
      scope: r.scope,
      description: r.description,
      names: namesFrom(r.names),
      other_words: r.otherWords
        .split(/;|\n/)
        .map((w) => w.trim())
        .filter(Boolean),
      kind: r.kind,
      task: r.task,
      risky: r.risky,
      opens: r.opens,
      closes: r.closes,
      arguments: argumentsFrom(r.arguments),
      reached_by: reachedFrom(r.reachedBy),
      retired: r.retired,
      keys: r.keys,
    })),
    chosen: [],
  };
}

type Argument = EditedCommand["arguments"][number];

/** Ways to a command without a key, in the order in which they are offered. */
export const REACHED_BY: Record<string, string> = {
  "button 1": "a button",
  "menu 1": "a menu",
  "menu 2": "a menu in a menu",
  "menu 3": "a menu three deep",
  "dialog 1": "a dialog",
  "dialog 2": "a dialog behind another",
};

function reachedFrom(text: string): EditedCommand["reached_by"] {
  const [by, depth] = text.split(" ");
  return by === "menu" || by === "button" || by === "dialog" ? { by, depth: Number(depth) } : null;
}

function argumentText({ name, values = [], least, most }: Argument): string {
  if (least != null && most != null) return `${name} = ${least} to ${most}`;
  return values.length > 0 ? `${name} = ${values.join(", ")}` : name;
}

/** Arguments as they are typed: semicolons between them, an equals sign before the values that are allowed or their range. */
export function argumentsFrom(text: string): Argument[] {
  const parts = (of: string, at: string) =>
    of
      .split(at)
      .map((p) => p.trim())
      .filter(Boolean);
  return parts(text, ";").map((one) => {
    const at = one.indexOf("=");
    if (at < 0) return { name: one, values: [] };
    const [name, allowed] = [one.slice(0, at).trim(), one.slice(at + 1).trim()];
    const range = /^(-?\d{1,15}) to (-?\d{1,15})$/.exec(allowed);
    if (range) return { name, values: [], least: Number(range[1]), most: Number(range[2]) };
    return { name, values: parts(allowed, ",") };
  });
}

export function sameDraft(a: Draft, b: Draft): boolean {
  return JSON.stringify(editOf(a, "")) === JSON.stringify(editOf(b, ""));
}

/** What is known of a task: its id, and everything that it is called by. */
export interface Known {
  id: string;
  name: string;
  other_words: string[];
}

/** The one task that is called exactly so. */
export function taskCalled(name: string, tasks: Known[]): string | null {
  const asked = name.trim().toLowerCase();
  const by = (says: (t: Known) => string[]) => tasks.filter((t) => says(t).some((w) => w.toLowerCase() === asked));
  const named = by((t) => [t.name]);
  const found = named.length > 0 ? named : by((t) => t.other_words);
  return found.length === 1 && found[0] ? found[0].id : null;
}

/** Commands typed as lines: a name, and behind a colon or a tab the keys on the platform. One that is called as a task is does it. */
export function rowsFrom(text: string, draft: Draft, platform: string, tasks: Known[] = []): Row[] {
  const root = draft.scopes.find((s) => !s.parent)?.id ?? "";
  const last = draft.rows.at(-1);
  return text
    .split("\n")
    .map((line) => line.trim())
    .filter(Boolean)
    .map((line, n) => {
      const [name = "", keys = ""] = line.split(/\t|:\s+|:$/, 2);
      return {
        row: draft.next + n,
        id: null,
        name: name.trim(),
        was: [],
        group: last?.group ?? "",
        scope: last?.scope ?? root,
        description: "",
        otherWords: "",
        names: "",
        kind: "built-in" as const,
        task: taskCalled(name, tasks),
        risky: false,
        opens: "",
        closes: null,
        arguments: "",
        reachedBy: "",
        retired: false,
        keys: keys.trim() ? { [platform]: keys.trim() } : {},
      };
    });
}

/** Faults by the row that they stand in, from places such as `commands[3].keys.windows`. */
export function faultsByRow(
  faults: { place: string; says: string; cure: string }[],
  draft: Draft,
): Map<number, string> {
  const found = new Map<number, string>();
  for (const fault of faults) {
    const at = fault.place.match(/^commands\[(\d+)\]/)?.[1] ?? fault.says.match(/commands\[(\d+)\]/)?.[1];
    const row = at === undefined ? undefined : draft.rows[Number(at)]?.row;
    if (row !== undefined && !found.has(row)) found.set(row, `${fault.says} ${fault.cure}`);
  }
  return found;
}

/** The id that a scope made here is called by until it is saved: the same one that the server would give it. */
export function newScopeId(name: string, taken: string[]): string {
  const base =
    name
      .toLowerCase()
      .normalize("NFKD")
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^-+|-+$/g, "") || "scope";
  let id = base;
  for (let n = 2; taken.includes(id); n += 1) id = `${base}-${n}`;
  return id;
}
