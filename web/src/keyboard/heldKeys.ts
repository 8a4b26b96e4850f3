import { useEffect, useState } from "react";

/** The modifiers that an event says are held, by their UI Events names in canonical order. */
export function modifiersOf(event: Pick<KeyboardEvent, "getModifierState">): string[] {
  return ["Control", "Alt", "Shift", "Meta", "AltGraph"].filter((m) => event.getModifierState(m));
}

const NO_TEXT = "[type=checkbox], [type=radio], [type=button], [type=submit]";

/** Whether text is typed into it. */
export function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  return (target.matches("input, textarea, select") && !target.matches(NO_TEXT)) || target.isContentEditable;
}

function isListening(target: EventTarget | null): boolean {
  return target instanceof Element && target.closest("[data-listening]") !== null;
}

/** Modifiers held on the real keyboard, while no text is typed; a field that listens for a press takes none. */
export function useHeldKeys(): string[] {
  const [held, setHeld] = useState<string[]>([]);
  useEffect(() => {
    const follow = (event: KeyboardEvent) => {
      if (isTyping(event.target) && !isListening(event.target)) return;
      const now = modifiersOf(event);
      setHeld((old) => (old.join() === now.join() ? old : now));
    };
    const clear = () => setHeld((old) => (old.length ? [] : old));
    // On the way down: a field that listens keeps its presses to itself.
    window.addEventListener("keydown", follow, true);
    window.addEventListener("keyup", follow, true);
    window.addEventListener("blur", clear);
    return () => {
      window.removeEventListener("keydown", follow, true);
      window.removeEventListener("keyup", follow, true);
      window.removeEventListener("blur", clear);
    };
  }, []);
  return held;
}
