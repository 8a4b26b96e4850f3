import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { answer, api, sendForm } from "../../api/client";
import { key } from "../../api/keys";
import { useSays } from "../../shared/Says";
import { useDone } from "../../shared/useDone";

export type Survey = Schemas["SurveyOut"];
export type OwnChange = Schemas["OwnChangeOut"];
/** For each own change, by its id, a profile's id or "own". */
export type Into = Record<string, string>;
export const OWN = "own";
const KEY = key("survey");

/** The newest survey; while a job reads it, it is asked for again. */
export function useSurvey() {
  return useQuery({
    queryKey: KEY,
    queryFn: () => answer(api.GET("/api/surveys/newest")),
    refetchInterval: (query) => (query.state.data?.survey?.state === "working" ? 1_000 : false),
  });
}

export function useLook() {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: (file: File | null) => {
      if (file === null) return answer(api.POST("/api/surveys"));
      const form = new FormData();
      form.set("file", file);
      return sendForm<Survey>("/api/surveys/files", form);
    },
    onSuccess: (survey) => queries.setQueryData(KEY, { survey }),
    onError: says.refused,
  });
}

/** What taking some changes would make of clashes. */
export function usePlan(survey: string, into: Into) {
  return useQuery({
    queryKey: key("survey", survey, into),
    queryFn: () =>
      answer(api.POST("/api/surveys/{survey_id}/plan", { params: { path: { survey_id: survey } }, body: { into } })),
    enabled: Object.keys(into).length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  });
}

export function useTake(survey: string, onDone: () => void) {
  return useDone(
    (into: Into) =>
      answer(api.POST("/api/surveys/{survey_id}/take", { params: { path: { survey_id: survey } }, body: { into } })),
    { onDone },
  );
}

interface Dropping {
  changes: string[];
  dropped: boolean;
}

export function useDrop(survey: string) {
  const queries = useQueryClient();
  const says = useSays();
  const drop = useMutation({
    mutationFn: (body: Dropping) =>
      answer(api.POST("/api/surveys/{survey_id}/dropped", { params: { path: { survey_id: survey } }, body })),
    onSuccess: (told, { changes, dropped }) => {
      queries.setQueryData(KEY, { survey: told });
      says.done(dropped ? "It is to be nobody's." : "It is looked at again.", () =>
        drop.mutate({ changes, dropped: !dropped }),
      );
    },
    onError: says.refused,
  });
  return drop;
}
