import { useMutation, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { answer, api, sendForm } from "../../api/client";
import { key } from "../../api/keys";
import { contradictionsIn } from "../../shared/BothMade";
import { useSays } from "../../shared/Says";
import { useDone } from "../../shared/useDone";
import { useChanged, useUndo } from "../../shared/useHistory";

export type Listed = Schemas["ListedProgramOut"];
export type Edited = Schemas["EditedProgramOut"];
export type EditedCommand = Schemas["EditedCommandOut"];
export type Edit = Schemas["ProgramEditIn"];
export type Platform = Listed["platforms"][number];
export const PLATFORMS: { id: Platform; name: string }[] = [
  { id: "windows", name: "Windows" },
  { id: "macos", name: "macOS" },
  { id: "linux", name: "Linux" },
];
export const KINDS: { id: Listed["kind"]; name: string }[] = [
  { id: "office", name: "office" },
  { id: "business", name: "business" },
  { id: "developer", name: "developer" },
  { id: "browser", name: "browser" },
  { id: "web", name: "page in a browser" },
  { id: "utility", name: "utility that listens everywhere" },
];

export function useCatalogue() {
  return useQuery({ queryKey: key("catalogue"), queryFn: () => answer(api.GET("/api/catalogue")) });
}

export function useEdited(program: string, version: string) {
  return useQuery({
    queryKey: key("catalogue", program, version),
    queryFn: () => answer(api.GET("/api/catalogue/{program}/{version}", { params: { path: { program, version } } })),
    enabled: program !== "",
    // While somebody types, what they typed isn't taken from under them.
    refetchOnWindowFocus: false,
  });
}

/** Makes a program, then leads to it. */
export function useMakeProgram(onMade: (program: string, version: string) => void) {
  const changed = useChanged();
  const says = useSays();
  const undo = useUndo();
  return useMutation({
    mutationFn: (body: Schemas["ProgramMakeIn"]) => answer(api.POST("/api/catalogue", { body })),
    onSuccess: async (made) => {
      await changed();
      onMade(made.program, made.version);
      says.done(made.title, () => undo.mutate(made.id));
    },
    onError: says.refused,
  });
}

/** Brings a program in out of a file, then leads to it. */
export function useBringProgram(onMade: (program: string, version: string) => void) {
  const changed = useChanged();
  const says = useSays();
  const undo = useUndo();
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData();
      form.set("file", file);
      return sendForm<Schemas["MadeProgramOut"]>("/api/catalogue/file", form);
    },
    onSuccess: async (made) => {
      await changed();
      onMade(made.program, made.version);
      says.done(made.title, () => undo.mutate(made.id));
    },
    onError: says.refused,
  });
}

export function usePlanOfEdit(program: string, version: string, edit: Edit | null) {
  return useQuery({
    queryKey: key("plan", "program", program, version, edit),
    queryFn: () =>
      answer(
        api.POST("/api/catalogue/{program}/{version}/plan", {
          params: { path: { program, version } },
          body: edit as Edit,
        }),
      ),
    enabled: edit !== null,
    retry: false,
    placeholderData: (before) => before,
  });
}

export function useSaveEdit(program: string, version: string) {
  const says = useSays();
  return useDone(
    (body: Edit) =>
      answer(api.PUT("/api/catalogue/{program}/{version}", { params: { path: { program, version } }, body })),
    // Two people at once: what to do about it is asked where it is edited, so nothing is said.
    { onRefused: (error) => contradictionsIn(error).length === 0 && says.refused(error) },
  );
}

export function useTasks() {
  return useQuery({ queryKey: key("tasks"), queryFn: () => answer(api.GET("/api/tasks")) });
}
