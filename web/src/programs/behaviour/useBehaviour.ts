import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { answer, api } from "../../api/client";
import { key } from "../../api/keys";
import { contradictionsIn } from "../../shared/BothMade";
import { useSays } from "../../shared/Says";
import { useDone } from "../../shared/useDone";

export type Behaviour = Schemas["BehaviourOut"];
export type Habit = Schemas["HabitOut"];

/** What of a program shall be otherwise: fields of its document, and what single commands hold on to. */
export interface Draft {
  fields: Record<string, unknown>;
  commands: Record<string, Record<string, unknown>>;
}

export const NO_DRAFT: Draft = { fields: {}, commands: {} };

export function isEmpty(draft: Draft): boolean {
  return Object.keys(draft.fields).length === 0 && Object.keys(draft.commands).length === 0;
}

const pathOf = (program: string, version: string) => ({ path: { program, version } });

export function useBehaviour(program: string, version: string, setup: string) {
  return useQuery({
    queryKey: key("behaviour", program, version, setup),
    queryFn: () =>
      answer(
        api.GET("/api/programs/{program}/{version}/behaviour", {
          params: { ...pathOf(program, version), query: { setup } },
        }),
      ),
    enabled: program !== "" && setup !== "",
  });
}

/** The program as a draft would have it, with its small traces; the last good answer stays while a draft is wrong. */
export function useTried(program: string, version: string, setup: string, draft: Draft) {
  return useQuery({
    queryKey: key("plan", "behaviour", program, version, setup, draft),
    queryFn: () =>
      answer(
        api.POST("/api/programs/{program}/{version}/behaviour/try", {
          params: pathOf(program, version),
          body: { setup, ...draft },
        }),
      ),
    enabled: program !== "" && !isEmpty(draft),
    retry: false,
    placeholderData: keepPreviousData,
  });
}

export function usePlanned(program: string, version: string, setup: string, draft: Draft, enabled: boolean) {
  return useQuery({
    queryKey: key("plan", "behaviour-clashes", program, version, setup, draft),
    queryFn: () =>
      answer(
        api.POST("/api/programs/{program}/{version}/behaviour/plan", {
          params: pathOf(program, version),
          body: { setup, ...draft },
        }),
      ),
    enabled: enabled && !isEmpty(draft),
    retry: false,
  });
}

export function useSaveBehaviour(program: string, version: string, onDone: () => void) {
  const says = useSays();
  return useDone(
    (body: Schemas["SaveIn"]) =>
      answer(api.PUT("/api/programs/{program}/{version}/behaviour", { params: pathOf(program, version), body })),
    // Two people at once: what to do about it is asked where it is edited, so nothing is said.
    { onDone, onRefused: (error) => contradictionsIn(error).length === 0 && says.refused(error) },
  );
}
