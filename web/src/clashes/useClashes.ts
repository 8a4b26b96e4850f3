import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api, ProblemError } from "../api/client";
import { useSays } from "../app/Says";
import { useChanged, useUndo } from "../app/useHistory";

export type Group = Schemas["GroupOut"];
export type Chosen = Schemas["ChosenIn"];

export function useClashes(setup: string | undefined, everywhere: boolean) {
  return useQuery({
    queryKey: ["clashes", setup, everywhere],
    queryFn: () => answer(api.GET("/api/clashes", { params: { query: { setup: setup ?? "", everywhere } } })),
    enabled: setup !== undefined,
    placeholderData: keepPreviousData,
    // Comparing the answer with the one before costs more than drawing the rows in sight again.
    structuralSharing: false,
  });
}

/** What makers meant; asked for only where somebody looks at it. */
export function useMeant(setup: string | undefined, everywhere: boolean, wanted: boolean) {
  return useQuery({
    queryKey: ["meant", setup, everywhere],
    queryFn: () => answer(api.GET("/api/clashes/meant", { params: { query: { setup: setup ?? "", everywhere } } })),
    enabled: setup !== undefined && wanted,
  });
}

export function useDecided(words: string, page: number) {
  return useQuery({
    queryKey: ["decided", words, page],
    queryFn: () => answer(api.GET("/api/clashes/decided", { params: { query: { words, page } } })),
    placeholderData: keepPreviousData,
  });
}

/** A writing request on clashes: what it did is said with its undo, a refusal with its reason. `onGone` is called as soon as
 * they are decided, by this person or by another one. */
export function useDone<Body>(send: (body: Body) => Promise<Schemas["ChangeOut"]>, onGone: () => void) {
  const changed = useChanged();
  const says = useSays();
  const undo = useUndo();
  return useMutation({
    mutationFn: send,
    onSuccess: async (change) => {
      // The new answer is asked for before the screen is drawn without the old one: the server needn't wait for that.
      const all = changed();
      onGone();
      await all;
      says.done(change.title, () => undo.mutate(change.id));
    },
    onError: async (error) => {
      says.refused(error);
      if (error instanceof ProblemError && error.problem.status === 409) onGone();
      // Somebody else was faster, or the way is gone: show what is there now.
      await changed();
    },
  });
}

export function useSettlement(chosen: Chosen[]) {
  return useQuery({
    queryKey: ["plan", "settlement", chosen],
    queryFn: () => answer(api.POST("/api/settlements/plan", { body: { chosen, ways: [], reason: "" } })),
    retry: false,
  });
}

export function useSettle(onGone: () => void) {
  return useDone((body: Schemas["SeveralIn"]) => answer(api.POST("/api/settlements", { body })), onGone);
}

export function useAllowSeveral(onGone: () => void) {
  return useDone((body: Schemas["AllowSeveralIn"]) => answer(api.POST("/api/allowances", { body })), onGone);
}

/** Says whether makers meant some clashes. */
export function useMean(onGone: () => void) {
  return useDone((body: Schemas["MeanIn"]) => answer(api.POST("/api/meanings", { body })), onGone);
}
