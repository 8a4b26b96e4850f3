import { useMutation, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useSays } from "../shared/Says";
import { useChanged } from "../shared/useHistory";

export type Waiting = Schemas["WaitingForReleaseOut"];

export function useReleases() {
  return useQuery({ queryKey: key("releases"), queryFn: () => answer(api.GET("/api/releases")) });
}

/** Releases some documents together; the undo puts back what was released of each before. */
export function useReleaseThese() {
  const changed = useChanged();
  const says = useSays();
  const release = useMutation({
    mutationFn: (wishes: Schemas["WishIn"][]) => answer(api.POST("/api/releases", { body: { wishes } })),
    onSuccess: async ({ before }) => {
      await changed();
      says.done(
        before.length === 1 ? "Released; machines can be given it now." : `Released ${before.length} together.`,
        () => release.mutate(before),
      );
    },
    onError: says.refused,
  });
  return release;
}
