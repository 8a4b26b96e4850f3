import { QueryClient } from "@tanstack/react-query";
import { describe, expect, it } from "vitest";
import { KEYS, key, refreshedAt } from "./keys";

describe("keys of answers", () => {
  it("asks again for those of one moment and leaves the others", async () => {
    const queries = new QueryClient();
    queries.setQueryData(key("clashes", "counters", true), 1);
    queries.setQueryData(key("lenses"), 2);
    queries.setQueryData(key("session"), 3);
    await queries.invalidateQueries(refreshedAt("first"));
    const stale = (...of: Parameters<typeof key>) => queries.getQueryState(key(...of))?.isInvalidated;
    expect(stale("clashes", "counters", true)).toBe(true);
    expect(stale("lenses")).toBe(false);
    await queries.invalidateQueries(refreshedAt("around"));
    await queries.invalidateQueries(refreshedAt("last"));
    expect(stale("lenses")).toBe(true);
    expect(stale("session")).toBe(false);
  });
  it("keeps only what no document makes another one", () => {
    const kept = Object.entries(KEYS).filter(([, moment]) => moment === "kept");
    expect(kept.map(([name]) => name)).toEqual([
      "session",
      "link",
      "accounts",
      "own",
      "unseen",
      "guide",
      "proposals",
      "cardBatch",
    ]);
  });
});
