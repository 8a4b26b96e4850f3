import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useDone } from "../shared/useDone";

export type Upgrade = Schemas["UpgradeOut"];

/** Programs of which some machines have an older version than there is. */
export function useUpgrades() {
  return useQuery({ queryKey: key("upgrades"), queryFn: () => answer(api.GET("/api/upgrades")), staleTime: 60_000 });
}

/** What an upgrade means, with some proposed renamings taken as true. */
export function useUpgrade(program: string, old: string, next: string, taken: readonly string[]) {
  return useQuery({
    queryKey: key("upgrades", program, old, next, taken),
    queryFn: () =>
      answer(
        api.GET("/api/upgrades/{program}", {
          params: { path: { program }, query: { old, new: next, taken: taken.join(" ") } },
        }),
      ),
    placeholderData: keepPreviousData,
    enabled: program !== "",
    retry: false,
  });
}

export function useTakeUpgrade(program: string, onDone: () => void) {
  return useDone(
    (body: Schemas["TakeUpgradeIn"]) =>
      answer(api.POST("/api/upgrades/{program}", { params: { path: { program } }, body })),
    { onDone },
  );
}
