import { useQuery } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";

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
}

export function useLenses() {
  return useQuery({ queryKey: ["lenses"], queryFn: () => answer(api.GET("/api/lenses")), staleTime: 60_000 });
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
  return { setup, everywhere, program: focus.program, scope: scope.id, programName: focus.name, scopeName: scope.name };
}

/** The lens of this address (null while it loads), and a way to change parts of it. */
export function useLens(): [Lens | null, (parts: Record<string, string>) => void] {
  const lenses = useLenses();
  const [params, setParams] = useSearchParams();
  const lens = useMemo(() => (lenses.data ? lensFrom(lenses.data, params) : null), [lenses.data, params]);
  const change = useCallback(
    (parts: Record<string, string>) => {
      setParams((old) => {
        const next = new URLSearchParams(old);
        for (const [name, value] of Object.entries(parts)) {
          if (value === "") next.delete(name);
          else next.set(name, value);
        }
        // Through another setup it is another list: nothing in it is open yet.
        if ("setup" in parts || "seen" in parts) next.delete("clash");
        return next;
      });
    },
    [setParams],
  );
  return [lens, change];
}
