import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { answer, api } from "../../api/client";
import { key } from "../../api/keys";
import { useDone } from "../../shared/useDone";

export type Assumed = Schemas["Assumptions"];

export function useAssumed() {
  return useQuery({ queryKey: key("assumed"), queryFn: () => answer(api.GET("/api/organisation/worth")) });
}

/** A refusal is told beside the form that it belongs to. */
export function useAssume() {
  return useDone((body: Assumed) => answer(api.PUT("/api/organisation/worth", { body })), {
    onRefused: () => undefined,
  });
}
