import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useDone } from "../shared/useDone";

export type Beginning = Schemas["BeginningLineOut"];
export type Step = Schemas["LineStepOut"];

/** How far the work has come. */
export function useBeginning() {
  return useQuery({ queryKey: key("beginning"), queryFn: () => answer(api.GET("/api/beginning")) });
}

export function useNameOrganisation() {
  return useDone((body: Schemas["OrganisationIn"]) => answer(api.POST("/api/beginning/organisation", { body })));
}
