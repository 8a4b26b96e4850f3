import { describe, expect, it } from "vitest";
import type { Tokens } from "./tokens";
import { dark, light } from "./tokens";

function luminance(hex: string): number {
  const [r = 0, g = 0, b = 0] = [1, 3, 5].map((at) => {
    const c = Number.parseInt(hex.slice(at, at + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** Contrast as WCAG 2.2 defines it. */
function contrast(a: string, b: string): number {
  const [hi = 0, lo = 0] = [luminance(a), luminance(b)].sort((x, y) => y - x);
  return (hi + 0.05) / (lo + 0.05);
}

const grounds: (keyof Tokens)[] = ["paper", "sheet", "sunk", "cap"];
const inks: (keyof Tokens)[] = ["ink", "ink2", "good", "bad"];
const pairs = [
  ...grounds.flatMap((g) => inks.map((i) => [i, g] as const)),
  ["onAmber", "amber"] as const,
  ["sheet", "ink"] as const,
  ["sheet", "system"] as const,
  ["paper", "ink"] as const,
];

describe.each([
  ["light", light],
  ["dark", dark],
])("%s theme", (_, tokens) => {
  it.each(pairs)("%s on %s can be read (4.5 to 1)", (ink, ground) => {
    expect(contrast(tokens[ink], tokens[ground])).toBeGreaterThanOrEqual(4.5);
  });
  it.each(["system", "utility", "browser", "program", "ink3"] as const)(
    "the mark %s stands out from a cap (3 to 1)",
    (mark) => {
      expect(contrast(tokens[mark], tokens.cap)).toBeGreaterThanOrEqual(3);
    },
  );
});
