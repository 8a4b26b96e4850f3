import { useCallback, useState } from "react";

/** A choice about how this browser shows things; kept here and nowhere else. */
export function useKept(name: string, usual: string): [string, (value: string) => void] {
  const key = `amberkey.${name}`;
  const [value, set] = useState(() => read(key) ?? usual);
  const keep = useCallback(
    (next: string) => {
      set(next);
      try {
        window.localStorage.setItem(key, next);
      } catch {
        // A browser that keeps nothing shows the usual next time.
      }
    },
    [key],
  );
  return [value, keep];
}

function read(key: string): string | null {
  try {
    return window.localStorage.getItem(key);
  } catch {
    return null;
  }
}
