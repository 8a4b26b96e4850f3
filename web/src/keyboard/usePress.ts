import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";

export type Heard = Schemas["HeardIn"];
export type Given = { text: string } | { strokes: Heard[] };

/** The server's judgement of a press (typed, or as physical strokes) in a focus; null where none is given. */
export function usePress(setup: string, program: string | null, scope: string | null, given: Given | null) {
  const body = { setup, program, scope, ...given };
  return useQuery({
    queryKey: key("press", body),
    queryFn: () => answer(api.POST("/api/press", { body })),
    enabled: given !== null,
    placeholderData: keepPreviousData,
    retry: false,
  });
}
