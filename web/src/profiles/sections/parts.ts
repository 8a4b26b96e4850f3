import { useLens } from "../../shared/lens";

export const PLATFORMS = [
  { id: "windows", name: "Windows" },
  { id: "macos", name: "macOS" },
  { id: "linux", name: "Linux" },
];

/** The list with the thing at one place put at another. */
export function moved<T>(list: T[], from: number, to: number): T[] {
  const rest = [...list];
  const [one] = rest.splice(from, 1);
  if (one !== undefined) rest.splice(to, 0, one);
  return rest;
}

/** Of some platforms the one that is looked at through the lens, else the first. */
export function usePlatform(there: string[]): string {
  const [lens] = useLens();
  const seen = lens?.setup.platform ?? "windows";
  return there.length === 0 || there.includes(seen) ? seen : (there[0] ?? seen);
}

/** An id for something new, from its name; numbered where there is one already. */
export function idFrom(name: string, taken: string[]): string {
  const plain = name
    .normalize("NFD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 60);
  const base = plain || "item";
  let id = base;
  for (let n = 2; taken.includes(id); n += 1) id = `${base}-${n}`;
  return id;
}
