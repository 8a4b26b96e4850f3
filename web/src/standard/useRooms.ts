import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useSays } from "../shared/Says";
import { type Platform, useSetting } from "./useStandard";

export type Room = Schemas["RoomOut"];
export type RoomIn = Schemas["RoomIn"];

/** The commands that make room in the standard, or in a draft. */
export function useRooms(draft: number | null) {
  return useQuery({
    queryKey: key("standard", "rooms", draft),
    queryFn: () => answer(api.GET("/api/standard/rooms", { params: { query: { draft } } })),
  });
}

/** The commands of a program that have a key to give up. */
export function useOwnKeys(program: string, platform: Platform) {
  return useQuery({
    queryKey: key("standard", "ownKeys", program, platform),
    queryFn: () => answer(api.GET("/api/standard/rooms/commands", { params: { query: { program, platform } } })),
    enabled: program !== "",
  });
}

export function useRoomsPlan(rooms: RoomIn[], draft: number | null, seen: string) {
  return useQuery({
    queryKey: key("plan", "rooms", rooms, draft, seen),
    queryFn: () => answer(api.POST("/api/standard/rooms/plan", { body: { rooms, draft, seen, chosen: [] } })),
    enabled: rooms.length > 0,
    retry: false,
  });
}

export function useSaveRooms(onDone: () => void) {
  return useSetting((body: Schemas["RoomsIn"]) => answer(api.POST("/api/standard/rooms", { body })), onDone);
}

/** Keeping them in a draft: nothing of it counts before it is taken over. */
export function useKeepRooms(draft: number, onDone: () => void) {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: (rooms: RoomIn[]) =>
      answer(
        api.POST("/api/standard/drafts/{draft_id}/rooms", { params: { path: { draft_id: draft } }, body: { rooms } }),
      ),
    onSuccess: async (kept) => {
      onDone();
      await queries.invalidateQueries({ queryKey: key("standard", "rooms", draft) });
      await queries.invalidateQueries({ queryKey: key("plan", "draft") });
      says.done(`Kept in the draft ${kept.name}`);
    },
    onError: says.refused,
  });
}
