import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useDone } from "../shared/useDone";

export type Program = Schemas["ProgramOut"];
export type Command = Schemas["CommandOut"];
type Assignment = Schemas["AssignIn"];

export function usePrograms(setup: string | undefined) {
  return useQuery({
    queryKey: key("programs", setup),
    queryFn: () => answer(api.GET("/api/programs", { params: { query: { setup: setup ?? "" } } })),
    enabled: setup !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** What giving a command these shortcuts would cause; asked for before it is done. */
export function usePlan(given: Assignment | null) {
  return useQuery({
    queryKey: key("plan", given),
    queryFn: () => answer(api.POST("/api/commands/plan", { body: given as Assignment })),
    enabled: given !== null,
    retry: false,
  });
}

export function useAssign() {
  return useDone((body: Assignment) => answer(api.POST("/api/commands/shortcuts", { body })));
}
