import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { answer, api } from "../../api/client";
import { key } from "../../api/keys";
import { useSays } from "../Says";
import { ownPlatform } from "./platform";

export type Own = Schemas["OwnOut"];

const KEY = key("own");

/** Amber Key's own shortcuts as this person has them, checked on the platform that they sit at. */
export function useOwn() {
  return useQuery({
    queryKey: KEY,
    queryFn: () => answer(api.GET("/api/own-shortcuts", { params: { query: { platform: ownPlatform() } } })),
    staleTime: 60_000,
  });
}

/** Changes one of them: a shortcut as text, "" to switch it off, null for the usual one. */
export function useChangeOwn() {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: ({ id, keys }: { id: string; keys: string | null }) =>
      answer(
        api.PUT("/api/own-shortcuts/{action}", {
          params: { path: { action: id }, query: { platform: ownPlatform() } },
          body: { keys },
        }),
      ),
    onSuccess: (all) => queries.setQueryData(KEY, all),
    onError: says.refused,
  });
}

/** The presses that never reach a page on the platform that this person sits at. */
export function useUnseen(wanted: boolean) {
  return useQuery({
    queryKey: key("unseen"),
    queryFn: () => answer(api.GET("/api/unseen", { params: { query: { platform: ownPlatform() } } })),
    staleTime: Number.POSITIVE_INFINITY,
    enabled: wanted,
  });
}
