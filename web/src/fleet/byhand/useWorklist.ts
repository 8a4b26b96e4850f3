import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { answer, api, sendForm } from "../../api/client";
import { key } from "../../api/keys";
import { useSays } from "../../shared/Says";

export type Work = Schemas["WorkOut"];
export type Item = Schemas["ByHandOut"];
export type Tick = Schemas["TickIn"];

/** The setups of which something has to be set by hand. */
export function useWorklist() {
  return useQuery({ queryKey: key("worklist"), queryFn: () => answer(api.GET("/api/worklist")) });
}

/** What there is to do on the machines of one setup, and how far each is. */
export function useWork(setup: string | undefined) {
  return useQuery({
    queryKey: key("worklist", setup),
    queryFn: () => answer(api.GET("/api/worklist/{setup_id}", { params: { path: { setup_id: setup ?? "" } } })),
    enabled: setup !== undefined,
  });
}

/** Ticks things, or takes ticks back; the answer is what brings back how it was. */
export function useTick() {
  const queries = useQueryClient();
  const says = useSays();
  const tick = useMutation({
    mutationFn: (ticks: Tick[]) => answer(api.POST("/api/worklist/ticks", { body: { ticks } })),
    onSuccess: async (done) => {
      await queries.invalidateQueries({ queryKey: key("worklist") });
      says.done(done.says, () => tick.mutate(done.before));
    },
    onError: says.refused,
  });
  return tick;
}

/** Brings back a list that was ticked elsewhere. */
export function useBringBack() {
  const queries = useQueryClient();
  const says = useSays();
  const tick = useTick();
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData();
      form.set("file", file);
      return sendForm<Schemas["TickedOut"]>("/api/worklist/sheet", form);
    },
    onSuccess: async (done) => {
      await queries.invalidateQueries({ queryKey: key("worklist") });
      says.done(done.says, done.before.length > 0 ? () => tick.mutate(done.before) : undefined);
    },
    onError: says.refused,
  });
}
