import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { answer, api } from "../../api/client";
import { key } from "../../api/keys";
import { useDone } from "../../shared/useDone";

export function useUses(role: string) {
  return useQuery({
    queryKey: key("organisation", "uses", role),
    queryFn: () => answer(api.GET("/api/organisation/roles/{role}/uses", { params: { path: { role } } })),
  });
}

/** A refusal is told beside the form that it belongs to. */
export function useEnterUse(role: string) {
  return useDone(
    (body: Schemas["UseIn"]) =>
      answer(api.POST("/api/organisation/roles/{role}/uses", { params: { path: { role } }, body })),
    { onRefused: () => undefined },
  );
}
