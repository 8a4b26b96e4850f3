import type { Edited } from "./useCatalogue";

/** A small program for tests. */
export const program: Edited = {
  id: "weir-desk",
  version: "1.0",
  digest: "d1",
  name: "Weir Desk",
  kind: "office",
  description: "",
  platforms: ["windows", "linux"],
  scopes: [{ id: "window", name: "Whole window", parent: null, takes_text: false }],
  commands: [
    {
      id: "save",
      name: "Save",
      names: { de: "Speichern" },
      was: [],
      group: "Files",
      scope: "window",
      description: "",
      other_words: ["keep", "store"],
      kind: "built-in",
      task: "save",
      risky: false,
      opens: "",
      closes: null,
      arguments: [
        { name: "by", values: ["1", "5"] },
        { name: "to", values: [] },
      ],
      reached_by: { by: "menu", depth: 2 },
      retired: false,
      keys: { windows: "Control+S or F12" },
    },
  ],
  kinds: ["built-in", "macro"],
  table: false,
};
