import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { answer, api, sendForm } from "../../api/client";
import { key } from "../../api/keys";
import { useSays } from "../../shared/Says";

export type Keys = Schemas["KeysOut"];
export type Trusted = Schemas["TrustedKeyOut"];

export function useKeys() {
  return useQuery({ queryKey: key("keys"), queryFn: () => answer(api.GET("/api/keys")) });
}

/** A change of whose keys are known: the answer is all of them as they are then. */
function useKeysChange<Body>(
  send: (body: Body) => Promise<Keys>,
  done: (body: Body) => string,
  undo?: (body: Body) => void,
) {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: send,
    onSuccess: (keys, body) => {
      queries.setQueryData(key("keys"), keys);
      says.done(done(body), undo ? () => undo(body) : undefined);
    },
    onError: says.refused,
  });
}

export function useTrust() {
  return useKeysChange(
    ({ file, name }: { file: File; name: string }) => {
      const form = new FormData();
      form.set("file", file);
      form.set("name", name);
      return sendForm<Keys>("/api/keys", form);
    },
    () => "The key is trusted: what it signs is known from now on.",
  );
}

interface Withdrawal {
  of: Trusted;
  withdrawn: boolean;
}

export function useWithdraw() {
  const change = useKeysChange(
    ({ of, withdrawn }: Withdrawal) => answer(api.POST("/api/keys/withdrawn", { body: { key: of.key, withdrawn } })),
    ({ of, withdrawn }) => (withdrawn ? `${of.name} is not trusted any more.` : `${of.name} is trusted again.`),
    ({ of, withdrawn }) => change.mutate({ of, withdrawn: !withdrawn }),
  );
  return change;
}

export function useNextKey() {
  return useKeysChange(
    (_: undefined) => answer(api.POST("/api/keys/next")),
    () => "A new key signs from now on. Whoever knows the old one knows it by its word.",
  );
}
