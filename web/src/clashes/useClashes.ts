import { keepPreviousData, queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef } from "react";
import type { Schemas } from "../api/client";
import { answer, api, ProblemError } from "../api/client";
import { useSays } from "../app/Says";
import { useChanged, useUndo } from "../app/useHistory";

export type Group = Schemas["GroupOut"];
export type Way = Schemas["WayOutOut"];
export type Chosen = Schemas["ChosenIn"];

export function useClashes(setup: string | undefined, everywhere: boolean) {
  return useQuery({
    queryKey: ["clashes", setup, everywhere],
    queryFn: () => answer(api.GET("/api/clashes", { params: { query: { setup: setup ?? "", everywhere } } })),
    enabled: setup !== undefined,
    placeholderData: keepPreviousData,
    // Comparing the answer with the one before costs more than drawing the rows in sight again.
    structuralSharing: false,
  });
}

/** What makers meant; asked for only where somebody looks at it. */
export function useMeant(setup: string | undefined, everywhere: boolean, wanted: boolean) {
  return useQuery({
    queryKey: ["meant", setup, everywhere],
    queryFn: () => answer(api.GET("/api/clashes/meant", { params: { query: { setup: setup ?? "", everywhere } } })),
    enabled: setup !== undefined && wanted,
  });
}

export function useDecided(words: string, page: number) {
  return useQuery({
    queryKey: ["decided", words, page],
    queryFn: () => answer(api.GET("/api/clashes/decided", { params: { query: { words, page } } })),
    placeholderData: keepPreviousData,
  });
}

function waysQuery(setup: string, identity: string, own: string | null, target: string | null) {
  return queryOptions({
    queryKey: ["ways", setup, identity, own, target],
    queryFn: () =>
      answer(
        api.GET("/api/clashes/{identity}/ways", { params: { path: { identity }, query: { setup, own, target } } }),
      ),
    retry: false,
    staleTime: 60_000,
  });
}

export function useWays(setup: string, identity: string, own: string | null, target: string | null, wanted = true) {
  return useQuery({ ...waysQuery(setup, identity, own, target), enabled: wanted });
}

const INTENT = 90;

/** Asks for the ways out of a row that somebody stays at, so that they are there when it unfolds. */
export function useWaysAhead(): (group: Group) => void {
  const queries = useQueryClient();
  const timer = useRef(0);
  useEffect(() => () => window.clearTimeout(timer.current), []);
  return useCallback(
    (group) => {
      window.clearTimeout(timer.current);
      timer.current = window.setTimeout(
        () => queries.prefetchQuery(waysQuery(group.seen_in, group.identity, null, null)),
        INTENT,
      );
    },
    [queries],
  );
}

/** The layers in which a decision can be kept, with what each reaches. */
export function useLandings(setup: string, identity: string) {
  return useQuery({
    queryKey: ["ways", "landings", setup, identity],
    queryFn: () =>
      answer(api.GET("/api/clashes/{identity}/landings", { params: { path: { identity }, query: { setup } } })),
    retry: false,
  });
}

/** What a move would be if the command's task moved with it; null where it has none. */
export function useTaskMove(setup: string, identity: string, shortcut: string | null, target: string | null) {
  return useQuery({
    queryKey: ["ways", "task", setup, identity, shortcut, target],
    queryFn: () =>
      answer(
        api.GET("/api/clashes/{identity}/task", {
          params: { path: { identity }, query: { setup, shortcut: shortcut ?? "", target } },
        }),
      ),
    enabled: shortcut !== null,
    retry: false,
  });
}

/** A writing request on clashes: what it did is said with its undo, a refusal with its reason. */
function useDone<Body>(send: (body: Body) => Promise<Schemas["ChangeOut"]>, onGone: () => void) {
  const changed = useChanged();
  const says = useSays();
  const undo = useUndo();
  return useMutation({
    mutationFn: send,
    onSuccess: async (change) => {
      // The new answer is asked for before the screen is drawn without the old one: the server needn't wait for that.
      const all = changed();
      onGone();
      await all;
      says.done(change.title, () => undo.mutate(change.id));
    },
    onError: async (error) => {
      says.refused(error);
      if (error instanceof ProblemError && error.problem.status === 409) onGone();
      // Somebody else was faster, or the way is gone: show what is there now.
      await changed();
    },
  });
}

/** Decides a clash; `onGone` is called as soon as it is decided, by this person or by another one. */
export function useDecide(identity: string, onGone: () => void) {
  return useDone(
    (body: Schemas["DecisionIn"]) =>
      answer(api.POST("/api/clashes/{identity}/decision", { params: { path: { identity } }, body })),
    onGone,
  );
}

export function useSettlement(chosen: Chosen[]) {
  return useQuery({
    queryKey: ["plan", "settlement", chosen],
    queryFn: () => answer(api.POST("/api/settlements/plan", { body: { chosen, ways: [], reason: "" } })),
    retry: false,
  });
}

export function useSettle(onGone: () => void) {
  return useDone((body: Schemas["SeveralIn"]) => answer(api.POST("/api/settlements", { body })), onGone);
}

export function useAllowSeveral(onGone: () => void) {
  return useDone((body: Schemas["AllowSeveralIn"]) => answer(api.POST("/api/allowances", { body })), onGone);
}

/** Says whether makers meant some clashes. */
export function useMean(onGone: () => void) {
  return useDone((body: Schemas["MeanIn"]) => answer(api.POST("/api/meanings", { body })), onGone);
}
