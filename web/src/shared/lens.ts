import { useQuery } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { put, useSetAddress } from "./useAddress";

export type LensSetup = Schemas["LensOut"];

/** What the screens look through: a setup, and a focus in one of its programs. */
export interface Lens {
  setup: LensSetup;
  /** All setups in use are looked at; `setup` speaks for them where one keyboard has to be shown. */
  everywhere: boolean;
  program: string;
  scope: string;
  programName: string;
  scopeName: string;
  /** The setup that the lens is held against, if it is. */
  against: LensSetup | null;
  /** Only what differs between the two is looked at. */
  onlyDiffers: boolean;
}

export function useLenses() {
  return useQuery({ queryKey: key("lenses"), queryFn: () => answer(api.GET("/api/lenses")), staleTime: 60_000 });
}

/** The lens that an address asks for; what it asks in vain falls back to the first choice. */
export function lensFrom(setups: LensSetup[], params: URLSearchParams): Lens | null {
  const setup = setups.find((s) => s.setup === params.get("setup")) ?? setups[0];
  const focus = setup?.focuses.find((f) => f.program === params.get("program")) ?? setup?.focuses[0];
  if (!setup || !focus) return null;
  const scope =
    focus.scopes.find((s) => s.id === params.get("scope")) ?? focus.scopes.find((s) => s.takes_text) ?? focus.scopes[0];
  if (!scope) return null;
  const everywhere = params.get("seen") === "all";
  const pinned = setups.find((s) => s.setup === params.get("against")) ?? null;
  const against = everywhere || pinned?.setup === setup.setup ? null : pinned;
  return {
    setup,
    everywhere,
    program: focus.program,
    scope: scope.id,
    programName: focus.name,
    scopeName: scope.name,
    against,
    onlyDiffers: against !== null && params.get("differs") === "1",
  };
}

/** The lens of this address (null while it loads), and a way to change parts of it. */
export function useLens(): [Lens | null, (parts: Record<string, string>) => void] {
  const lenses = useLenses();
  const [params] = useSearchParams();
  const set = useSetAddress();
  const asked = lensParts(params.toString());
  const lens = useMemo(
    () => (lenses.data ? lensFrom(lenses.data, new URLSearchParams(asked)) : null),
    [lenses.data, asked],
  );
  const change = useCallback(
    (parts: Record<string, string>) =>
      set((next) => {
        put(next, parts);
        // Through another setup it is another list: nothing in it is open yet.
        if ("setup" in parts || "seen" in parts) next.delete("clash");
        if (!next.get("against")) next.delete("differs");
      }, true),
    [set],
  );
  return [lens, change];
}

/** The part of an address that opens the guide: beside the screen that is there, or at a page of it. */
export const GUIDE = "guide";
export const BESIDE = "on";

const LENS = ["setup", "program", "scope", "seen", "against", "differs"];

/** What of an address stays on the way to another screen: what says the lens, and that the guide stands beside whatever is there. */
export function lensParts(search: string): string {
  const kept = [...new URLSearchParams(search)].filter(
    ([name, value]) => LENS.includes(name) || (name === GUIDE && value === BESIDE),
  );
  return kept.length > 0 ? `?${new URLSearchParams(kept)}` : "";
}
