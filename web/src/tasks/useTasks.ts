import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api, sendForm } from "../api/client";
import { key } from "../api/keys";
import { useDone } from "../shared/useDone";

export type Task = Schemas["ListedTaskOut"];
export type Family = Schemas["TaskFamilyOut"];

export function useNeutral() {
  return useQuery({ queryKey: key("tasks", "neutral"), queryFn: () => answer(api.GET("/api/tasks/neutral")) });
}

export function useTakeNeutral() {
  return useDone((groups: string[]) => answer(api.POST("/api/tasks/neutral", { body: { groups } })));
}

export function useMakeTask(onDone: () => void) {
  return useDone((body: Schemas["TaskIn"]) => answer(api.POST("/api/tasks", { body })), { onDone });
}

export function useChangeTask(task: string) {
  return useDone((body: Schemas["TaskIn"]) =>
    answer(api.PUT("/api/tasks/one/{task_id}", { params: { path: { task_id: task } }, body })),
  );
}

/** What a changed task would do; `body` as JSON, as it stands in the form. */
export function useTaskPlan(task: string, body: string, asked: boolean) {
  return useQuery({
    queryKey: key("plan", "task", task, body),
    queryFn: () =>
      answer(
        api.POST("/api/tasks/one/{task_id}/plan", { params: { path: { task_id: task } }, body: JSON.parse(body) }),
      ),
    enabled: asked,
    retry: false,
    placeholderData: (before) => before,
  });
}

export function useSplitPlan(task: string, commands: Schemas["SplitIn"]["commands"]) {
  return useQuery({
    queryKey: key("plan", "task split", task, ...commands.map((c) => `${c.program} ${c.command}`)),
    queryFn: () =>
      answer(
        api.POST("/api/tasks/one/{task_id}/split/plan", {
          params: { path: { task_id: task } },
          body: { name: "A task of their own", commands },
        }),
      ),
    enabled: commands.length > 0,
  });
}

export function useFamilyPlan(id: string, body: Schemas["TaskFamilyIn"], asked: boolean) {
  return useQuery({
    queryKey: key("plan", "family", id, JSON.stringify(body)),
    queryFn: () =>
      answer(api.POST("/api/tasks/families/{family_id}/plan", { params: { path: { family_id: id } }, body })),
    enabled: asked,
    retry: false,
    placeholderData: (before) => before,
  });
}

export function useRemoval(task: string, asked: boolean) {
  return useQuery({
    queryKey: key("plan", "task removal", task),
    queryFn: () => answer(api.GET("/api/tasks/one/{task_id}/removal", { params: { path: { task_id: task } } })),
    enabled: asked,
  });
}

export function useRemoveTask(onDone: () => void) {
  return useDone(
    (task: string) => answer(api.POST("/api/tasks/one/{task_id}/removal", { params: { path: { task_id: task } } })),
    { onDone },
  );
}

export function useMergePlan(gone: string, into: string) {
  return useQuery({
    queryKey: key("plan", "task merge", gone, into),
    queryFn: () => answer(api.POST("/api/tasks/merge/plan", { body: { gone, into } })),
    enabled: into !== "",
  });
}

export function useMerge(onDone: () => void) {
  return useDone((body: Schemas["MergeIn"]) => answer(api.POST("/api/tasks/merge", { body })), { onDone });
}

export function useCommandsOf(task: string) {
  return useQuery({
    queryKey: key("tasks", "commands", task),
    queryFn: () => answer(api.GET("/api/tasks/one/{task_id}/commands", { params: { path: { task_id: task } } })),
  });
}

export function useSplit(task: string) {
  return useDone((body: Schemas["SplitIn"]) =>
    answer(api.POST("/api/tasks/one/{task_id}/split", { params: { path: { task_id: task } }, body })),
  );
}

export function useChangeFamily() {
  return useDone(({ id, ...body }: Schemas["TaskFamilyIn"] & { id: string }) =>
    answer(api.PUT("/api/tasks/families/{family_id}", { params: { path: { family_id: id } }, body })),
  );
}

export function useRemoveFamily() {
  return useDone((id: string) =>
    answer(api.POST("/api/tasks/families/{family_id}/removal", { params: { path: { family_id: id } } })),
  );
}

/** What a sheet of names would change. */
export function useNamesComing(file: File) {
  return useQuery({
    queryKey: key("plan", "names", file.name, file.size, file.lastModified),
    queryFn: () => sendForm<Schemas["NamesComingOut"]>("/api/names/preview", formOf(file)),
    retry: false,
  });
}

export function useTakeNames(onDone: () => void) {
  return useDone((file: File) => sendForm<Schemas["ChangeOut"]>("/api/names", formOf(file)), { onDone });
}

function formOf(file: File): FormData {
  const form = new FormData();
  form.set("file", file);
  return form;
}
