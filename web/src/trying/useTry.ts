import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useSays } from "../shared/Says";
import { useDone } from "../shared/useDone";
import { useChanged } from "../shared/useHistory";
import type { Lane } from "./address";

export type Tried = Schemas["TriedOut"];
/** `words`: its shortcut in the words of the keyboard that it was made on. */
export type Draft = Schemas["TriedDraftIn"] & { words?: string };
export type TestRecord = Schemas["RecordOut"];

/** The way of a press in every lane, with drafts as if they were saved. */
export function useTried(lanes: Lane[], press: string, drafts: Draft[]) {
  return useQuery({
    queryKey: key("try", lanes, press, drafts),
    queryFn: () => answer(api.POST("/api/try", { body: { lanes, text: press, drafts } })),
    enabled: press !== "" && lanes.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  });
}

const KEPT = "amberkey.drafts";

/** Drafts that this tab holds until they are kept or dropped; they outlive a reload. */
export function useDrafts(): [Draft[], (drafts: Draft[]) => void] {
  const [drafts, set] = useState<Draft[]>(() => JSON.parse(window.sessionStorage.getItem(KEPT) ?? "[]"));
  const keep = useCallback((next: Draft[]) => {
    set(next);
    window.sessionStorage.setItem(KEPT, JSON.stringify(next));
  }, []);
  return [drafts, keep];
}

export function useKeepDrafts(onKept: () => void) {
  return useDone((drafts: Draft[]) => answer(api.POST("/api/try/drafts", { body: { drafts } })), { onDone: onKept });
}

export function useRecords(words: string, failed: boolean, page: number) {
  return useQuery({
    queryKey: key("records", words, failed, page),
    queryFn: () => answer(api.GET("/api/records", { params: { query: { words, failed, page } } })),
    placeholderData: keepPreviousData,
  });
}

export function useUntested() {
  return useQuery({ queryKey: key("untested"), queryFn: () => answer(api.GET("/api/records/untested")) });
}

export function useKeepRecord(onKept: () => void) {
  const changed = useChanged();
  const says = useSays();
  const remove = useRemoveRecord();
  return useMutation({
    mutationFn: (body: Schemas["RecordIn"]) => answer(api.POST("/api/records", { body })),
    onSuccess: async (record) => {
      onKept();
      await changed();
      says.done(`Kept what was seen for ${record.pressed}.`, () => remove.mutate({ id: record.id, removed: true }));
    },
    onError: says.refused,
  });
}

/** Takes a record out, or brings it back. */
export function useRemoveRecord() {
  const changed = useChanged();
  const says = useSays();
  const mutation = useMutation({
    mutationFn: ({ id, removed }: { id: number; removed: boolean }) =>
      answer(api.POST("/api/records/{record_id}/removal", { params: { path: { record_id: id } }, body: { removed } })),
    onSuccess: async (record, { removed }) => {
      await changed();
      if (removed) says.done(`Took out the test of ${record.pressed}.`, () => back(record.id));
      else says.done(`Brought back the test of ${record.pressed}.`);
    },
    onError: says.refused,
  });
  const back = (id: number) => mutation.mutate({ id, removed: false });
  return mutation;
}
