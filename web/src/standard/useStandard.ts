import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { contradictionsIn } from "../shared/BothMade";
import { useSays } from "../shared/Says";
import { useDone } from "../shared/useDone";

export type Standard = Schemas["StandardOut"];
export type Task = Schemas["TaskOut"];
export type Cell = Schemas["CellOut"];
export type ProgramHead = Schemas["MatrixProgramOut"];
export type Plan = Schemas["PlanOfStandardOut"];
export type LineIn = Schemas["LineIn"];
export type Draft = Schemas["WhatIfOut"];
export type Count = Schemas["CountOut"];
export type State = Cell["state"];
export type Platform = Standard["platform"];

/** What the matrix looks through: a lens, and of all its setups those of one layout or department. */
export interface Through {
  setup: string;
  everywhere: boolean;
  layout: string;
  department: string;
}

export function useStandard(through: Through) {
  return useQuery({
    queryKey: key("standard", through),
    queryFn: () => answer(api.GET("/api/standard", { params: { query: through } })),
    enabled: through.setup !== "",
    placeholderData: keepPreviousData,
    structuralSharing: false,
  });
}

export function useRow(task: string, through: Through) {
  return useQuery({
    queryKey: key("standard", "row", task, through),
    queryFn: () => answer(api.GET("/api/standard/tasks/{task}", { params: { path: { task }, query: through } })),
    placeholderData: keepPreviousData,
  });
}

const NO_TASKS: ReadonlySet<string> = new Set();

/** The tasks that keys have to do with; null where none are asked for. Keys that can't be read have to do with none. */
export function useTasksOn(keys: string, through: Through): ReadonlySet<string> | null {
  const found = useQuery({
    queryKey: key("standard", "keys", keys, through),
    queryFn: () => answer(api.GET("/api/standard/keys", { params: { query: { pressed: keys, ...through } } })),
    enabled: keys !== "" && through.setup !== "",
    placeholderData: keepPreviousData,
    retry: false,
  });
  const tasks = useMemo(() => new Set(found.data?.tasks), [found.data]);
  if (keys === "") return null;
  return found.isError ? NO_TASKS : tasks;
}

/** What lines would do; asked for as soon as they are chosen. What others would have done is not shown meanwhile. */
export function usePlan(lines: LineIn[], family: boolean, seen: string) {
  return useQuery({
    queryKey: key("plan", "standard", lines, family, seen),
    queryFn: () => answer(api.POST("/api/standard/plan", { body: { lines, family, seen } })),
    enabled: lines.length > 0,
    retry: false,
  });
}

export function useReleasePlan(wanted: boolean) {
  return useQuery({
    queryKey: key("plan", "release"),
    queryFn: () => answer(api.GET("/api/standard/release")),
    enabled: wanted,
    retry: false,
  });
}

export function useDrafts() {
  return useQuery({ queryKey: key("standard", "drafts"), queryFn: () => answer(api.GET("/api/standard/drafts")) });
}

export function useDraftPlan(id: number | null) {
  return useQuery({
    queryKey: key("plan", "draft", id),
    queryFn: () => answer(api.GET("/api/standard/drafts/{draft_id}/plan", { params: { path: { draft_id: id ?? 0 } } })),
    enabled: id !== null,
    retry: false,
  });
}

export function useFindings(wanted: boolean) {
  return useQuery({
    queryKey: key("standard", "findings"),
    queryFn: () => answer(api.GET("/api/standard/findings")),
    enabled: wanted,
  });
}

export function useCarried(origin: Platform, target: Platform) {
  return useQuery({
    queryKey: key("plan", "carry", origin, target),
    queryFn: () => answer(api.GET("/api/standard/carry", { params: { query: { origin, target } } })),
    enabled: origin !== target,
    retry: false,
  });
}

export function useBorrowed(asked: Schemas["BorrowIn"] | null) {
  return useQuery({
    queryKey: key("plan", "lend", asked),
    queryFn: () => (asked ? answer(api.POST("/api/standard/lend/plan", { body: asked })) : Promise.reject(asked)),
    enabled: asked !== null,
    retry: false,
  });
}

export function useSets() {
  return useQuery({ queryKey: key("standard", "sets"), queryFn: () => answer(api.GET("/api/standard/sets")) });
}

/** A writing request on the standard. Two people at once: what to do about it is asked where the line is, so nothing is said. */
export function useSetting<Body>(send: (body: Body) => Promise<Schemas["ChangeOut"]>, onDone?: () => void) {
  const says = useSays();
  return useDone(send, {
    onDone,
    onRefused: (error) => contradictionsIn(error).length === 0 && says.refused(error),
  });
}

export function useSaveLines(onDone?: () => void) {
  return useSetting((body: Schemas["SaveLinesIn"]) => answer(api.POST("/api/standard/lines", { body })), onDone);
}

export function useSaveException(onDone?: () => void) {
  return useSetting((body: Schemas["ExceptionIn"]) => answer(api.POST("/api/standard/exceptions", { body })), onDone);
}

export function useSaveMeanings() {
  return useSetting((body: Schemas["MeaningsIn"]) => answer(api.POST("/api/standard/meanings", { body })));
}

export function useRelease(onDone?: () => void) {
  return useSetting((_: null) => answer(api.POST("/api/standard/release")), onDone);
}

export function useTakeDraft(id: number, onDone?: () => void) {
  return useSetting(
    (chosen: Schemas["ChosenItemIn"][]) =>
      answer(
        api.POST("/api/standard/drafts/{draft_id}/take", { params: { path: { draft_id: id } }, body: { chosen } }),
      ),
    onDone,
  );
}

export function useLend(onDone?: () => void) {
  return useSetting((body: Schemas["BorrowIn"]) => answer(api.POST("/api/standard/lend", { body })), onDone);
}

export function useTakeSetOff() {
  return useSetting((body: Schemas["SetOffIn"]) => answer(api.POST("/api/standard/sets/removal", { body })));
}

/** Keeping lines in a draft: an existing one, or a new one (id null). */
export function useKeepDraft(onDone: (draft: Draft) => void) {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: ({ id, ...body }: Schemas["WhatIfIn"] & { id: number | null }) =>
      id === null
        ? answer(api.POST("/api/standard/drafts", { body }))
        : answer(api.POST("/api/standard/drafts/{draft_id}", { params: { path: { draft_id: id } }, body })),
    onSuccess: async (draft) => {
      onDone(draft);
      await queries.invalidateQueries({ queryKey: key("standard", "drafts") });
      await queries.invalidateQueries({ queryKey: key("plan", "draft") });
      says.done(`Kept in the draft ${draft.name}`);
    },
    onError: says.refused,
  });
}

export function useDropDraft() {
  const queries = useQueryClient();
  const says = useSays();
  const mutation = useMutation({
    mutationFn: ({ id, removed }: { id: number; removed: boolean }) =>
      answer(
        api.POST("/api/standard/drafts/{draft_id}/removal", { params: { path: { draft_id: id } }, body: { removed } }),
      ),
    onSuccess: async (draft, { removed }) => {
      await queries.invalidateQueries({ queryKey: key("standard", "drafts") });
      if (removed)
        says.done(`Dropped the draft ${draft.name}`, () => mutation.mutate({ id: draft.id, removed: false }));
      else says.done(`Brought the draft ${draft.name} back`);
    },
    onError: says.refused,
  });
  return mutation;
}
