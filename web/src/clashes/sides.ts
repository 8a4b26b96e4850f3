import type { Group } from "./useClashes";

export type Side = "here" | "there" | "both";

/** The clashes through a lens and, where it is held against another one, through that one: each of them once. */
export interface Sides {
  groups: Group[];
  /** Where each is, by identity; empty where there is nothing to hold it against. */
  of: ReadonlyMap<string, Side>;
}

export function sidesOf(here: Group[], there: Group[] | null): Sides {
  if (there === null) return { groups: here, of: new Map() };
  const ours = new Set(here.map((g) => g.identity));
  const theirs = new Set(there.map((g) => g.identity));
  const of = new Map<string, Side>();
  for (const g of here) of.set(g.identity, theirs.has(g.identity) ? "both" : "here");
  const only = there.filter((g) => !ours.has(g.identity));
  for (const g of only) of.set(g.identity, "there");
  return { groups: [...here, ...only].toSorted((a, b) => b.people - a.people), of };
}

export function differing(sides: Sides, group: Group): boolean {
  return (sides.of.get(group.identity) ?? "both") !== "both";
}
