import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { Lens } from "../app/lens";

/** The lens's keyboard: every key with its cap and who takes it with these modifiers held. */
export function useKeyboard(lens: Lens | null, held: string[]) {
  const query = {
    setup: lens?.setup.setup ?? "",
    program: lens?.program,
    scope: lens?.scope,
    held: held.join(","),
  };
  return useQuery({
    queryKey: ["keyboard", query],
    queryFn: () => answer(api.GET("/api/keyboard", { params: { query } })),
    enabled: lens !== null,
    placeholderData: keepPreviousData,
    staleTime: 60_000,
  });
}
