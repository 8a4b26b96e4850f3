import type { ItemChange, Organisation } from "../useOrganisation";

/** An item of the organisation as its document has it; what isn't there is at its default. */
export type Item = Record<string, unknown>;

export function text(item: Item, name: string): string {
  const value = item[name];
  return typeof value === "string" || typeof value === "number" ? String(value) : "";
}

export function list(item: Item, name: string): string[] {
  const value = item[name];
  return Array.isArray(value) ? value.map(String) : [];
}

/** The item with a field in another state; what is empty is left out, as the document leaves it out. */
export function withField(item: Item, name: string, value: unknown): Item {
  const { [name]: _, ...rest } = item;
  const empty = value === "" || value === null || value === undefined || (Array.isArray(value) && value.length === 0);
  return empty ? rest : { ...rest, [name]: value };
}

/** An id made from a name: small letters and digits, with hyphens between. */
export function idFrom(name: string): string {
  return name
    .normalize("NFKD")
    .replace(/[\u0300-\u036f]/g, "")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 80);
}

/** The layout that somebody with a browser in this language most likely types on; of those that there are. */
export function likelyLayout(layouts: string[], language: string): string | undefined {
  const [spoken = "", place = ""] = language.toLowerCase().split("-");
  const named = [place, spoken].filter(Boolean);
  return (
    named.flatMap((n) => layouts.filter((l) => l === n || l.startsWith(`${n}(`)))[0] ??
    (layouts.includes("us") ? "us" : layouts[0])
  );
}

const SEVERAL = 12;

/** What a first machine of a platform has: the system itself, and the programs that are known, where they are few. */
export function usedAtFirst(organisation: Organisation, platform: string): { id: string; version: string }[] {
  const there = organisation.programs.filter((p) => p.platforms.includes(platform));
  const own = there.filter((p) => p.kind !== "system");
  const few = own.length <= SEVERAL && organisation.machines === 0 ? own : [];
  return [...there.filter((p) => p.kind === "system"), ...few].map((p) => ({
    id: p.id,
    version: p.versions.at(-1) ?? "",
  }));
}

/** The changes between two states of an item, or none where they are the same. */
export function changesOf(section: string, before: Item | null, after: Item | null): ItemChange[] {
  if (JSON.stringify(sorted(before)) === JSON.stringify(sorted(after))) return [];
  return [{ section, before, after }];
}

function sorted(item: Item | null): unknown {
  return item && Object.entries(item).toSorted(([a], [b]) => a.localeCompare(b));
}

export interface Seat {
  person: string;
  machine: string;
  layout?: string;
}

/** The changes that turn some seats into others. */
export function seatChanges(before: Seat[], after: Seat[]): ItemChange[] {
  const key = (s: Seat) => `${s.person} ${s.machine}`;
  const now = new Map(before.map((s) => [key(s), s]));
  const then = new Map(after.map((s) => [key(s), s]));
  return [...new Set([...now.keys(), ...then.keys()])].flatMap((k) =>
    changesOf("seats", (now.get(k) as Item | undefined) ?? null, (then.get(k) as Item | undefined) ?? null),
  );
}
