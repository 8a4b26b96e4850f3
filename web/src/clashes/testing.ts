import type { Schemas } from "../api/client";
import { shortcut } from "../testing/stage";
import type { Group } from "./useClashes";

/** A group of clashes as the server tells one, for tests. */
export function group(name: string, parts: Partial<Group> = {}): Group {
  const subject = {
    program: "quaysheet",
    program_name: "Quaysheet",
    command: name,
    command_name: name,
    scope: "sheet",
    scope_name: "Sheet",
    shortcut: shortcut("Meta+L"),
  };
  return {
    identity: name,
    seen_in: "counters",
    focus: null,
    kind: "system_fixed",
    severity: "blocker",
    says: `${name} never gets it.`,
    subject,
    holder: null,
    stroke: null,
    text: "",
    taken_at: "guarded",
    taken_says: "locks the screen",
    meant_for: "program",
    meant_says: "Quaysheet",
    setups: ["counters"],
    departments: [],
    strokes: [],
    new: false,
    may_be_meant: false,
    meaning: null,
    people: 31,
    allowed: null,
    ...parts,
  };
}

/** Groups as they travel: each in tables of its own, which is one of the ways in which they may come. */
export function packed(groups: Group[]): Schemas["PackedOut"] {
  const texts: string[] = [];
  const put = <T>(table: T[], value: T) => table.push(value) - 1;
  const text = (value: string) => put(texts, value);
  const setups: string[] = [];
  const department_ids: string[] = [];
  const strokes: Schemas["StrokeOut"][] = [];
  const shortcuts: Schemas["ShortcutsOut"] = { text: [], words: [], caps: [] };
  const parties: Schemas["PartiesOut"] = {
    program: [],
    program_name: [],
    command: [],
    command_name: [],
    scope: [],
    scope_name: [],
    shortcut: [],
  };
  const party = ({ shortcut: given, ...names }: Group["subject"]) => {
    put(shortcuts.words, text(given.words));
    put(
      shortcuts.caps,
      given.caps.map((press) => press.map(text)),
    );
    put(parties.shortcut, put(shortcuts.text, text(given.text)));
    for (const name of Object.keys(names) as (keyof typeof names)[]) put(parties[name], text(names[name]));
    return parties.program.length - 1;
  };
  const places = (is: (g: Group) => boolean) => groups.flatMap((g, n) => (is(g) ? [n] : []));
  const byPlace = <T>(of: (g: Group) => T | null) =>
    Object.fromEntries(groups.flatMap((g, n) => (of(g) === null ? [] : [[n, of(g)]]))) as Record<string, T>;
  const columns: Schemas["PackedGroupsOut"] = {
    identity: groups.map((g) => g.identity),
    kind: groups.map((g) => g.kind),
    severity: groups.map((g) => g.severity),
    taken_at: groups.map((g) => g.taken_at),
    meant_for: groups.map((g) => g.meant_for),
    seen_in: groups.map((g) => put(setups, g.seen_in)),
    says: groups.map((g) => text(g.says)),
    text: groups.map((g) => text(g.text)),
    taken_says: groups.map((g) => text(g.taken_says)),
    meant_says: groups.map((g) => text(g.meant_says)),
    subject: groups.map((g) => party(g.subject)),
    holder: groups.map((g) => (g.holder ? party(g.holder) : null)),
    stroke: groups.map((g) => (g.stroke ? put(strokes, g.stroke) : null)),
    strokes: groups.map((g) => g.strokes.map((s) => put(strokes, s))),
    focus: groups.map((g) => (g.focus ? [text(g.focus.program), text(g.focus.scope)] : [])),
    setups: groups.map((g) => g.setups.map((s) => put(setups, s))),
    departments: groups.map((g) => g.departments.map((d) => put(department_ids, d))),
    people: groups.map((g) => g.people),
    new: places((g) => g.new),
    may_be_meant: places((g) => g.may_be_meant),
    meaning: byPlace((g) => g.meaning),
    allowed: byPlace((g) => g.allowed),
  };
  return { texts, setups, department_ids, strokes, shortcuts, parties, groups: columns };
}
