import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api, ProblemError } from "../api/client";
import { useSays } from "../app/Says";
import { useChanged, useUndo } from "../app/useHistory";

export type Group = Schemas["GroupOut"];
export type Way = Schemas["WayOutOut"];

export function useClashes(setup: string | undefined, everywhere: boolean) {
  return useQuery({
    queryKey: ["clashes", setup, everywhere],
    queryFn: () => answer(api.GET("/api/clashes", { params: { query: { setup: setup ?? "", everywhere } } })),
    enabled: setup !== undefined,
    placeholderData: keepPreviousData,
  });
}

export function useWays(setup: string, identity: string, own: string | null, target: string | null) {
  return useQuery({
    queryKey: ["ways", setup, identity, own, target],
    queryFn: () =>
      answer(
        api.GET("/api/clashes/{identity}/ways", { params: { path: { identity }, query: { setup, own, target } } }),
      ),
    retry: false,
  });
}

/** Decides a clash; `onGone` is called as soon as it is decided, by this person or by another one. */
export function useDecide(identity: string, onGone: () => void) {
  const changed = useChanged();
  const says = useSays();
  const undo = useUndo();
  return useMutation({
    mutationFn: (body: Schemas["DecisionIn"]) =>
      answer(api.POST("/api/clashes/{identity}/decision", { params: { path: { identity } }, body })),
    onSuccess: async (change) => {
      onGone();
      await changed();
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
