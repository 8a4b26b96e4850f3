import type { ReactNode } from "react";
import { createContext, useContext, useEffect, useMemo, useRef, useState } from "react";
import type { Schemas } from "../api/client";

/** What the screen above selected: the strip shows it. */
export interface Shown {
  held: string[];
  code: string | null;
  note: string;
  /** Where it is pressed, if that is another place than the lens's. */
  focus: Place | null;
}

/** A setup, and a program and scope in it that have the focus; null: whatever has it there. */
export interface Place {
  setup: string;
  program: string | null;
  scope: string | null;
}

type Draft = Schemas["TriedDraftIn"];
type Take = (code: string, held: string[]) => void;

interface Strip {
  shown: Shown | null;
  show: (shown: Shown | null) => void;
  locked: string[];
  setLocked: (held: string[]) => void;
  /** The presses that a sequence began with, as a shortcut by position; "" for none. */
  begun: string;
  setBegun: (begun: string) => void;
  /** What isn't saved, and is shown as if it were. */
  drafts: Draft[];
  setDrafts: (drafts: Draft[]) => void;
  /** A press field that wants the next key clicked on the strip. */
  listen: (take: Take | null) => void;
  /** A screen that does something with a clicked key where no press field wants it. */
  choose: (take: Take) => () => void;
  click: Take;
}

const NONE: Draft[] = [];

const StripContext = createContext<Strip | null>(null);

export function StripProvider({ children }: { children: ReactNode }) {
  const [shown, show] = useState<Shown | null>(null);
  const [locked, setLocked] = useState<string[]>([]);
  const [begun, setBegun] = useState("");
  const [drafts, setDrafts] = useState(NONE);
  const listener = useRef<Take | null>(null);
  const chooser = useRef<Take | null>(null);
  const value = useMemo<Strip>(
    () => ({
      shown,
      show,
      locked,
      setLocked,
      begun,
      setBegun,
      drafts,
      setDrafts,
      listen: (take) => {
        listener.current = take;
      },
      choose: (take) => {
        chooser.current = take;
        return () => {
          if (chooser.current === take) chooser.current = null;
        };
      },
      click: (code, held) => (listener.current ?? chooser.current)?.(code, held),
    }),
    [shown, locked, begun, drafts],
  );
  return <StripContext value={value}>{children}</StripContext>;
}

export function useStrip(): Strip {
  const strip = useContext(StripContext);
  if (!strip) throw new Error("useStrip outside of StripProvider");
  return strip;
}

/** Shows a selection on the strip for as long as it is there. */
export function useShownOnStrip(
  held: string[] | null,
  code: string | null,
  note: string,
  place: Place | null = null,
): void {
  const { show, setLocked, setBegun } = useStrip();
  const heldKey = held?.join(",") ?? null;
  const { setup = null, program = null, scope = null } = place ?? {};
  useEffect(() => {
    if (heldKey === null) return;
    setLocked([]);
    setBegun("");
    show({
      held: heldKey ? heldKey.split(",") : [],
      code,
      note,
      focus: setup === null ? null : { setup, program, scope },
    });
    return () => show(null);
  }, [heldKey, code, note, setup, program, scope, show, setLocked, setBegun]);
}

/** Shows drafts on the strip as if they were saved, for as long as the screen is there. */
export function useDraftsOnStrip(drafts: Draft[]): void {
  const { setDrafts } = useStrip();
  useEffect(() => {
    setDrafts(drafts);
    return () => setDrafts(NONE);
  }, [drafts, setDrafts]);
}

/** What this screen does with a key that is clicked on the strip while no press field asks for one. */
export function useKeyChoice(take: Take): void {
  const { choose } = useStrip();
  const newest = useRef(take);
  newest.current = take;
  useEffect(() => choose((code, held) => newest.current(code, held)), [choose]);
}
