import { describe, expect, it } from "vitest";
import { isWay, neighbour } from "./geometry";

const keys = [
  { code: "KeyQ", x: 1.5, y: 2, w: 1 },
  { code: "KeyW", x: 2.5, y: 2, w: 1 },
  { code: "KeyA", x: 1.75, y: 3, w: 1 },
  { code: "KeyS", x: 2.75, y: 3, w: 1 },
  { code: "Space", x: 1, y: 5, w: 6 },
];

describe("arrows on the drawn keyboard", () => {
  it("lead along a row and stop at its end", () => {
    expect(neighbour(keys, "KeyQ", "ArrowRight")).toBe("KeyW");
    expect(neighbour(keys, "KeyW", "ArrowRight")).toBe("KeyW");
    expect(neighbour(keys, "KeyW", "ArrowLeft")).toBe("KeyQ");
  });
  it("lead to the nearest key of the next row", () => {
    expect(neighbour(keys, "KeyW", "ArrowDown")).toBe("KeyS");
    expect(neighbour(keys, "KeyA", "ArrowUp")).toBe("KeyQ");
    expect(neighbour(keys, "KeyA", "ArrowDown")).toBe("Space");
  });
  it("begin anywhere when the key is unknown", () => {
    expect(neighbour(keys, "KeyZ", "ArrowUp")).toBe("KeyQ");
  });
  it("are the four arrows only", () => {
    expect(["ArrowUp", "Enter", "a"].map(isWay)).toEqual([true, false, false]);
  });
});
