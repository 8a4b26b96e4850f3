import { useEffect, useState } from "react";

/** A value once it has stayed the same for a while: what is asked of the server for it isn't asked at every letter. */
export function useSettled<T>(value: T, milliseconds = 250): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(() => value), milliseconds);
    return () => clearTimeout(timer);
  }, [value, milliseconds]);
  return settled;
}
