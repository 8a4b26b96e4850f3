import { createContext, useCallback, useContext } from "react";
import { useSearchParams } from "react-router";

/** The search of the address as it is at this very moment. The router's own word of it comes a moment later, so that two quick
 * changes would be made to the same old one and the first be lost. Null where there is no address bar. */
export const SearchNow = createContext<(() => string) | null>(null);

/** A way to change the address from what it is now. Changes replace the place in the history unless they lead on. */
export function useSetAddress(): (edit: (next: URLSearchParams) => void, leadsOn?: boolean) => void {
  const [, setParams] = useSearchParams();
  const now = useContext(SearchNow);
  return useCallback(
    (edit, leadsOn = false) =>
      setParams(
        (old) => {
          const next = new URLSearchParams(now ? now() : old);
          edit(next);
          return next;
        },
        { replace: !leadsOn },
      ),
    [setParams, now],
  );
}

/** Sets parts of an address; "" and null take a part out. */
export function put(next: URLSearchParams, parts: Record<string, string | null>): void {
  for (const [name, value] of Object.entries(parts)) {
    if (value) next.set(name, value);
    else next.delete(name);
  }
}

/** The address, and a way to change some parts of it. */
export function useAddress(): [URLSearchParams, (parts: Record<string, string | null>, leadsOn?: boolean) => void] {
  const [params] = useSearchParams();
  const set = useSetAddress();
  const change = useCallback(
    (parts: Record<string, string | null>, leadsOn = false) => set((next) => put(next, parts), leadsOn),
    [set],
  );
  return [params, change];
}
