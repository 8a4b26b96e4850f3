import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import type { Schemas } from "../../api/client";
import { answer, api, sendForm } from "../../api/client";
import { key } from "../../api/keys";
import { useSays } from "../../shared/Says";
import { useChanged, useUndo } from "../../shared/useHistory";

export type List = Schemas["CommandListOut"];
export type Asked = List["asked"];
export type Row = Schemas["ListedRowOut"];
export type Which = "all" | "guessed" | Row["what"];
export type Field = List["columns"][string];
export const FIELDS: { id: Field; name: string }[] = [
  { id: "name", name: "what it does" },
  { id: "keys", name: "keys" },
  { id: "keys.windows", name: "keys on Windows" },
  { id: "keys.macos", name: "keys on macOS" },
  { id: "keys.linux", name: "keys on Linux" },
  { id: "group", name: "group" },
  { id: "scope", name: "where it is live" },
  { id: "description", name: "description" },
  { id: "other_words", name: "other words" },
  { id: "task", name: "task" },
  { id: "kind", name: "kind" },
  { id: "risky", name: "whether it is risky" },
  { id: "id", name: "id in files" },
];
const PAGE = 100;

export function isBusy(list: List): boolean {
  return ["opening", "checking", "taking"].includes(list.state);
}

/** A list as it stands; while a worker is busy with it, asked about again and again. */
export function useList(id: string | null) {
  const changed = useChanged();
  const says = useSays();
  const undo = useUndo();
  const found = useQuery({
    queryKey: key("commandList", id),
    queryFn: () => answer(api.GET("/api/command-lists/{list_id}", { params: { path: { list_id: id ?? "" } } })),
    enabled: id !== null,
    refetchInterval: (query) => (query.state.data && isBusy(query.state.data) ? 400 : false),
  });
  const state = found.data?.state;
  const change = found.data?.change;
  // biome-ignore lint/correctness/useExhaustiveDependencies: told once, when it has been taken
  useEffect(() => {
    if (state !== "taken" || !change) return;
    void changed();
    says.done(`Brought in from ${found.data?.name}.`, () => undo.mutate(change));
  }, [state, change]);
  return found;
}

/** The first rows of a kind, as many as were asked for. */
export function useRows(list: List, which: Which, pages: number) {
  return useQuery({
    queryKey: key("commandList", list.id, "rows", which, pages, list.asked, list.state),
    queryFn: async () => {
      const found = await Promise.all(
        Array.from({ length: pages }, (_, n) =>
          answer(
            api.GET("/api/command-lists/{list_id}/rows", {
              params: { path: { list_id: list.id }, query: { which, start: n * PAGE, count: PAGE } },
            }),
          ),
        ),
      );
      return { total: found[0]?.total ?? 0, rows: found.flatMap((p) => p.rows) };
    },
    placeholderData: (before) => before,
    enabled: !isBusy(list),
  });
}

/** Brings a list in: a file, or what was pasted. */
export function useBring(onList: (id: string) => void) {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: (given: File | Schemas["PastedIn"]) => {
      if (!(given instanceof File)) return answer(api.POST("/api/command-lists/pasted", { body: given }));
      const form = new FormData();
      form.set("file", given);
      return sendForm<List>("/api/command-lists", form);
    },
    onSuccess: (list) => {
      queries.setQueryData(key("commandList", list.id), list);
      onList(list.id);
    },
    onError: says.refused,
  });
}

/** Understands a list in another way, and takes it. */
export function useListSteps(id: string) {
  const queries = useQueryClient();
  const says = useSays();
  const params = { path: { list_id: id } };
  const put = {
    onSuccess: (next: List) => queries.setQueryData(key("commandList", id), next),
    onError: says.refused,
  };
  const ask = useMutation({
    mutationFn: (body: Asked) => answer(api.PUT("/api/command-lists/{list_id}", { params, body })),
    ...put,
  });
  const take = useMutation({
    mutationFn: () => answer(api.POST("/api/command-lists/{list_id}/take", { params })),
    ...put,
  });
  return { ask, take };
}
