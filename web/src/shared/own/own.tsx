import type { ReactNode } from "react";
import { createContext, useContext, useEffect, useMemo, useRef } from "react";
import { isTyping } from "../../keyboard/heldKeys";
import type { Own } from "./useOwn";
import { useOwn } from "./useOwn";

type Act = () => void;

/** What Amber Key's own shortcuts do at the moment: the newest screen's word counts. */
interface Actions {
  put: (action: string, act: Act) => () => void;
}

const ActionsContext = createContext<Actions>({ put: () => () => undefined });

/** Where keys mean something of their own. */
const BUSY = '[role="combobox"], [role="menu"], [role="listbox"], [role="dialog"], [data-listening]';

/** Whether an event is the press that an own shortcut asks for. Signs bring their own Shift. */
export function isPress(press: NonNullable<Own["press"]>, event: KeyboardEvent): boolean {
  const key = event.key.length === 1 ? event.key.toUpperCase() : event.key;
  const sign = event.key.length === 1 && event.key.toUpperCase() === event.key.toLowerCase();
  const wants = (name: string) => press.modifiers.includes(name);
  return (
    key === press.key.replace(/^Plus$/, "+") &&
    (sign || event.shiftKey === wants("Shift")) &&
    event.ctrlKey === wants("Control") &&
    event.altKey === wants("Alt") &&
    event.metaKey === wants("Meta")
  );
}

/** Listens for Amber Key's own shortcuts. None fires while text is typed, a press is recorded or a menu is open. */
export function OwnShortcuts({ children }: { children: ReactNode }) {
  const own = useOwn().data;
  const stacks = useRef(new Map<string, Act[]>());
  const actions = useMemo<Actions>(
    () => ({
      put: (action, act) => {
        const stack = stacks.current.get(action) ?? [];
        stacks.current.set(action, [...stack, act]);
        return () => {
          const now = stacks.current.get(action) ?? [];
          stacks.current.set(
            action,
            now.filter((a) => a !== act),
          );
        };
      },
    }),
    [],
  );
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.isComposing || isTyping(event.target)) return;
      if (event.target instanceof Element && event.target.closest(BUSY)) return;
      const found = own?.find((o) => o.press !== null && isPress(o.press, event));
      const act = found && stacks.current.get(found.id)?.at(-1);
      if (!act) return;
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [own]);
  return <ActionsContext value={actions}>{children}</ActionsContext>;
}

/** What an own shortcut does for as long as this part is on the page. */
export function useAction(action: string, act: Act): void {
  const { put } = useContext(ActionsContext);
  const newest = useRef(act);
  newest.current = act;
  useEffect(() => put(action, () => newest.current()), [action, put]);
}
