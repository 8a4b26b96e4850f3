import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useSays } from "../shared/Says";
import type { Wish } from "./asked";

export type Card = Schemas["CardOut"];

/** What cards can be made for; with a person, on which of their keyboards. */
export function useCardChoices(person: string) {
  return useQuery({
    queryKey: key("cards", "choices", person),
    queryFn: () => answer(api.GET("/api/cards/choices", { params: { query: person ? { person } : {} } })),
    placeholderData: keepPreviousData,
    retry: false,
  });
}

/** A card as it would be now. */
export function useCard(wish: Wish | null) {
  return useQuery({
    queryKey: key("cards", "drawn", wish),
    queryFn: () => answer(api.POST("/api/cards/draw", { body: wish as Wish })),
    enabled: wish !== null,
    placeholderData: keepPreviousData,
    retry: false,
  });
}

export function useCardsGiven() {
  return useQuery({ queryKey: key("cards", "given"), queryFn: () => answer(api.GET("/api/cards")) });
}

/** Hands a card out; taken back, the one before it counts again. */
export function useGiveCard() {
  const queries = useQueryClient();
  const says = useSays();
  const again = () => queries.invalidateQueries({ queryKey: key("cards") });
  const back = useMutation({
    mutationFn: (number: number) => answer(api.POST("/api/cards/{number}/back", { params: { path: { number } } })),
    onSuccess: again,
    onError: says.refused,
  });
  const give = useMutation({
    mutationFn: (wish: Wish) => answer(api.POST("/api/cards", { body: wish })),
    onSuccess: async (given) => {
      await again();
      says.done(`Card ${given.number} is handed out: the next one says what has changed since.`, () =>
        back.mutate(given.number),
      );
    },
    onError: says.refused,
  });
  return { give, back };
}

/** Opens and ends the page of a card: its address is told once. */
export function useCardPage() {
  const queries = useQueryClient();
  const says = useSays();
  const again = () => queries.invalidateQueries({ queryKey: key("cards", "given") });
  const open = useMutation({
    mutationFn: (number: number) =>
      answer(api.POST("/api/cards/{number}/page", { params: { path: { number } }, body: { days: 90 } })),
    onSuccess: again,
    onError: says.refused,
  });
  const end = useMutation({
    mutationFn: (number: number) => answer(api.POST("/api/cards/{number}/page/end", { params: { path: { number } } })),
    onSuccess: () => {
      open.reset();
      return again();
    },
    onError: says.refused,
  });
  return { open, end };
}

/** Has many cards made, and asks how far that is until they are. */
export function useManyCards() {
  const make = useMutation({
    mutationFn: (body: Partial<Schemas["ManyCardsIn"]>) =>
      answer(api.POST("/api/cards/many", { body: body as Schemas["ManyCardsIn"] })),
  });
  const id = make.data?.id;
  const asked = useQuery({
    queryKey: key("cardBatch", id),
    queryFn: () => answer(api.GET("/api/cards/many/{batch_id}", { params: { path: { batch_id: id as string } } })),
    enabled: id !== undefined,
    refetchInterval: (query) => (query.state.data?.state === "working" ? 700 : false),
  });
  return { make, batch: asked.data ?? make.data };
}

/** Where a card is fetched to be printed. */
export function fileOf(wish: Wish, form: string, number?: number): string {
  const query = new URLSearchParams({ wish: JSON.stringify(wish) });
  if (number !== undefined) query.set("number", String(number));
  return `/api/cards/card.${form}?${query}`;
}
