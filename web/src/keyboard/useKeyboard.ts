import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import type { Lens } from "../shared/lens";

export interface Pressed {
  held: string[];
  /** The presses before, where a sequence has begun; "" for none. */
  after: string;
  /** What is shown as if it were saved. */
  drafts: Schemas["TriedDraftIn"][];
}

/** The lens's keyboard: every key with its cap and who takes it with these modifiers held. */
export function useKeyboard(lens: Lens | null, pressed: Pressed, setup: string | null = lens?.setup.setup ?? null) {
  const { held, after, drafts } = pressed;
  // Held against another setup, the same focus is looked at where that has it.
  const known = setup === lens?.setup.setup || lens?.against?.focuses.some((f) => f.program === lens.program);
  const where = {
    setup: setup ?? "",
    program: known ? lens?.program : undefined,
    scope: known ? lens?.scope : undefined,
    after,
  };
  return useQuery({
    queryKey: key("keyboard", where, held, drafts),
    queryFn: () =>
      drafts.length > 0
        ? answer(api.POST("/api/keyboard", { body: { ...where, held, drafts } }))
        : answer(api.GET("/api/keyboard", { params: { query: { ...where, held: held.join(",") } } })),
    enabled: lens !== null && setup !== null,
    // What isn't asked for any more isn't shown any more.
    placeholderData: setup === null ? undefined : keepPreviousData,
    staleTime: 60_000,
  });
}
