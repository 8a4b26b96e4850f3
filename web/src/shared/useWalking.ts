import type { KeyboardEvent, RefObject } from "react";
import { useCallback, useEffect, useRef, useState } from "react";

interface Walk {
  scroller: RefObject<HTMLElement | null>;
  lines: number;
  /** How high a line is, in pixels. */
  height: number;
  scrollTo: (index: number) => void;
  /** Chooses the lines from one to another one, both included. */
  chooseSpan: (from: number, to: number) => void;
  /** Closes what is open; says whether anything was. */
  close: () => boolean;
  begin?: number;
}

/** Walking through a list of which only the lines in sight are drawn: arrows, pages and ends lead from line to line, Shift with
 * them chooses, Escape closes. Lines are known by `data-index`, what of them takes the focus by `data-row` or `data-choose`. */
export function useWalking({ scroller, lines, height, scrollTo, chooseSpan, close, begin = 0 }: Walk) {
  const [place, setPlace] = useState(begin);
  const wants = useRef<number | null>(null);
  const last = lines - 1;
  const here = Math.max(0, Math.min(place, last));
  const reach = useCallback(() => {
    if (wants.current === null) return;
    const line = scroller.current?.querySelector<HTMLElement>(`[data-index="${wants.current}"] [data-row]`);
    if (!line) return;
    wants.current = null;
    line.focus({ preventScroll: true });
  }, [scroller]);
  // A line far away has to be drawn before it can have the focus; whenever it is, it gets it.
  useEffect(reach);
  /** Gives the focus to a line, as soon as it is drawn. */
  const focus = useCallback(
    (index: number) => {
      wants.current = index;
      reach();
    },
    [reach],
  );
  const go = (index: number) => {
    const next = Math.max(0, Math.min(last, index));
    setPlace(next);
    scrollTo(next);
    wants.current = next;
  };
  const onKey = (event: KeyboardEvent) => {
    const target = event.target;
    if (!(target instanceof HTMLElement) || !target.matches("[data-row], [data-choose]")) return;
    if (event.ctrlKey || event.altKey || event.metaKey) return;
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? height) / height) - 2);
    const steps: Record<string, number> = { ArrowDown: 1, ArrowUp: -1, PageDown: page, PageUp: -page };
    const step = steps[event.key];
    if (step !== undefined && event.shiftKey) {
      const next = Math.max(0, Math.min(last, here + step));
      chooseSpan(Math.min(here, next), Math.max(here, next));
      go(next);
    } else if (step !== undefined) go(here + step);
    else if (event.key === "Home") go(0);
    else if (event.key === "End") go(last);
    else if (event.key !== "Escape" || !close()) return;
    event.preventDefault();
  };
  return { here, place, setPlace, focus, onKey };
}

/** Some ids more, or fewer, among those that are chosen. */
export function choosing(chosen: ReadonlySet<string>, ids: string[], on: boolean): ReadonlySet<string> {
  const next = new Set(chosen);
  for (const id of ids) {
    if (on) next.add(id);
    else next.delete(id);
  }
  return next;
}
