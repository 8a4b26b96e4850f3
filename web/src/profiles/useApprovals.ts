import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useSays } from "../shared/Says";

export type Sensitive = Schemas["SensitiveOut"];

/** What runs something, or says where files are written, as documents say it now. */
export function useApprovals() {
  return useQuery({ queryKey: key("releases", "approvals"), queryFn: () => answer(api.GET("/api/approvals")) });
}

interface Yes {
  of: Sensitive;
  yes: boolean;
}

/** Says yes to something, or takes that back. */
export function useApprove() {
  const queries = useQueryClient();
  const says = useSays();
  const change = useMutation({
    mutationFn: ({ of, yes }: Yes) =>
      answer(
        yes
          ? api.POST("/api/approvals", { body: { id: of.id } })
          : api.POST("/api/approvals/withdrawn", { body: { id: of.id } }),
      ),
    onSuccess: (all, { of, yes }) => {
      queries.setQueryData(key("releases", "approvals"), all);
      const done = yes ? "Approved: it may go out now." : "Taken back: it goes nowhere any more.";
      says.done(done, () => change.mutate({ of, yes: !yes }));
    },
    onError: says.refused,
  });
  return change;
}
