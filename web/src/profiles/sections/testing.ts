import { shortcut } from "../../testing/stage";
import type { Held } from "./useHeld";

const SECTIONS = ["entries", "shelves", "menu_groups", "abbreviations", "macros", "preferences"];

/** What a profile holds, with some of it said. */
export function held(parts: Partial<Held> = {}): Held {
  return {
    profile: "counters",
    name: "Ticket counters",
    compiled: false,
    sections: SECTIONS.map((id) => ({ id, name: id, says: `2 ${id}`, count: 2 })),
    shelves: [],
    levels: [],
    abbreviations: [],
    macros: [],
    launchers: [],
    remaps: [],
    translations: [],
    preferences: [],
    sets: [],
    lost: [],
    ...parts,
  };
}

export function place(command: string, name: string, digit: number) {
  const key = { ...shortcut(`F9 then ${digit}`), caps: [["F9"], [String(digit)]] };
  return { command, name, keys: { windows: key }, lost: "" };
}

export const OFFERING = {
  id: "quaysheet",
  name: "Quaysheet",
  platforms: [{ id: "windows", name: "Windows" }],
  shelves: [{ id: "quick", name: "Quick shelf", most: 4, begin_chosen: true }],
  menus: [{ id: "bar", name: "Menu bar", takes_own: true }],
  macros: { kept_in: ["person"], replay: ["from the caret"], longest: 30, plain: true, reserved: [] },
  preferences: [
    {
      ...{ id: "size", name: "Text size", kind: "number", default: 100, said: "100 percent", least: 70, most: 200 },
      ...{ unit: "percent", choices: [], in_a_file: true },
    },
    {
      ...{ id: "theme", name: "Theme", kind: "choice", default: "light", said: "light", least: null, most: null },
      ...{ unit: "", choices: ["light", "dark"], in_a_file: false },
    },
  ],
  commands: [
    { id: "stamp", name: "Stamp the berth" },
    { id: "hold", name: "Hold a cabin" },
    { id: "quote", name: "Quote the fare" },
  ],
  scopes: [{ id: "sheet", name: "Sheet" }],
};

const WOULD = { solves: [], makes: [], solved: 0, made: 0, people: 38 };

/** A plan that the played server answers, with some of it said. */
export function plan(parts: object = {}) {
  return { would: WOULD, told: [], shelf: null, waits: [], ...parts };
}

export const PLAN = "POST /api/profiles/counters/items/plan";
export const SAVE = "POST /api/profiles/counters/items";

/** What the played server answers to every section. */
export const ANSWERS = {
  "GET /api/profiles/offers": [
    { id: "quaysheet", name: "Quaysheet", has: ["shelves", "menu_groups", "macros", "preferences"] },
    { id: "boardwright", name: "Boardwright", has: [] },
  ],
  "GET /api/profiles/offers/quaysheet": OFFERING,
  [PLAN]: plan(),
  [SAVE]: { id: 7, title: "Changed it" },
};
