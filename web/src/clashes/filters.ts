import { strokeKey } from "../keyboard/strokes";
import type { Station } from "./stations";
import { DRAWN_AT } from "./stations";
import type { Group } from "./useClashes";

/** Which clashes: those to decide, allowed ones, what was decided, what makers meant. */
export type Tab = "open" | "allowed" | "decided" | "meant";

export const SEVERITIES = ["blocker", "high", "medium", "low"] as const;
export type Severity = (typeof SEVERITIES)[number];

/** What rows are looked for; "" asks for nothing. `severities` are those in sight. */
export interface Filters {
  words: string;
  keys: string;
  kind: string;
  program: string;
  station: string;
  department: string;
  setup: string;
  onlyNew: boolean;
  severities: Severity[];
  order: "people" | "severity";
}

/** What is hard to press troubles people least: it is in sight only where it is asked for. */
export const USUAL: Severity[] = ["blocker", "high", "medium"];

const one = (params: URLSearchParams, name: string) => params.get(`f.${name}`) ?? "";

/** What of an address says filters. */
export function filterParts(params: URLSearchParams): string {
  return new URLSearchParams([...params].filter(([name]) => name.startsWith("f."))).toString();
}

export function filtersFrom(params: URLSearchParams): Filters {
  const asked = one(params, "severity");
  return {
    words: one(params, "words"),
    keys: one(params, "keys"),
    kind: one(params, "kind"),
    program: one(params, "program"),
    station: one(params, "station"),
    department: one(params, "department"),
    setup: one(params, "setup"),
    onlyNew: one(params, "new") === "1",
    severities: asked ? SEVERITIES.filter((s) => asked.split(",").includes(s)) : USUAL,
    order: one(params, "order") === "severity" ? "severity" : "people",
  };
}

/** The parts of the address that say a change of filters. */
export function addressOf(change: Partial<Filters>): Record<string, string | null> {
  const parts: Record<string, string | null> = {};
  for (const [name, value] of Object.entries(change)) {
    if (name === "onlyNew") parts["f.new"] = value ? "1" : null;
    else if (name === "order") parts["f.order"] = value === "severity" ? "severity" : null;
    else if (name === "severities") {
      const wanted = value as Severity[];
      const usual = wanted.length === USUAL.length && USUAL.every((s) => wanted.includes(s));
      parts["f.severity"] = usual ? null : wanted.join(",") || "none";
    } else parts[`f.${name}`] = value as string;
  }
  return parts;
}

export const NOTHING: Partial<Filters> = {
  words: "",
  keys: "",
  kind: "",
  program: "",
  station: "",
  department: "",
  setup: "",
  onlyNew: false,
};

export function isAsked(filters: Filters): boolean {
  return Object.entries(NOTHING).some(([name, nothing]) => filters[name as keyof Filters] !== nothing);
}

function textOf(group: Group, nameOf: (setup: string) => string): string {
  const { subject, holder } = group;
  const parties = [subject, ...(holder ? [holder] : [])];
  return [
    group.says,
    group.taken_says,
    group.meant_says,
    ...parties.flatMap((p) => [p.command_name, p.program_name, p.scope_name, p.shortcut.words]),
    ...group.setups.map(nameOf),
  ]
    .join(" ")
    .toLowerCase();
}

/** Whether a group is looked for, whatever its severity. `strokes`: those of the keys that are asked for; null for none.
 * `nameOf` names setups, which are looked for by words too. */
export function matches(
  group: Group,
  filters: Filters,
  strokes: string[] | null,
  nameOf: (setup: string) => string,
): boolean {
  const { kind, program, station, department, setup } = filters;
  if (kind && group.kind !== kind) return false;
  if (program && group.subject.program !== program && group.holder?.program !== program) return false;
  if (station && place(group.taken_at) !== station) return false;
  if (department && !group.departments.includes(department)) return false;
  if (setup && !group.setups.includes(setup)) return false;
  if (filters.onlyNew && !group.new) return false;
  if (strokes !== null) {
    const own = [...(group.stroke ? [group.stroke] : []), ...group.strokes].map(strokeKey);
    if (!own.some((s) => strokes.includes(s))) return false;
  }
  const words = filters.words.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return true;
  const text = textOf(group, nameOf);
  return words.every((w) => text.includes(w));
}

function place(station: Station | null): string {
  return station === null ? "" : DRAWN_AT[station];
}

/** The rows that are shown, in their order. */
export function shown(groups: Group[], filters: Filters): Group[] {
  const found = groups.filter((g) => filters.severities.includes(g.severity));
  if (filters.order === "people") return found;
  return found.toSorted((a, b) => SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity));
}

export function countsOf(groups: Group[]): Record<Severity, number> {
  const counts = { blocker: 0, high: 0, medium: 0, low: 0 };
  for (const g of groups) counts[g.severity] += 1;
  return counts;
}
