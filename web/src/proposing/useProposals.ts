import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useSays } from "../shared/Says";

export type Proposal = Schemas["AskedProposalOut"];
export type AskedOf = Proposal["asked"];
export type Point = Schemas["ProposedPointOut"];
export type Line = Point["lines"][number];

/** While a worker is at it, a proposal is asked about so often, in milliseconds. */
const AGAIN = 1_000;

export function useProposals() {
  return useQuery({ queryKey: key("proposals"), queryFn: () => answer(api.GET("/api/proposals")) });
}

export function useProposal(id: string | null) {
  return useQuery({
    queryKey: key("proposals", id),
    queryFn: () => answer(api.GET("/api/proposals/{proposal_id}", { params: { path: { proposal_id: id ?? "" } } })),
    enabled: id !== null,
    refetchInterval: (query) => (query.state.data?.state === "working" ? AGAIN : false),
  });
}

export function usePoint(id: string, point: number | null) {
  return useQuery({
    queryKey: key("proposals", id, "point", point),
    queryFn: () =>
      answer(
        api.GET("/api/proposals/{proposal_id}/points/{point_id}", {
          params: { path: { proposal_id: id, point_id: point ?? 0 } },
        }),
      ),
    enabled: point !== null,
    placeholderData: (before) => before,
  });
}

/** One point on a keyboard; `held`: modifiers with commas between, null for those with which most tasks have their keys. */
export function usePlanKeyboard(
  id: string,
  point: number,
  platform: AskedOf["platform"],
  setup: string | null,
  held: string | null,
) {
  return useQuery({
    queryKey: key("proposals", id, "keyboard", point, platform, setup, held),
    queryFn: () =>
      answer(
        api.GET("/api/proposals/{proposal_id}/points/{point_id}/keyboard", {
          params: { path: { proposal_id: id, point_id: point }, query: { setup: setup ?? "", held, platform } },
        }),
      ),
    enabled: setup !== null,
    placeholderData: (before) => before,
  });
}

export function useAsk(onAsked: (id: string) => void) {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: (body: AskedOf) => answer(api.POST("/api/proposals", { body })),
    onSuccess: (made) => {
      queries.setQueryData(key("proposals", made.id), made);
      void queries.invalidateQueries({ queryKey: key("proposals"), exact: true });
      onAsked(made.id);
    },
    onError: says.refused,
  });
}

/** Stops the work on a proposal with the best so far, and goes on with it. */
export function useStop(id: string) {
  const queries = useQueryClient();
  const says = useSays();
  const params = { path: { proposal_id: id } };
  const told = {
    onSuccess: () => queries.invalidateQueries({ queryKey: key("proposals", id) }),
    onError: says.refused,
  };
  const stop = useMutation({
    mutationFn: () => answer(api.POST("/api/proposals/{proposal_id}/stop", { params })),
    ...told,
  });
  const goOn = useMutation({
    mutationFn: () => answer(api.POST("/api/proposals/{proposal_id}/on", { params })),
    ...told,
  });
  return { stop, goOn };
}

export function useDraftOf(id: string, point: number, onMade: (draft: number) => void) {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: (name: string) =>
      answer(
        api.POST("/api/proposals/{proposal_id}/points/{point_id}/draft", {
          params: { path: { proposal_id: id, point_id: point } },
          body: { name },
        }),
      ),
    onSuccess: async (made) => {
      await queries.invalidateQueries({ queryKey: key("standard") });
      onMade(made.id);
    },
    onError: says.refused,
  });
}
