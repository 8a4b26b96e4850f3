import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { useSays } from "../app/Says";
import { useChanged, useUndo } from "../app/useHistory";

export type Program = Schemas["ProgramOut"];
export type Command = Schemas["CommandOut"];
type Assignment = Schemas["AssignIn"];

export function usePrograms(setup: string | undefined) {
  return useQuery({
    queryKey: ["programs", setup],
    queryFn: () => answer(api.GET("/api/programs", { params: { query: { setup: setup ?? "" } } })),
    enabled: setup !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** What giving a command these shortcuts would cause; asked for before it is done. */
export function usePlan(given: Assignment | null) {
  return useQuery({
    queryKey: ["plan", given],
    queryFn: () => answer(api.POST("/api/commands/plan", { body: given as Assignment })),
    enabled: given !== null,
    retry: false,
  });
}

export function useAssign() {
  const changed = useChanged();
  const says = useSays();
  const undo = useUndo();
  return useMutation({
    mutationFn: (body: Assignment) => answer(api.POST("/api/commands/shortcuts", { body })),
    onSuccess: async (change) => {
      await changed();
      says.done(change.title, () => undo.mutate(change.id));
    },
    onError: says.refused,
  });
}
