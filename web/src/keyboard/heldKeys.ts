import { useEffect, useState } from "react";

/** The modifiers that an event says are held, by their UI Events names in canonical order. */
export function modifiersOf(event: Pick<KeyboardEvent, "getModifierState">): string[] {
  return ["Control", "Alt", "Shift", "Meta", "AltGraph"].filter((m) => event.getModifierState(m));
}

function isTyping(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && (target.matches("input, textarea, select") || target.isContentEditable);
}

/** Modifiers held on the real keyboard, while no text is typed. */
export function useHeldKeys(): string[] {
  const [held, setHeld] = useState<string[]>([]);
  useEffect(() => {
    const follow = (event: KeyboardEvent) => {
      if (isTyping(event.target)) return;
      const now = modifiersOf(event);
      setHeld((old) => (old.join() === now.join() ? old : now));
    };
    const clear = () => setHeld((old) => (old.length ? [] : old));
    window.addEventListener("keydown", follow);
    window.addEventListener("keyup", follow);
    window.addEventListener("blur", clear);
    return () => {
      window.removeEventListener("keydown", follow);
      window.removeEventListener("keyup", follow);
      window.removeEventListener("blur", clear);
    };
  }, []);
  return held;
}
