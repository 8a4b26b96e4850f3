import { useCallback } from "react";
import { useSearchParams } from "react-router";

/** Parts of the address, and a way to change some of them: "" and null take a part out. Changes replace the place in the
 * history unless they lead on. */
export function useAddress(): [URLSearchParams, (parts: Record<string, string | null>, leadsOn?: boolean) => void] {
  const [params, setParams] = useSearchParams();
  const change = useCallback(
    (parts: Record<string, string | null>, leadsOn = false) =>
      setParams(
        (old) => {
          const next = new URLSearchParams(old);
          for (const [name, value] of Object.entries(parts)) {
            if (value) next.set(name, value);
            else next.delete(name);
          }
          return next;
        },
        { replace: !leadsOn },
      ),
    [setParams],
  );
  return [params, change];
}
