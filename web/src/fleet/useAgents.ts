import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useSays } from "../shared/Says";
import { useDone } from "../shared/useDone";

export type Machine = Schemas["MachineOut"];
export type Agent = Schemas["AgentOut"];
const KEY = key("machines");

export interface Looking {
  page: number;
  words: string;
  state: Machine["state"] | null;
}

/** A page of machines. They speak when they like, so they are asked about again and again while somebody looks. */
export function useAgents({ page, words, state }: Looking) {
  return useQuery({
    queryKey: [...KEY, page, words, state],
    queryFn: () => answer(api.GET("/api/machines", { params: { query: { page, words, state } } })),
    placeholderData: keepPreviousData,
    refetchInterval: 4_000,
  });
}

/** The machines whose files were ever seen. */
export function useMachinesShown() {
  return useQuery({ queryKey: key("machines", "shown"), queryFn: () => answer(api.GET("/api/machines/shown")) });
}

/** How many machines need somebody: a small question, so every page may ask it all the time. */
export function useWaitingMachines() {
  return useQuery({
    queryKey: key("machines", "waiting"),
    queryFn: () => answer(api.GET("/api/machines/waiting")),
    refetchInterval: 15_000,
  });
}

/** The list says from now on what the machine says of itself. */
export function useTakeFact(machineId: string) {
  return useDone((part: Machine["contradicted"][number]["part"]) =>
    answer(
      api.POST("/api/machines/{machine_id}/facts", { params: { path: { machine_id: machineId } }, body: { part } }),
    ),
  );
}

/** Those who sit at an agent's machine. */
export function usePeopleThere(agentId: number) {
  return useQuery({
    queryKey: key("machines", "people", agentId),
    queryFn: () => answer(api.GET("/api/agents/{agent_id}/people", { params: { path: { agent_id: agentId } } })),
  });
}

/** Whose home an agent works in, from now on. */
export function useHome(agentId: number, onDone: () => void) {
  return useForAgent(
    (person: string) =>
      answer(api.POST("/api/agents/{agent_id}/home", { params: { path: { agent_id: agentId } }, body: { person } })),
    (agent) => (agent.whose === "" ? "The home is nobody's in particular." : `The home is ${agent.whose}'s now.`),
    onDone,
  );
}

/** An agent gets nothing any more. */
export function useTakeOff() {
  return useForAgent(
    (agentId: number) =>
      answer(api.POST("/api/agents/{agent_id}/take-off", { params: { path: { agent_id: agentId } } })),
    () => "Its agent gets nothing any more; a new code brings it back.",
  );
}

function useForAgent<Given>(
  send: (given: Given) => Promise<Agent>,
  says: (agent: Agent) => string,
  onDone?: () => void,
) {
  const queries = useQueryClient();
  const saying = useSays();
  return useMutation({
    mutationFn: send,
    onSuccess: async (agent) => {
      await queries.invalidateQueries({ queryKey: KEY });
      onDone?.();
      saying.done(says(agent));
    },
    onError: saying.refused,
  });
}

/** Byte for byte what a file would be written with; asked for when somebody looks. */
export function useDifference(fileId: number, looks: boolean) {
  return useQuery({
    queryKey: key("machines", "difference", fileId),
    queryFn: () =>
      answer(api.GET("/api/machines/files/{file_id}/difference", { params: { path: { file_id: fileId } } })),
    enabled: looks,
    retry: false,
  });
}

export function useApply(machine: Machine) {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: (overDrift: boolean) =>
      answer(
        api.POST("/api/machines/{machine_id}/apply", {
          params: { path: { machine_id: machine.id } },
          body: { over_drift: overDrift },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: KEY });
      says.done(`Asked ${machine.name} to write; it answers in a moment.`);
    },
    onError: says.refused,
  });
}
