import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { answer, api } from "../api/client";
import { useSays } from "./Says";

/** After any change everything computed may be another: all answers are asked for again. */
export function useChanged() {
  const queries = useQueryClient();
  return useCallback(async () => {
    const last = new Set(["ways", "plan"]);
    const kept = new Set(["session"]);
    const named = (names: Set<string>) => (q: { queryKey: readonly unknown[] }) => names.has(String(q.queryKey[0]));
    await queries.invalidateQueries({ predicate: (q) => !named(kept)(q) && !named(last)(q) });
    // By now the row of a decided clash is closed, and nobody asks for its ways out any more.
    await queries.invalidateQueries({ predicate: named(last) });
  }, [queries]);
}

export function useHistory() {
  return useQuery({ queryKey: ["history"], queryFn: () => answer(api.GET("/api/history")) });
}

export function useUndo() {
  const changed = useChanged();
  const says = useSays();
  return useMutation({
    mutationFn: (id: number) =>
      answer(api.POST("/api/history/{change_id}/undo", { params: { path: { change_id: id } } })),
    onSuccess: async (change) => {
      await changed();
      says.done(change.title);
    },
    onError: says.refused,
  });
}

export function useRedo() {
  const changed = useChanged();
  const says = useSays();
  return useMutation({
    mutationFn: (id: number) =>
      answer(api.POST("/api/history/{change_id}/redo", { params: { path: { change_id: id } } })),
    onSuccess: async (change) => {
      await changed();
      says.done(change.title);
    },
    onError: says.refused,
  });
}
