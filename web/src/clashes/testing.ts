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
    taken_at: "system_fixed",
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
