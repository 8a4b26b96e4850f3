import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api, sendForm } from "../api/client";
import { key } from "../api/keys";
import { useDone } from "../shared/useDone";

export type Preview = Schemas["PreviewOut"];
export type How = Preview["how"];
export type Way = Schemas["WayOut"];

/** What is brought in: a bundle (which profile of it), or a settings file (read as that of which program). */
export interface Coming {
  file: File;
  part?: string;
  way?: Way;
}

function formOf({ file, part, way }: Coming, more: Record<string, string>): FormData {
  const form = new FormData();
  form.set("file", file);
  if (part) form.set("part", part);
  if (way) {
    form.set("program", way.program);
    form.set("platform", way.platform);
    form.set("number", String(way.number));
  }
  for (const [name, value] of Object.entries(more)) form.set(name, value);
  return form;
}

export function usePreview(profile: string) {
  return useMutation({
    mutationFn: ({ how, ...coming }: Coming & { how: How | "" }) =>
      sendForm<Preview>(`/api/profiles/${profile}/import/preview`, formOf(coming, { how })),
  });
}

/** Which clashes the chosen differences would solve and make. */
export function useImportPlan(profile: string, coming: Coming, how: How, chosen: string[]) {
  const { file, part, way } = coming;
  return useQuery({
    queryKey: key("plan", "import", profile, file.name, file.size, file.lastModified, part, way, how, chosen),
    queryFn: () =>
      sendForm<Schemas["WouldOut"]>(
        `/api/profiles/${profile}/import/plan`,
        formOf(coming, { how, chosen: JSON.stringify(chosen) }),
      ),
    enabled: chosen.length > 0,
    retry: false,
    placeholderData: keepPreviousData,
  });
}

export function useTake(profile: string) {
  return useDone(({ how, chosen, ...coming }: Coming & { how: How; chosen: string[] }) =>
    sendForm<Schemas["TakenOut"]>(
      `/api/profiles/${profile}/import`,
      formOf(coming, { how, chosen: JSON.stringify(chosen) }),
    ),
  );
}

/** What a bundle of a profile would hold, with some of its sections or all. */
export function useContents(profile: string, sections: string[] | null, open: boolean) {
  const query = sections === null ? {} : { sections: sections.join(",") };
  return useQuery({
    queryKey: key("profiles", profile, "contents", query),
    queryFn: () =>
      answer(
        api.GET("/api/profiles/{profile_id}/bundle/contents", {
          params: { path: { profile_id: profile }, query },
        }),
      ),
    enabled: open && sections?.length !== 0,
    placeholderData: keepPreviousData,
  });
}
