import { useMutation, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { answer, api, sendFormForFile } from "../../api/client";
import { key } from "../../api/keys";
import { useSays } from "../../shared/Says";

export function useSetupFiles(setup: string | undefined) {
  return useQuery({
    queryKey: key("programs", "files", setup),
    queryFn: () => answer(api.GET("/api/setups/{setup_id}/files", { params: { path: { setup_id: setup ?? "" } } })),
    enabled: setup !== undefined,
  });
}

/** Sends a person's settings file and gives it back with what the setup sets, under its own name. */
export function useIntoFile(setup: string, file: Schemas["SetupFileOut"]) {
  const says = useSays();
  return useMutation({
    mutationFn: async (mine: File) => {
      const form = new FormData();
      form.set("file", mine);
      const written = await sendFormForFile(`/api/setups/${setup}/files/${file.program}/${file.file}`, form);
      keep(written, mine.name);
    },
    onSuccess: (_, mine) => says.done(`${mine.name} was written anew; everything that isn't ours is as it was.`),
    onError: says.refused,
  });
}

function keep(data: Blob, name: string) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(data);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
