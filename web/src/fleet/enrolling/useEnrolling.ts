import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { answer, api } from "../../api/client";
import { key } from "../../api/keys";
import { useSays } from "../../shared/Says";

export type EnrolKey = Schemas["EnrolKeyOut"];
export type Wanted = Schemas["EnrolKeyIn"];
const KEYS = key("enrolling", "keys");

export function useCode(machineId: string) {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: () =>
      answer(api.POST("/api/machines/{machine_id}/code", { params: { path: { machine_id: machineId } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: key("machines") }),
    onError: says.refused,
  });
}

/** The agent to take along, for machines like the server's. */
export function useAgentPackage() {
  return useQuery({ queryKey: key("enrolling", "package"), queryFn: () => answer(api.GET("/api/agents/package")) });
}

export function useEnrolKeys(enabled: boolean) {
  return useQuery({ queryKey: KEYS, queryFn: () => answer(api.GET("/api/enrolment-keys")), enabled });
}

export function useMakeKey() {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: (wanted: Wanted) => answer(api.POST("/api/enrolment-keys", { body: wanted })),
    onSuccess: () => queries.invalidateQueries({ queryKey: KEYS }),
    onError: says.refused,
  });
}

interface Withdrawal {
  of: EnrolKey;
  back: boolean;
}

export function useWithdrawKey() {
  const queries = useQueryClient();
  const says = useSays();
  const change = useMutation({
    mutationFn: ({ of, back }: Withdrawal) =>
      answer(api.POST("/api/enrolment-keys/{key_id}", { params: { path: { key_id: of.id } }, body: { back } })),
    onSuccess: (_, { of, back }) => {
      says.done(back ? "The key works again." : "The key enrols nobody any more.", () =>
        change.mutate({ of, back: !back }),
      );
      return queries.invalidateQueries({ queryKey: KEYS });
    },
    onError: says.refused,
  });
  return change;
}
