import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { answer, api, sendForm } from "../../api/client";
import { key } from "../../api/keys";
import { useDone } from "../../shared/useDone";
import type { Platform } from "../making/useCatalogue";

export type Read = Schemas["SettingsReadOut"];
export type Entry = Read["entries"][number];
export type SampleRead = Schemas["SettingsFileOut"];

/** The parts of a description that the sentences speak of; all others go along as they are. */
export interface Described {
  container: string;
  encoding?: string;
  path?: Partial<Record<Platform, string>>;
  root?: "home" | "machine";
  at?: string[];
  record?: string;
  command: string;
  context?: string;
  keys: { at: string; form?: string; between?: string; words?: string[]; off?: string; beside_defaults?: boolean };
  options?: { template?: string; separator?: string };
  dialect: { modifiers: Record<string, string[]>; letters?: string; then?: string[] };
  rewrites_at_exit?: boolean;
  runs_as?: string[];
  holds?: string[];
  shown_behind?: string;
  export?: { called: string; get: string; put: string };
}

/** What names of the file are said to be, each with its context: a command's id, a new one, or null for none of them. */
export type Called = Record<string, string | null>;

/** Stands for a command that the program hasn't yet. */
export const NEW = "+";

export function nameIn(entry: Pick<Entry, "context" | "called">): string {
  return JSON.stringify([entry.context, entry.called]);
}

/** What the file calls commands, by their ids, as it is sent. */
export function calledById(called: Called): Record<string, { called: string; context: string }> {
  const found: Record<string, { called: string; context: string }> = {};
  for (const [name, id] of Object.entries(called)) {
    if (id === null || id === NEW) continue;
    const [context, text] = JSON.parse(name) as [string, string];
    found[id] = { called: text, context };
  }
  return found;
}

/** The names that become commands of the program, with the defaults that the file shows, as they are sent. */
export function madeNew(called: Called, entries: Entry[]): Schemas["NewCommandIn"][] {
  const shown = new Map(entries.filter((e) => e.shown).map((e) => [nameIn(e), e.shortcuts]));
  return Object.entries(called)
    .filter(([, id]) => id === NEW)
    .map(([name]) => {
      const [context, text] = JSON.parse(name) as [string, string];
      return { called: text, context, shortcuts: shown.get(name) ?? [] };
    });
}

/** A dropped file, with a number of its own so that the next one of the same name isn't taken for it. */
export interface Sample {
  number: number;
  file: File;
}

const PATH = "/api/catalogue/{program}/{version}/settings-files";

export function useDescribedFiles(program: string, version: string) {
  return useQuery({
    queryKey: key("catalogue", program, version, "settings-files"),
    queryFn: () => answer(api.GET(PATH, { params: { path: { program, version } } })),
    enabled: program !== "",
    refetchOnWindowFocus: false,
  });
}

interface Asked {
  sample: Sample | null;
  /** Null: it is guessed. */
  described: Described | null;
  called: Called;
  command: string;
  shortcuts: string;
}

/** What a dropped file says by a description; nothing of it is kept. */
export function useRead(
  program: string,
  version: string,
  { sample, described, called, command, shortcuts }: Asked,
  on: boolean,
) {
  return useQuery({
    queryKey: key("catalogue", "sample", program, version, sample?.number, described, called, command, shortcuts),
    queryFn: () => {
      const form = new FormData();
      if (sample) form.set("file", sample.file);
      if (described) {
        form.set("described", JSON.stringify(described));
        form.set("called", JSON.stringify(calledById(called)));
      }
      if (command && shortcuts) {
        form.set("command", command);
        form.set("shortcuts", shortcuts);
      }
      return sendForm<SampleRead>(
        `/api/catalogue/${encodeURIComponent(program)}/${encodeURIComponent(version)}/settings-files`,
        form,
      );
    },
    enabled: on && sample !== null,
    retry: false,
    refetchOnWindowFocus: false,
    placeholderData: (before) => before,
  });
}

export function useKeep(program: string, version: string, onDone: () => void) {
  return useDone(
    (body: Schemas["DescribeIn"]) => answer(api.PUT(PATH, { params: { path: { program, version } }, body })),
    { onDone },
  );
}
