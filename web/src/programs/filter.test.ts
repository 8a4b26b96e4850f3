import { describe, expect, it } from "vitest";
import { strokeKey } from "../keyboard/strokes";
import type { Filter } from "./filter";
import { groupsOf, matches } from "./filter";
import type { Command } from "./usePrograms";

function command(parts: Partial<Command>): Command {
  return {
    id: "fare",
    name: "Quote the fare",
    description: "Computes the fare.",
    other_words: ["price"],
    group: "Sailings",
    scope: "sheet",
    scope_name: "Sheet",
    risky: false,
    grip: "",
    source: "",
    shortcuts: [
      {
        text: "Control+Alt+E",
        words: "Strg Alt E",
        caps: [["Strg", "Alt", "E"]],
        strokes: [{ code: "KeyE", modifiers: ["Control", "Alt"] }],
        unreachable: "",
      },
    ],
    layer: "default",
    hid: [],
    clashes: [],
    ...parts,
  };
}
const all: Filter = { words: "", state: "all", strokes: null };

describe("looking for a command", () => {
  it("finds every word anywhere in it", () => {
    expect(matches(command({}), { ...all, words: "PRICE sheet" })).toBe(true);
    expect(matches(command({}), { ...all, words: "strg alt" })).toBe(true);
    expect(matches(command({}), { ...all, words: "price tide" })).toBe(false);
  });
  it("finds by state", () => {
    expect(matches(command({}), { ...all, state: "changed" })).toBe(false);
    expect(matches(command({ layer: "House" }), { ...all, state: "changed" })).toBe(true);
    expect(matches(command({ shortcuts: [] }), { ...all, state: "unbound" })).toBe(true);
    expect(matches(command({ clashes: ["a"] }), { ...all, state: "clashing" })).toBe(true);
  });
  it("finds by stroke, whatever the order of modifiers", () => {
    const strokes = [strokeKey({ code: "KeyE", modifiers: ["Alt", "Control"] })];
    expect(matches(command({}), { ...all, strokes })).toBe(true);
    expect(matches(command({ shortcuts: [] }), { ...all, strokes })).toBe(false);
  });
  it("keeps groups in the order of the program", () => {
    const found = groupsOf([
      command({ id: "1", group: "B" }),
      command({ id: "2", group: "A" }),
      command({ id: "3", group: "B" }),
    ]);
    expect(found.map(([g, c]) => [g, c.length])).toEqual([
      ["B", 2],
      ["A", 1],
    ]);
  });
});
