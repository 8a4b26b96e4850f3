import type { ReactNode } from "react";
import { createContext, useContext, useEffect, useMemo, useRef, useState } from "react";

/** What the screen above selected: the strip shows it. */
export interface Shown {
  held: string[];
  code: string | null;
  note: string;
}

interface Strip {
  shown: Shown | null;
  show: (shown: Shown | null) => void;
  locked: string[];
  setLocked: (held: string[]) => void;
  /** A press field that wants the next key clicked on the strip. */
  listen: (take: ((code: string, held: string[]) => void) | null) => void;
  click: (code: string, held: string[]) => boolean;
}

const StripContext = createContext<Strip | null>(null);

export function StripProvider({ children }: { children: ReactNode }) {
  const [shown, show] = useState<Shown | null>(null);
  const [locked, setLocked] = useState<string[]>([]);
  const listener = useRef<((code: string, held: string[]) => void) | null>(null);
  const value = useMemo<Strip>(
    () => ({
      shown,
      show,
      locked,
      setLocked,
      listen: (take) => {
        listener.current = take;
      },
      click: (code, held) => {
        listener.current?.(code, held);
        return listener.current !== null;
      },
    }),
    [shown, locked],
  );
  return <StripContext value={value}>{children}</StripContext>;
}

export function useStrip(): Strip {
  const strip = useContext(StripContext);
  if (!strip) throw new Error("useStrip outside of StripProvider");
  return strip;
}

/** Shows a selection on the strip for as long as it is there. */
export function useShownOnStrip(held: string[] | null, code: string | null, note: string): void {
  const { show, setLocked } = useStrip();
  const heldKey = held?.join(",") ?? null;
  useEffect(() => {
    if (heldKey === null) return;
    setLocked([]);
    show({ held: heldKey ? heldKey.split(",") : [], code, note });
    return () => show(null);
  }, [heldKey, code, note, show, setLocked]);
}
