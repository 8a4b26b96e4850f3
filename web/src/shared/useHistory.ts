import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { answer, api } from "../api/client";
import { key, refreshedAt } from "../api/keys";
import { useSays } from "./Says";

/** After any change everything computed may be another: all answers are asked for again, those of the screen first. */
export function useChanged() {
  const queries = useQueryClient();
  return useCallback(async () => {
    await queries.invalidateQueries(refreshedAt("first"));
    void queries.invalidateQueries(refreshedAt("around"));
    await queries.invalidateQueries(refreshedAt("last"));
  }, [queries]);
}

export function useHistory() {
  return useQuery({ queryKey: key("history"), queryFn: () => answer(api.GET("/api/history")) });
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
