import { useMutation, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useSays } from "../shared/Says";
import { useDone } from "../shared/useDone";
import { useChanged } from "../shared/useHistory";

export type Profile = Schemas["ProfileOut"];

export function useProfiles() {
  return useQuery({ queryKey: key("profiles"), queryFn: () => answer(api.GET("/api/profiles")) });
}

/** All profiles by their names alone. */
export function useNamed() {
  return useQuery({ queryKey: key("profiles", "named"), queryFn: () => answer(api.GET("/api/profiles/named")) });
}

/** One profile; nothing is asked for none. */
export function useProfile(profile: string) {
  return useQuery({
    queryKey: key("profiles", "one", profile),
    queryFn: () => answer(api.GET("/api/profiles/one/{profile_id}", { params: { path: { profile_id: profile } } })),
    enabled: profile !== "",
  });
}

/** What a profile's keys are worth to those who have it. */
export function useProfileWorth(profile: string) {
  return useQuery({
    queryKey: key("worth", profile),
    queryFn: () => answer(api.GET("/api/profiles/{profile_id}/worth", { params: { path: { profile_id: profile } } })),
  });
}

/** Releases a revision; its undo releases again what was released before. */
export function useRelease(profile: string, before: number | null) {
  const changed = useChanged();
  const says = useSays();
  const release = useMutation({
    mutationFn: (number: number) =>
      answer(
        api.POST("/api/profiles/{profile_id}/release", {
          params: { path: { profile_id: profile } },
          body: { number },
        }),
      ),
    onSuccess: async (revision) => {
      await changed();
      const undo = before !== null && before !== revision.number ? () => release.mutate(before) : undefined;
      says.done(`Released revision ${revision.number}; machines can be given it now.`, undo);
    },
    onError: says.refused,
  });
  return release;
}

type Hold =
  | { lock: Schemas["LockIn"] }
  | { reserve: Omit<Schemas["ReserveIn"], "reason"> & { reason: string } }
  | { free: string };

/** What a profile keeps from nearer layers: an entry locked or let go, a press reserved or freed. */
export function useHold(profile: string) {
  const params = { path: { profile_id: profile } };
  return useDone((hold: Hold) => {
    if ("lock" in hold) return answer(api.POST("/api/profiles/{profile_id}/lock", { params, body: hold.lock }));
    if ("free" in hold)
      return answer(api.POST("/api/profiles/{profile_id}/free", { params, body: { key: hold.free } }));
    return answer(api.POST("/api/profiles/{profile_id}/reserve", { params, body: hold.reserve }));
  });
}
