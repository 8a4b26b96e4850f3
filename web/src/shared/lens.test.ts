import { describe, expect, it } from "vitest";
import type { LensSetup } from "./lens";
import { lensFrom } from "./lens";

const scopes = [
  { id: "window", name: "Whole window", takes_text: false },
  { id: "page", name: "Page", takes_text: true },
];
const setup = (id: string): LensSetup => ({
  setup: id,
  name: id,
  short: id,
  place: "",
  platform: "windows",
  system: "Windows",
  layout: "de",
  layout_name: "German",
  body_name: "ISO",
  language: "de",
  people: 1,
  machines: 1,
  layers: [],
  unknown: [],
  layer_ids: [],
  focuses: [{ program: "folioform", name: "Folioform", scopes }],
});

describe("the lens of an address", () => {
  it("is what the address asks for", () => {
    const lens = lensFrom([setup("a"), setup("b")], new URLSearchParams("setup=b&program=folioform&scope=window"));
    expect([lens?.setup.setup, lens?.scopeName]).toEqual(["b", "Whole window"]);
  });
  it("may be all in use", () => {
    const asked = (search: string) => lensFrom([setup("a")], new URLSearchParams(search))?.everywhere;
    expect([asked("seen=all"), asked("setup=a")]).toEqual([true, false]);
  });
  it("falls back to the first setup and to where text is taken", () => {
    const lens = lensFrom([setup("a"), setup("b")], new URLSearchParams("setup=attic&scope=attic"));
    expect([lens?.setup.setup, lens?.scope]).toEqual(["a", "page"]);
  });
  it("is nothing while there is no setup", () => {
    expect(lensFrom([], new URLSearchParams())).toBeNull();
  });
});
