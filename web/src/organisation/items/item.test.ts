import { describe, expect, it } from "vitest";
import type { Organisation } from "../useOrganisation";
import { likelyLayout, usedAtFirst } from "./item";

const program = (id: string, kind: string, platforms: string[], versions = ["1", "2"]) => ({
  id,
  kind,
  platforms,
  versions,
});

describe("a first machine", () => {
  it("has the layout of whoever adds it", () => {
    const layouts = ["de", "fr(azerty)", "gb", "us"];
    expect(likelyLayout(layouts, "de-AT")).toBe("de");
    expect(likelyLayout(layouts, "en-GB")).toBe("gb");
    expect(likelyLayout(layouts, "fr-FR")).toBe("fr(azerty)");
    expect(likelyLayout(layouts, "ja-JP")).toBe("us");
    expect(likelyLayout([], "de")).toBe(undefined);
  });

  it("has its system in the newest version, and the few programs that are known", () => {
    const programs = [
      program("windows", "system", ["windows"]),
      program("weir", "office", ["windows"]),
      program("lock", "office", ["linux"]),
    ];
    const organisation = { programs, machines: 0 } as unknown as Organisation;
    expect(usedAtFirst(organisation, "windows").map((u) => `${u.id} ${u.version}`)).toEqual(["windows 2", "weir 2"]);
    expect(usedAtFirst({ ...organisation, machines: 3 }, "windows").map((u) => u.id)).toEqual(["windows"]);
  });
});
