import { useMutation, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { answer, api } from "../../api/client";
import { useSays } from "../../app/Says";
import { useChanged, useUndo } from "../../app/useHistory";

export function useUses(role: string) {
  return useQuery({
    queryKey: ["organisation", "uses", role],
    queryFn: () => answer(api.GET("/api/organisation/roles/{role}/uses", { params: { path: { role } } })),
  });
}

export function useEnterUse(role: string) {
  const changed = useChanged();
  const says = useSays();
  const undo = useUndo();
  return useMutation({
    mutationFn: (body: Schemas["UseIn"]) =>
      answer(api.POST("/api/organisation/roles/{role}/uses", { params: { path: { role } }, body })),
    onSuccess: async (done) => {
      await changed();
      says.done(done.title, () => undo.mutate(done.id));
    },
  });
}
