import { describe, expect, it } from "vitest";
import { canStandIn, treeOf } from "./scopeTree";

const SCOPES = [
  { id: "cell", name: "Cell", parent: "sheet" },
  { id: "window", name: "Window" },
  { id: "sheet", name: "Sheet", parent: "window" },
  { id: "panel", name: "Panel", parent: "window" },
];

describe("the tree of scopes", () => {
  it("puts what is inside below, in the order of the document", () => {
    expect(treeOf(SCOPES).map((s) => [s.scope.id, s.depth])).toEqual([
      ["window", 0],
      ["sheet", 1],
      ["cell", 2],
      ["panel", 1],
    ]);
  });
  it("lets no scope stand inside itself", () => {
    expect(canStandIn(SCOPES, "sheet", "cell")).toBe(false);
    expect(canStandIn(SCOPES, "sheet", "sheet")).toBe(false);
    expect(canStandIn(SCOPES, "cell", "panel")).toBe(true);
  });
});
