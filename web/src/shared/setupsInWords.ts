import { useCallback } from "react";
import { useLenses } from "./lens";

const SHORT = 60;

/** Setups by name where that is short, else how many there are. */
export function someOf(setups: string[]): string {
  const names = new Intl.ListFormat("en-GB").format(setups);
  return setups.length === 1 || names.length <= SHORT ? names : `${setups.length} setups`;
}

/** The name of a setup in use, by its id. */
export function useSetupName(): (id: string) => string {
  const lenses = useLenses().data;
  return useCallback((id) => lenses?.find((l) => l.setup === id)?.name ?? id, [lenses]);
}
