import { describe, expect, it } from "vitest";
import { dayOf, momentOf, timeOf } from "./days";

const now = new Date(2026, 10, 28);
const at = (...parts: [number, number, number, number, number]) => new Date(...parts).toISOString();

describe("days and times", () => {
  it("say the day and the month, and the year where it is another one", () => {
    expect(dayOf("2026-10-02", now)).toBe("2 October");
    expect(dayOf("2025-01-31", now)).toBe("31 January 2025");
    expect(dayOf(at(2026, 11, 31, 23, 30), now)).toBe("31 December");
  });
  it("say a moment as it is where the reader sits", () => {
    expect(momentOf(at(2026, 9, 2, 9, 5), now)).toBe("2 October, 9:05");
    expect(timeOf(at(2026, 9, 2, 14, 30))).toBe("14:30");
  });
});
