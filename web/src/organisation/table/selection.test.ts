import { describe, expect, it } from "vitest";
import { choose, countOf, isSelected, NOTHING } from "./selection";

describe("a selection", () => {
  it("takes and leaves single rows", () => {
    const one = choose(NOTHING, { type: "one", id: "a" });
    expect([isSelected(one, "a"), isSelected(one, "b"), countOf(one, 9)]).toEqual([true, false, 1]);
    expect(choose(one, { type: "one", id: "a" })).toEqual(NOTHING);
  });
  it("takes all, however many there are, but some", () => {
    const most = choose(choose(NOTHING, { type: "all" }), { type: "one", id: "b" });
    expect([isSelected(most, "a"), isSelected(most, "b"), countOf(most, 10_000)]).toEqual([true, false, 9_999]);
    expect(countOf(choose(most, { type: "all" }), 10_000)).toBe(10_000);
  });
  it("is given up as a whole", () => {
    const all = choose(NOTHING, { type: "all" });
    expect(choose(all, { type: "all" })).toEqual(NOTHING);
    expect(choose(all, { type: "none" })).toEqual(NOTHING);
  });
});
