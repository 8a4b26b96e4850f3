import { describe, expect, it } from "vitest";
import type { Tokens } from "./tokens";
import { contrast as contrastTheme, dark, light } from "./tokens";

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
/** Every pair that text stands in: what is written on which ground. */
const pairs = [
  ...grounds.flatMap((g) => inks.map((i) => [i, g] as const)),
  ["onAmber", "amber"] as const,
  ["ink", "amberWash"] as const,
  ["sheet", "ink"] as const,
  ["sheet", "system"] as const,
  ["sheet", "program"] as const,
  ["paper", "ink"] as const,
];
/** Marks, lines and frames that mean something, each with the grounds that they lie on. */
const marks = [
  ...(["system", "utility", "browser", "program", "ink2", "ink3"] as const).flatMap((m) =>
    (["cap", "sunk", "sheet", "paper"] as const).map((g) => [m, g] as const),
  ),
];

describe.each([
  ["light", light, 4.5],
  ["dark", dark, 4.5],
  ["contrast", contrastTheme, 7],
] as const)("%s theme", (_, tokens, least) => {
  it.each(pairs)("%s on %s can be read", (ink, ground) => {
    expect(contrast(tokens[ink], tokens[ground])).toBeGreaterThanOrEqual(least);
  });
  it.each(marks)("the mark %s stands out from %s (3 to 1)", (mark, ground) => {
    expect(contrast(tokens[mark], tokens[ground])).toBeGreaterThanOrEqual(3);
  });
  it("names every colour as a colour", () => {
    for (const value of Object.values(tokens)) expect(value).toMatch(/^#[0-9a-f]{6}$/);
  });
});

it("a line of the high-contrast theme is as strong as its text", () => {
  expect(contrast(contrastTheme.line, contrastTheme.sheet)).toBeGreaterThanOrEqual(7);
});
