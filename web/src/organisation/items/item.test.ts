import { describe, expect, it } from "vitest";
import { changesOf, idFrom, seatChanges, withField } from "./item";

describe("items", () => {
  it("leave out what is empty, as documents do", () => {
    const item = { id: "a", roles: ["x"] };
    expect(withField(item, "roles", [])).toEqual({ id: "a" });
    expect(withField(item, "name", "A")).toEqual({ id: "a", roles: ["x"], name: "A" });
    expect(withField({ ...item, retired: "2026-11-01" }, "retired", null)).toEqual(item);
  });
  it("are changed only where they differ, whatever their order", () => {
    expect(changesOf("people", { id: "a", name: "A" }, { name: "A", id: "a" })).toEqual([]);
    expect(changesOf("people", null, { id: "a" })).toEqual([{ section: "people", before: null, after: { id: "a" } }]);
  });
  it("get an id from their name", () => {
    expect(idFrom("Zoë, Westquay 3")).toBe("zoe-westquay-3");
    expect(idFrom("!!")).toBe("");
  });
  it("tell seats that come, go and change", () => {
    const at = (machine: string, layout?: string) => ({ person: "a", machine, ...(layout ? { layout } : {}) });
    expect(seatChanges([at("one"), at("two")], [at("two", "de"), at("three")]).map((c) => [c.before, c.after])).toEqual(
      [
        [at("one"), null],
        [at("two"), at("two", "de")],
        [null, at("three")],
      ],
    );
  });
});
