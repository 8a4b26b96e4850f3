import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useSays } from "../shared/Says";

export type Matter = Schemas["MatterOut"];
type Today = Schemas["TodayOut"];

const KEY = key("today");

/** What needs whoever is signed in. */
export function useToday() {
  return useQuery({ queryKey: KEY, queryFn: () => answer(api.GET("/api/today")) });
}

/** Puts a matter aside or brings it back; what is said of it has the way back. */
export function useAside() {
  const queries = useQueryClient();
  const says = useSays();
  const keep = (today: Today) => queries.setQueryData(KEY, today);
  const back = useMutation({
    mutationFn: (id: string) => answer(api.POST("/api/today/back", { body: { id } })),
    onSuccess: keep,
    onError: says.refused,
  });
  const put = useMutation({
    mutationFn: (body: Schemas["PutAsideIn"]) => answer(api.POST("/api/today/aside", { body })),
    onSuccess: (today, { id, how }) => {
      keep(today);
      const until = how === "until Monday" ? "until Monday" : "for good; it isn't yours";
      says.done(`Put aside ${until}.`, () => back.mutate(id));
    },
    onError: says.refused,
  });
  return { put, back };
}

/** The address by which one's day is read without signing in. */
export function useFeed() {
  const queries = useQueryClient();
  const says = useSays();
  const make = useMutation({
    mutationFn: () => answer(api.POST("/api/today/feed")),
    onSuccess: () => queries.invalidateQueries({ queryKey: KEY }),
    onError: says.refused,
  });
  const end = useMutation({
    mutationFn: () => answer(api.POST("/api/today/feed/end")),
    onSuccess: (today) => {
      make.reset();
      queries.setQueryData(KEY, today);
    },
    onError: says.refused,
  });
  return { make, end };
}
