import { keepPreviousData, useMutation, useQueries, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useDone } from "../shared/useDone";
import type { Asked } from "./asked";
import { queryOf } from "./asked";

export type Commands = Schemas["CommandsOut"];
export type CommandRow = Schemas["CommandRowOut"];
export type Line = Schemas["ShownCommandOut"];
export type Life = Schemas["CommandLifeOut"];
/** What is reset; what isn't said is left open. */
export type ResetIn = Pick<Schemas["ResetIn"], "setup"> & Partial<Schemas["ResetIn"]>;
const NOT_SAID = { program: "", profile: "", to: "what is beneath", only: "" } as const;

/** So many lines come with one answer. */
export const PIECE = 60;

function pieceOf(asked: Asked, setup: string, piece: number, row = "") {
  return {
    queryKey: key("commands", setup, asked, piece, row),
    queryFn: () =>
      answer(
        api.GET("/api/commands", {
          params: { query: { ...queryOf(asked, setup), at: piece * PIECE, count: PIECE, ...(row ? { row } : {}) } },
        }),
      ),
    staleTime: 60_000,
  };
}

/** The first piece of what is asked for: it says how much there is, and where a row is among it. */
export function useCommands(asked: Asked, setup: string | undefined, row: string) {
  return useQuery({
    ...pieceOf(asked, setup ?? "", 0, row),
    enabled: setup !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** Lines by their places, of the pieces that are in sight. */
export function useLines(asked: Asked, setup: string, first: number, last: number): (at: number) => Line | undefined {
  const from = Math.floor(first / PIECE);
  const pieces = Array.from({ length: Math.floor(last / PIECE) - from + 1 }, (_, n) => from + n);
  const found = useQueries({ queries: pieces.map((piece) => pieceOf(asked, setup, piece)) });
  return (at) => found[Math.floor(at / PIECE) - from]?.data?.shown[at % PIECE];
}

/** By what rows can be asked for. */
export function useChoices(setup: string | undefined) {
  return useQuery({
    queryKey: key("commandChoices", setup),
    queryFn: () => answer(api.GET("/api/commands/choices", { params: { query: { setup: setup ?? "" } } })),
    enabled: setup !== undefined,
    placeholderData: keepPreviousData,
  });
}

export function useLife(setup: string, row: string) {
  return useQuery({
    queryKey: key("life", setup, row),
    queryFn: () => answer(api.GET("/api/commands/life", { params: { query: { setup, row } } })),
    enabled: row !== "",
    placeholderData: keepPreviousData,
    retry: false,
  });
}

/** What a free key has to be; what isn't said doesn't matter. */
export type FreeAsked = Partial<
  Record<"everywhere" | "hand" | "in_row" | "modifiers" | "first_letter", string | undefined>
>;
export type FreeKey = Schemas["FreeKeyOut"];

export function useFreeKeys(setup: string, row: string, asked: FreeAsked) {
  return useQuery({
    queryKey: key("life", "free", setup, row, asked),
    queryFn: () =>
      answer(api.GET("/api/commands/free", { params: { query: { setup, row, ...(asked as Record<string, never>) } } })),
    placeholderData: keepPreviousData,
  });
}

/** The ids of everything that is asked for, so that all of it can be chosen. */
export function useAllIds() {
  return useMutation({
    mutationFn: ({ asked, setup }: { asked: Asked; setup: string }) =>
      answer(api.GET("/api/commands/ids", { params: { query: queryOf(asked, setup) } })),
  });
}

function whole(given: ResetIn): Schemas["ResetIn"] {
  return { ...NOT_SAID, rows: [], ...given };
}

export function useResetPlan(given: ResetIn | null) {
  return useQuery({
    queryKey: key("plan", "reset", given),
    queryFn: () => answer(api.POST("/api/commands/reset/plan", { body: whole(given as ResetIn) })),
    enabled: given !== null,
    retry: false,
  });
}

export function useReset(onDone?: () => void) {
  return useDone((body: ResetIn) => answer(api.POST("/api/commands/reset", { body: whole(body) })), { onDone });
}

export function useBringPlan(given: Schemas["BringKeysIn"] | null) {
  return useQuery({
    queryKey: key("plan", "bring", given),
    queryFn: () => answer(api.POST("/api/commands/bring/plan", { body: given as Schemas["BringKeysIn"] })),
    enabled: given !== null,
    retry: false,
  });
}

/** The tasks of some commands, each once. */
export function useTasksOf(rows: Schemas["RowsIn"], asked: boolean) {
  return useQuery({
    queryKey: key("plan", "tasks of commands", rows),
    queryFn: () => answer(api.POST("/api/commands/tasks", { body: rows })),
    enabled: asked,
    retry: false,
  });
}

export function useBring(onDone?: () => void) {
  return useDone((body: Schemas["BringKeysIn"]) => answer(api.POST("/api/commands/bring", { body })), { onDone });
}

export function useGiveTask(onDone?: () => void) {
  return useDone((body: Schemas["GiveTaskIn"]) => answer(api.POST("/api/commands/task", { body })), { onDone });
}
