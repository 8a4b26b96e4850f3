import type { Group } from "./useClashes";

export type Station = Group["meant_for"];

/** The stations that a press passes, in order, as the rows draw them. */
export const STATIONS = [
  { id: "guarded", name: "Keyboard", more: "and guarded" },
  { id: "intercept", name: "Utilities", more: "intercept" },
  { id: "system", name: "System", more: "and launchers" },
  { id: "browser_keeps", name: "Browser", more: "keeps" },
  { id: "program", name: "Program", more: "focus outward" },
  { id: "text", name: "Text", more: "and what is left" },
] as const;

// What comes before every utility is drawn in the first column, what comes behind the program in the last.
export const DRAWN_AT = {
  remap: "guarded",
  input_method: "guarded",
  guarded: "guarded",
  intercept: "intercept",
  system: "system",
  browser_keeps: "browser_keeps",
  program: "program",
  menu: "text",
  browser: "text",
  system_last: "text",
  text: "text",
} as const satisfies Record<Station, (typeof STATIONS)[number]["id"]>;

export type Segment = "run" | "stop" | "want" | "goal" | "off";

/** How the line of a press looks at each station: running, stopped, the dotted rest, where it should have gone. */
export function segments(group: Pick<Group, "taken_at" | "meant_for">): Segment[] {
  const ids = STATIONS.map((s) => s.id);
  const place = (station: Station) => ids.indexOf(DRAWN_AT[station]);
  const taken = group.taken_at === null ? -1 : place(group.taken_at);
  const meant = place(group.meant_for);
  return ids.map((_, n) => {
    if (taken < 0) return n === 0 ? "stop" : n < meant ? "want" : n === meant ? "goal" : "off";
    if (n < taken) return "run";
    if (n === taken) return "stop";
    if (n < meant) return "want";
    return n === meant ? "goal" : "off";
  });
}
