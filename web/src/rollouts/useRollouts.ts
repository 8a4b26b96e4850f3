import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useSays } from "../shared/Says";
import { useDone } from "../shared/useDone";
import { useSettled } from "../shared/useSettled";

export type Release = Schemas["ReleasePlanOut"];
export type Wave = Schemas["ReleaseWaveOut"];
export type Stop = Release["stops"][number];
export type Stand = Wave["parts"][number]["state"];
export type Drawn = Schemas["DrawnOut"];
export type Drift = Schemas["DriftOut"];
export type Draft = Schemas["DrawIn"];
export type DraftWave = Draft["plan"]["waves"][number];
const KEY = key("rollouts");

/** All releases, the newest first. */
export function useReleases() {
  return useQuery({
    queryKey: [...KEY, "all"],
    queryFn: () => answer(api.GET("/api/rollouts")),
    refetchInterval: 10_000,
  });
}

/** One release. Machines speak when they like, so it is asked about again and again while somebody looks. */
export function useRelease(id: string) {
  return useQuery({
    queryKey: [...KEY, id],
    queryFn: () => answer(api.GET("/api/rollouts/{plan_id}", { params: { path: { plan_id: id } } })),
    refetchInterval: 4_000,
  });
}

/** What can go out. */
export function useOffered() {
  return useQuery({ queryKey: [...KEY, "offered"], queryFn: () => answer(api.GET("/api/rollouts/offered")) });
}

/** What a plan would do, told while it is drawn. */
export function useDrawn(draft: Draft) {
  return useQuery({
    queryKey: [...KEY, "draw", draft],
    queryFn: () => answer(api.POST("/api/rollouts/draw", { body: draft })),
    placeholderData: keepPreviousData,
    retry: false,
  });
}

/** What a release of some documents is worth to those whom it reaches. */
export function useReleaseWorth(of: string[]) {
  return useQuery({
    queryKey: [...KEY, "worth", ...of],
    queryFn: () => answer(api.POST("/api/rollouts/worth", { body: { of } })),
    retry: false,
  });
}

/** Begin a release, and look at it. */
export function useBegin() {
  const queries = useQueryClient();
  const says = useSays();
  const navigate = useNavigate();
  return useMutation({
    mutationFn: (draft: Draft) => answer(api.POST("/api/rollouts", { body: draft })),
    onSuccess: async (release) => {
      await queries.invalidateQueries({ queryKey: KEY });
      says.done(`Release ${release.number} has begun.`);
      navigate(`/machines/releases/${release.id}`);
    },
    onError: says.refused,
  });
}

type Act = "pause" | "go-on" | "take-back";
type MachineAct = "take-back" | "try-again" | "without" | "put-right";

/** Steer a release: it is told anew at once. */
export function useSteer(id: string) {
  return useOfRelease((act: Act) =>
    answer(
      api.POST(`/api/rollouts/{plan_id}/${act}` as "/api/rollouts/{plan_id}/pause", {
        params: { path: { plan_id: id } },
      }),
    ),
  );
}

/** What becomes of one machine in a release. */
export function useSteerMachine(id: string) {
  return useOfRelease(({ machine, act }: { machine: string; act: MachineAct }) =>
    answer(
      api.POST(
        `/api/rollouts/{plan_id}/machines/{machine_id}/${act}` as "/api/rollouts/{plan_id}/machines/{machine_id}/without",
        { params: { path: { plan_id: id, machine_id: machine } } },
      ),
    ),
  );
}

/** What changed waves would come to, asked once they have stayed the same for a moment. */
export function useDrawnWaves(id: string, body: Schemas["WavesIn"]) {
  const asked = useSettled(JSON.stringify(body));
  return useQuery({
    queryKey: key("plan", "waves", id, asked),
    queryFn: () =>
      answer(
        api.POST("/api/rollouts/{plan_id}/waves/draw", {
          params: { path: { plan_id: id } },
          body: JSON.parse(asked),
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
}

/** Change the waves that aren't open yet. */
export function useChangeWaves(id: string, onDone: () => void) {
  return useOfRelease(
    (body: Schemas["WavesIn"]) =>
      answer(api.POST("/api/rollouts/{plan_id}/waves", { params: { path: { plan_id: id } }, body })),
    onDone,
  );
}

function useOfRelease<Given>(send: (given: Given) => Promise<Release>, onDone?: () => void) {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: send,
    onSuccess: (release) => {
      queries.setQueryData([...KEY, release.id], release);
      onDone?.();
    },
    onError: says.refused,
  });
}

/** What people changed on their machines. */
export function useDrift() {
  return useQuery({ queryKey: key("drift"), queryFn: () => answer(api.GET("/api/drift")), refetchInterval: 15_000 });
}

/** Taken into a profile, as one change with its undo. */
export function useTakeDrift() {
  return useDone((into: Record<string, string>) => answer(api.POST("/api/drift/take", { body: { into } })));
}

interface Leaving {
  id: string;
  reason: string;
  until: string;
}

/** It stays for a while, with a reason. */
export function useLeaveDrift() {
  return useOfDrift(({ id, reason, until }: Leaving) =>
    answer(api.POST("/api/drift/{drift_id}/leave", { params: { path: { drift_id: id } }, body: { reason, until } })),
  );
}

/** What was left waits for a word again. */
export function useLookAgain() {
  return useOfDrift((id: string) =>
    answer(api.POST("/api/drift/{drift_id}/again", { params: { path: { drift_id: id } } })),
  );
}

function useOfDrift<Given>(send: (given: Given) => Promise<Schemas["DriftsOut"]>) {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: send,
    onSuccess: async (found) => {
      queries.setQueryData(key("drift"), found);
      await queries.invalidateQueries({ queryKey: KEY });
    },
    onError: says.refused,
  });
}
