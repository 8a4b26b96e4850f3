import { queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef } from "react";
import type { Schemas } from "../../api/client";
import { answer, api } from "../../api/client";
import { key } from "../../api/keys";
import type { Group } from "../useClashes";
import { useDecision } from "../useClashes";

export type Way = Schemas["WayOutOut"];
export type Asked = Schemas["AskedOut"];
/** What is said in the standard with a decision: nothing, another line, that its program is let off. */
export type Says = "nothing" | Schemas["DecisionTooIn"]["standard"];

function waysQuery(setup: string, identity: string, own: string | null, target: string | null) {
  return queryOptions({
    queryKey: key("ways", setup, identity, own, target),
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
    queryKey: key("ways", "landings", setup, identity),
    queryFn: () =>
      answer(api.GET("/api/clashes/{identity}/landings", { params: { path: { identity }, query: { setup } } })),
    retry: false,
  });
}

/** What a move would be if the command's task moved with it; null where it has none. */
export function useTaskMove(setup: string, identity: string, shortcut: string | null, target: string | null) {
  return useQuery({
    queryKey: key("ways", "task", setup, identity, shortcut, target),
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

/** What a way out asks of the standard, one for each task that it touches. */
export function useAsked(setup: string, identity: string, way: string | null, target: string | null) {
  return useQuery({
    queryKey: key("ways", "standard", setup, identity, way, target),
    queryFn: () =>
      answer(
        api.GET("/api/clashes/{identity}/standard", {
          params: { path: { identity }, query: { setup, way: way ?? "", target } },
        }),
      ),
    enabled: way !== null,
    retry: false,
  });
}

/** `says`: what is said in the standard with it; `seen`: the standard that was seen then. */
type Decision = Schemas["DecisionIn"] & { says: Says; seen: string | undefined };

/** Decides a clash, and says in the standard what follows. */
export function useDecide(identity: string, onGone: () => void) {
  return useDecision(({ says, seen, ...body }: Decision) => {
    const path = { identity };
    return says === "nothing"
      ? answer(api.POST("/api/clashes/{identity}/decision", { params: { path }, body }))
      : answer(
          api.POST("/api/clashes/{identity}/standard", { params: { path }, body: { ...body, standard: says, seen } }),
        );
  }, onGone);
}
