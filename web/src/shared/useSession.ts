import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";

const KEY = key("session");

export function useSession() {
  return useQuery({ queryKey: KEY, queryFn: () => answer(api.GET("/api/session")), staleTime: 60_000 });
}

export function useSignIn() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["Credentials"]) => answer(api.POST("/api/session", { body })),
    onSuccess: (session) => {
      // What one person saw is not for the next one.
      queries.removeQueries({ predicate: (q) => q.queryKey[0] !== KEY[0] });
      queries.setQueryData(KEY, session);
    },
  });
}

export function useSignOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => answer(api.DELETE("/api/session")),
    onSuccess: (session) => {
      // What one person saw is not for the next one.
      queries.removeQueries({ predicate: (q) => q.queryKey[0] !== KEY[0] });
      queries.setQueryData(KEY, session);
    },
  });
}

/** What the person who is signed in may do. */
export function useRights() {
  const me = useSession().data?.me;
  return {
    edit: me?.may_edit ?? false,
    release: me?.may_release ?? false,
    administer: me?.may_administer ?? false,
  };
}
