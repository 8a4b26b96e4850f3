import { useMutation } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { useSays } from "./Says";
import { useChanged, useUndo } from "./useHistory";

interface After {
  /** Called as soon as it is done, while what follows from it is asked for. */
  onDone?: () => void;
  /** What to do about a refusal; without it, it is said. */
  onRefused?: (error: unknown) => unknown;
}

/** A writing request: everything computed is asked for again, then what it did is said with its undo. */
export function useDone<Body>(send: (body: Body) => Promise<Schemas["ChangeOut"]>, { onDone, onRefused }: After = {}) {
  const changed = useChanged();
  const says = useSays();
  const undo = useUndo();
  return useMutation({
    mutationFn: send,
    onSuccess: async (change) => {
      // The new answer is asked for before the screen is drawn without the old one: the server needn't wait for that.
      const all = changed();
      onDone?.();
      await all;
      says.done(change.title, () => undo.mutate(change.id));
    },
    onError: onRefused ?? says.refused,
  });
}
