import { describe, expect, it } from "vitest";
import { shortcut } from "../testing/stage";
import type { Filters } from "./filters";
import { addressOf, countsOf, filtersFrom, isAsked, matches, NOTHING, shown } from "./filters";
import { differing, sidesOf } from "./sides";
import { group as made } from "./testing";
import type { Group } from "./useClashes";

function party(program: string, command: string): Group["subject"] {
  return {
    program,
    program_name: program.toUpperCase(),
    command,
    command_name: command,
    scope: "page",
    scope_name: "Page",
    shortcut: shortcut("Control+E"),
  };
}

/** A clash of a program with the system. */
function group(parts: Partial<Group> = {}): Group {
  const stroke = { code: "KeyE", modifiers: ["Control"] };
  return made("a", {
    kind: "system",
    severity: "high",
    says: "It never gets it.",
    subject: party("sheet", "Fare"),
    holder: party("windows", "Lock"),
    stroke,
    strokes: [stroke],
    taken_at: "system",
    taken_says: "locks",
    meant_says: "Sheet",
    departments: ["sales"],
    ...parts,
  });
}

const nameOf = (setup: string) => (setup === "counters" ? "Ticket counters" : setup);
const asked = (parts: Partial<Filters>): Filters => ({ ...filtersFrom(new URLSearchParams()), ...parts });

describe("filters", () => {
  it.each<[Partial<Filters>, boolean]>([
    [{}, true],
    [{ kind: "system" }, true],
    [{ kind: "browser" }, false],
    [{ program: "windows" }, true], // the holder's
    [{ program: "mail" }, false],
    [{ station: "system" }, true],
    [{ station: "text" }, false],
    [{ department: "sales" }, true],
    [{ department: "harbour" }, false],
    [{ setup: "counters" }, true],
    [{ setup: "mac" }, false],
    [{ onlyNew: true }, false],
    [{ words: "fare TICKET locks" }, true],
    [{ words: "fare tide" }, false],
  ])("%o asks for it: %s", (parts, found) => {
    expect(matches(group(), asked(parts), null, nameOf)).toBe(found);
  });
  it("take a press that stops behind the program as one that stops in the last column", () => {
    expect(matches(group({ taken_at: "browser" }), asked({ station: "text" }), null, nameOf)).toBe(true);
    expect(matches(group({ taken_at: null }), asked({ station: "text" }), null, nameOf)).toBe(false);
  });
  it.each([
    [["Control+KeyE"], true],
    [["KeyE"], false],
    [[], false],
  ])("look for the strokes %o: %s", (strokes, found) => {
    expect(matches(group(), asked({}), strokes, nameOf)).toBe(found);
  });
  it("look at every press of a sequence", () => {
    const one = group({
      strokes: [
        { code: "F8", modifiers: [] },
        { code: "KeyL", modifiers: ["Shift", "Control"] },
      ],
    });
    expect(matches(one, asked({}), ["Control+Shift+KeyL"], nameOf)).toBe(true);
  });
  it("are kept in the address and read from it", () => {
    const wanted: Partial<Filters> = {
      words: "tide",
      kind: "shadow",
      onlyNew: true,
      severities: ["low"],
      order: "severity",
    };
    const params = new URLSearchParams();
    for (const [name, value] of Object.entries(addressOf(wanted))) if (value) params.set(name, value);
    expect(filtersFrom(params)).toMatchObject(wanted);
    expect(addressOf({ severities: ["medium", "blocker", "high"] })).toEqual({ "f.severity": null });
    expect(filtersFrom(new URLSearchParams("f.severity=none")).severities).toEqual([]);
    expect(Object.values(addressOf(NOTHING)).every((v) => !v)).toBe(true);
  });
  it("know whether anything is asked for", () => {
    expect(isAsked(asked({}))).toBe(false);
    expect(isAsked(asked({ onlyNew: true }))).toBe(true);
  });
  it("put the worst first where that is asked for, and keep low ones out of sight", () => {
    const groups = [group({ severity: "medium" }), group({ severity: "low" }), group({ severity: "blocker" })];
    expect(shown(groups, asked({})).map((g) => g.severity)).toEqual(["medium", "blocker"]);
    expect(shown(groups, asked({ order: "severity" })).map((g) => g.severity)).toEqual(["blocker", "medium"]);
    expect(countsOf(groups)).toEqual({ blocker: 1, high: 0, medium: 1, low: 1 });
  });
});

describe("two lenses held against each other", () => {
  it("have each clash once, and know where it is", () => {
    const [a, b, c] = ["a", "b", "c"].map((identity, n) => group({ identity, people: n })) as [Group, Group, Group];
    const sides = sidesOf([a, b], [b, c]);
    expect(sides.groups.map((g) => g.identity)).toEqual(["c", "b", "a"]);
    expect(sides.groups.filter((g) => differing(sides, g)).map((g) => g.identity)).toEqual(["c", "a"]);
    expect(sidesOf([a], null).groups).toEqual([a]);
    expect(differing(sidesOf([a], null), a)).toBe(false);
  });
});
