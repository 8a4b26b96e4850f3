import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { answer, api } from "../api/client";
import { useSays } from "./Says";

/** What no change of documents makes another one. */
const KEPT = new Set(["session", "own", "unseen"]);
/** What stands around the screen: it may come a moment later than what people are looking at. */
const AROUND = new Set(["decided", "lenses", "keyboard", "machines", "agents", "press"]);
/** What can wait until the screen's own are here. Of a decided clash nobody asks any more then: its row is closed. */
const LAST = new Set(["ways", "plan", "history"]);

/** After any change everything computed may be another: all answers are asked for again, those of the screen first. */
export function useChanged() {
  const queries = useQueryClient();
  return useCallback(async () => {
    const named = (wanted: (name: string) => boolean) => ({
      predicate: (q: { queryKey: readonly unknown[] }) => wanted(String(q.queryKey[0])),
    });
    await queries.invalidateQueries(named((n) => !KEPT.has(n) && !AROUND.has(n) && !LAST.has(n)));
    void queries.invalidateQueries(named((n) => AROUND.has(n)));
    await queries.invalidateQueries(named((n) => LAST.has(n)));
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
