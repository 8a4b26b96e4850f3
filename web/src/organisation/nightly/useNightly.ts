import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { answer, api } from "../../api/client";
import { key } from "../../api/keys";
import { useSays } from "../../shared/Says";

export type Sender = Schemas["SenderOut"];
export type Sent = Schemas["SentOut"];
export type Kind = Sender["kind"];
const WORKING_PAUSE = 700;

export const KINDS: { id: Kind; name: string }[] = [
  { id: "people", name: "People" },
  { id: "machines", name: "Machines" },
  { id: "commands", name: "Commands of a program" },
];

export function useSenders() {
  return useQuery({
    queryKey: key("nightly"),
    queryFn: () => answer(api.GET("/api/nightly")),
    refetchInterval: (query) => (query.state.data?.some((s) => s.newest?.state === "working") ? WORKING_PAUSE : false),
  });
}

/** How many lists wait for a yes: a small question, so every page may ask it all the time. */
export function useWaitingLists() {
  return useQuery({
    queryKey: key("nightly", "waiting"),
    queryFn: () => answer(api.GET("/api/nightly/waiting")),
    refetchInterval: 60_000,
  });
}

/** What one sender sent; asked for anew while something of it is in work, and what follows when it is done. */
export function useSent(sender: string, open: boolean, pages: number) {
  return useQuery({
    queryKey: key("nightly", sender, pages),
    queryFn: async () => {
      const path = { sender_id: sender };
      const starts = Array.from({ length: pages }, (_, n) => n * 30);
      const found = await Promise.all(
        starts.map((start) => answer(api.GET("/api/nightly/{sender_id}/sent", { params: { path, query: { start } } }))),
      );
      return { total: found[0]?.total ?? 0, rows: found.flatMap((f) => f.rows) };
    },
    enabled: open,
    refetchInterval: (query) => (query.state.data?.rows.some((r) => r.state === "working") ? WORKING_PAUSE : false),
  });
}

export function useMakeToken(onMade: (made: Schemas["SenderMadeOut"]) => void) {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: (body: Schemas["SenderIn"]) => answer(api.POST("/api/nightly", { body })),
    onSuccess: async (made) => {
      onMade(made);
      await queries.invalidateQueries({ queryKey: key("nightly") });
    },
    onError: says.refused,
  });
}

export function useRevoke() {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: (sender: Sender) =>
      answer(api.POST("/api/nightly/{sender_id}/revoke", { params: { path: { sender_id: sender.id } } })),
    onSuccess: async (sender) => {
      await queries.invalidateQueries({ queryKey: key("nightly") });
      says.done(`The token of ${sender.name} works no more. What it sent stays.`);
    },
    onError: says.refused,
  });
}

/** Yes or no to a list that waits. */
export function useAnswer() {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: ({ sent, yes }: { sent: Sent; yes: boolean }) => {
      const params = { path: { sent_id: sent.id } };
      return answer(
        yes
          ? api.POST("/api/nightly/lists/{sent_id}/yes", { params })
          : api.POST("/api/nightly/lists/{sent_id}/no", { params }),
      );
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: key("nightly") }),
    onError: says.refused,
  });
}
