import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { Lens } from "../app/lens";

interface Pressed {
  held: string[];
  /** The presses before, where a sequence has begun; "" for none. */
  after: string;
}

/** The lens's keyboard: every key with its cap and who takes it with these modifiers held. */
export function useKeyboard(lens: Lens | null, pressed: Pressed, setup: string | null = lens?.setup.setup ?? null) {
  // Held against another setup, the same focus is looked at where that has it.
  const known = setup === lens?.setup.setup || lens?.against?.focuses.some((f) => f.program === lens.program);
  const query = {
    setup: setup ?? "",
    program: known ? lens?.program : undefined,
    scope: known ? lens?.scope : undefined,
    held: pressed.held.join(","),
    after: pressed.after,
  };
  return useQuery({
    queryKey: ["keyboard", query],
    queryFn: () => answer(api.GET("/api/keyboard", { params: { query } })),
    enabled: lens !== null && setup !== null,
    placeholderData: keepPreviousData,
    staleTime: 60_000,
  });
}
