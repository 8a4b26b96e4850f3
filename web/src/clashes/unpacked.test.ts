import { describe, expect, it } from "vitest";
import { group, packed } from "./testing";
import { unpacked } from "./unpacked";

const jump = group("Jump", {
  holder: { ...group("Fold").subject, shortcut: { text: "Meta+L", words: "Win L", caps: [["Win", "L"]] } },
  stroke: { code: "KeyL", modifiers: ["Meta"] },
  strokes: [
    { code: "KeyK", modifiers: ["Control"] },
    { code: "KeyL", modifiers: ["Meta"] },
  ],
  focus: { program: "quaysheet", scope: "cell" },
  setups: ["counters", "harbour"],
  departments: ["sales"],
  new: true,
  meaning: { meant: true, by: "Ines", since: null },
});
const fold = group("Fold", {
  taken_at: null,
  may_be_meant: true,
  allowed: { reason: "for now", by: "Jorun", until: null },
});

describe("groups out of their columns", () => {
  it("are what they were before they were packed", () => {
    expect(unpacked(packed([jump, fold]))).toEqual([jump, fold]);
    expect(unpacked(packed([]))).toEqual([]);
  });
  it("are one object where the server names one place", () => {
    const twice = packed([jump, fold]);
    twice.groups.subject = [0, 0];
    const [one, other] = unpacked(twice);
    expect(one?.subject).toBe(other?.subject);
  });
  it("say so where the answer names a place that isn't there", () => {
    const broken = packed([jump]);
    broken.groups.says = [9999];
    expect(() => unpacked(broken)).toThrow(/place 9999/);
  });
});
