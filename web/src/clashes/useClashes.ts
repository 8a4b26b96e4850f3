import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api, ProblemError } from "../api/client";
import { key } from "../api/keys";
import { useSays } from "../shared/Says";
import { useDone } from "../shared/useDone";
import { useChanged } from "../shared/useHistory";
import { unpacked } from "./unpacked";

export type { Group } from "./unpacked";
export type Clashes = NonNullable<ReturnType<typeof useClashes>["data"]>;
export type Chosen = Schemas["ChosenIn"];

export function useClashes(setup: string | undefined, everywhere: boolean) {
  return useQuery({
    queryKey: key("clashes", setup, everywhere),
    queryFn: async () => {
      const { packed, ...found } = await answer(
        api.GET("/api/clashes", { params: { query: { setup: setup ?? "", everywhere } } }),
      );
      return { ...found, groups: unpacked(packed) };
    },
    enabled: setup !== undefined,
    placeholderData: keepPreviousData,
    // Comparing the answer with the one before costs more than drawing the rows in sight again.
    structuralSharing: false,
  });
}

/** What makers meant; asked for only where somebody looks at it. */
export function useMeant(setup: string | undefined, everywhere: boolean, wanted: boolean) {
  return useQuery({
    queryKey: key("meant", setup, everywhere),
    queryFn: () => answer(api.GET("/api/clashes/meant", { params: { query: { setup: setup ?? "", everywhere } } })),
    enabled: setup !== undefined && wanted,
  });
}

export function useDecided(words: string, page: number) {
  return useQuery({
    queryKey: key("decided", words, page),
    queryFn: () => answer(api.GET("/api/clashes/decided", { params: { query: { words, page } } })),
    placeholderData: keepPreviousData,
  });
}

/** A writing request on clashes. `onGone` is called as soon as they are decided, by this person or by another one. */
export function useDecision<Body>(send: (body: Body) => Promise<Schemas["ChangeOut"]>, onGone: () => void) {
  const changed = useChanged();
  const says = useSays();
  return useDone(send, {
    onDone: onGone,
    onRefused: async (error) => {
      says.refused(error);
      if (error instanceof ProblemError && error.problem.status === 409) onGone();
      // Somebody else was faster, or the way is gone: show what is there now.
      await changed();
    },
  });
}

export function useSettlement(chosen: Chosen[]) {
  return useQuery({
    queryKey: key("plan", "settlement", chosen),
    queryFn: () => answer(api.POST("/api/settlements/plan", { body: { chosen, ways: [], reason: "" } })),
    retry: false,
  });
}

export function useSettle(onGone: () => void) {
  return useDecision((body: Schemas["SeveralIn"]) => answer(api.POST("/api/settlements", { body })), onGone);
}

export function useAllowSeveral(onGone: () => void) {
  return useDecision((body: Schemas["AllowSeveralIn"]) => answer(api.POST("/api/allowances", { body })), onGone);
}

/** Says whether makers meant some clashes. */
export function useMean(onGone: () => void) {
  return useDecision((body: Schemas["MeanIn"]) => answer(api.POST("/api/meanings", { body })), onGone);
}
