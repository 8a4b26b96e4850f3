import { strokeKey } from "../keyboard/strokes";
import { usePress } from "../keyboard/usePress";
import type { Lens } from "../shared/lens";

const NONE: string[] = [];

/** The strokes of the keys that rows are looked for by; null where none are. What can't be pressed here matches nothing. */
export function useKeysAsked(lens: Lens | null, keys: string): string[] | null {
  const press = usePress(
    lens?.setup.setup ?? "",
    lens?.program ?? null,
    lens?.scope ?? null,
    keys && lens ? { text: keys } : null,
  );
  if (!keys) return null;
  return press.data ? press.data.strokes.flat().map(strokeKey) : NONE;
}
