import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api, sendForm } from "../api/client";
import { key } from "../api/keys";
import { useSays } from "../shared/Says";
import { useDone } from "../shared/useDone";

export type Line = Schemas["HistoryLineOut"];
export type RevisionLine = Schemas["RevisionLineOut"];
export type Compared = Schemas["ComparedOut"];
export type Side = Schemas["ComparedSideOut"];

/** A document's key in two parts, as addresses of the server have it. */
export function partsOf(document: string): { kind: string; doc_id: string } {
  const at = document.indexOf("/");
  return { kind: document.slice(0, at), doc_id: document.slice(at + 1) };
}

/** Keeps a bundle at hand, so that it can be one of the sides. */
export function useBundleSide() {
  const says = useSays();
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData();
      form.set("file", file);
      return sendForm<Schemas["BundleSideOut"]>("/api/compare/bundle", form);
    },
    onError: says.refused,
  });
}

export function useLine(document: string) {
  return useQuery({
    queryKey: key("line", document),
    queryFn: () => answer(api.GET("/api/documents/{kind}/{doc_id}/revisions", { params: { path: partsOf(document) } })),
    enabled: document !== "",
  });
}

/** What some revisions changed, in words: asked for those in sight only. */
export function useWords(document: string, numbers: number[]) {
  return useQuery({
    queryKey: key("line", "words", document, numbers),
    queryFn: () =>
      answer(
        api.GET("/api/documents/{kind}/{doc_id}/words", {
          params: { path: partsOf(document), query: { numbers: numbers.join(",") } },
        }),
      ),
    enabled: numbers.length > 0,
    placeholderData: keepPreviousData,
  });
}

export function useCameOfIt(document: string, number: number | null) {
  return useQuery({
    queryKey: key("line", "came", document, number),
    queryFn: () =>
      answer(
        api.GET("/api/documents/{kind}/{doc_id}/revisions/{number}", {
          params: { path: { ...partsOf(document), number: number ?? 0 } },
        }),
      ),
    enabled: number !== null,
  });
}

export function useGoBack(document: string) {
  return useDone((body: Schemas["BackIn"]) =>
    answer(api.POST("/api/documents/{kind}/{doc_id}/back", { params: { path: partsOf(document) }, body })),
  );
}

export function useUndoSome(onDone: () => void) {
  return useDone(
    ({ change, differences }: { change: number; differences: Record<string, string[]> }) =>
      answer(
        api.POST("/api/history/{change_id}/undo-some", {
          params: { path: { change_id: change } },
          body: { differences },
        }),
      ),
    { onDone },
  );
}

export function useCompared(left: string, right: string) {
  return useQuery({
    queryKey: key("line", "compared", left, right),
    queryFn: () => answer(api.GET("/api/compare", { params: { query: { left, right } } })),
    enabled: left !== "" && right !== "",
    retry: false,
  });
}

export function useWould(choice: Schemas["ChoiceIn"], enabled: boolean) {
  return useQuery({
    queryKey: key("plan", "compare", choice),
    queryFn: () => answer(api.POST("/api/compare/plan", { body: choice })),
    enabled,
    retry: false,
    placeholderData: keepPreviousData,
  });
}

export function useTakeOver() {
  return useDone((body: Schemas["ChoiceIn"]) => answer(api.POST("/api/compare/take", { body })));
}
