import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import type { Schemas } from "../../api/client";
import { answer, api, sendForm } from "../../api/client";
import { key } from "../../api/keys";
import { useSays } from "../../shared/Says";
import { useChanged, useUndo } from "../../shared/useHistory";

export type ListImport = Schemas["ListOut"];
const BUSY: ReadonlySet<ListImport["state"]> = new Set(["opening", "checking", "taking"] as const);

export function isBusy(found: ListImport): boolean {
  return BUSY.has(found.state);
}

export function useUpload() {
  return useMutation({
    mutationFn: ({ kind, file }: { kind: string; file: File }) => {
      const form = new FormData();
      form.set("file", file);
      return sendForm<ListImport>(`/api/organisation/lists/${kind}`, form);
    },
  });
}

/** An import as it stands; while a worker is busy with it, asked about again and again. */
export function useImport(id: string | null) {
  const changed = useChanged();
  const says = useSays();
  const undo = useUndo();
  const found = useQuery({
    queryKey: key("import", id),
    queryFn: () =>
      answer(api.GET("/api/organisation/imports/{import_id}", { params: { path: { import_id: id ?? "" } } })),
    enabled: id !== null,
    refetchInterval: (query) => (query.state.data && isBusy(query.state.data) ? 400 : false),
  });
  const state = found.data?.state;
  const change = found.data?.change;
  const name = found.data?.name;
  // biome-ignore lint/correctness/useExhaustiveDependencies: told once, when it has been taken
  useEffect(() => {
    if (state !== "taken" || !change) return;
    void changed();
    says.done(`Taken from ${name}.`, () => undo.mutate(change));
  }, [state, change]);
  return found;
}

export function useImportSteps(id: string) {
  const queries = useQueryClient();
  const says = useSays();
  const put = { onSuccess: (next: ListImport) => queries.setQueryData(key("import", id), next), onError: says.refused };
  const path = { path: { import_id: id } };
  const check = useMutation({
    mutationFn: (matching: Record<string, number>) =>
      answer(api.POST("/api/organisation/imports/{import_id}/check", { params: path, body: { matching } })),
    ...put,
  });
  const take = useMutation({
    mutationFn: (only_good: boolean) =>
      answer(api.POST("/api/organisation/imports/{import_id}/take", { params: path, body: { only_good } })),
    ...put,
  });
  return { check, take };
}
