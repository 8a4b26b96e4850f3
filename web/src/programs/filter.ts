import { strokeKey } from "../keyboard/strokes";
import type { Command } from "./usePrograms";

export type State = "all" | "changed" | "unbound" | "clashing";

export interface Filter {
  words: string;
  state: State;
  /** Strokes (code and sorted modifiers) that a command must have one of; null asks for none. */
  strokes: string[] | null;
}

/** Whether a command is looked for: every word somewhere in it, its state, a stroke that it has. */
export function matches(command: Command, filter: Filter): boolean {
  const text = [command.name, command.description, command.group, command.scope_name, ...command.other_words]
    .concat(command.shortcuts.map((s) => s.words))
    .join(" ")
    .toLowerCase();
  if (
    !filter.words
      .toLowerCase()
      .split(/\s+/)
      .every((w) => text.includes(w))
  )
    return false;
  if (filter.state === "changed" && command.layer === "default") return false;
  if (filter.state === "unbound" && command.shortcuts.length > 0) return false;
  if (filter.state === "clashing" && command.clashes.length === 0) return false;
  const { strokes } = filter;
  return strokes === null || command.shortcuts.some((s) => s.strokes.some((k) => strokes.includes(strokeKey(k))));
}

export function groupsOf(commands: Command[]): [string, Command[]][] {
  const groups = new Map<string, Command[]>();
  for (const c of commands) groups.set(c.group, [...(groups.get(c.group) ?? []), c]);
  return [...groups];
}
