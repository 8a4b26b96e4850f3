import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { answer, api } from "../../api/client";
import { key } from "../../api/keys";
import { useSays } from "../../shared/Says";
import { useDone } from "../../shared/useDone";

export type Proposal = Schemas["ProposalOut"];

/** For each command without a task the one that it may do. */
export function useProposals(program: string, version: string) {
  return useQuery({
    queryKey: key("catalogue", program, version, "proposals"),
    queryFn: () =>
      answer(api.GET("/api/catalogue/{program}/{version}/proposals", { params: { path: { program, version } } })),
    placeholderData: (before) => before,
    enabled: program !== "",
  });
}

export function useGiveTasks(program: string, version: string) {
  return useDone((body: Schemas["GiveTasksIn"]) =>
    answer(api.POST("/api/catalogue/{program}/{version}/tasks", { params: { path: { program, version } }, body })),
  );
}

/** Says no to proposals, so that they aren't made again. */
export function useRefuse(program: string, version: string) {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: async ({ command, tasks, refused }: { command: string; tasks: string[]; refused: boolean }) => {
      for (const task of tasks)
        await answer(
          api.POST("/api/catalogue/{program}/{version}/refusals", {
            params: { path: { program, version } },
            body: { command, task, refused },
          }),
        );
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: key("catalogue", program, version, "proposals") }),
    onError: says.refused,
  });
}
