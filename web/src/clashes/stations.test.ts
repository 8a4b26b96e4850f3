import { describe, expect, it } from "vitest";
import type { Station } from "./stations";
import { segments } from "./stations";

const line = (taken_at: Station | null, meant_for: Station) => segments({ taken_at, meant_for });

describe("the line of a press", () => {
  it("stops at the system and is dotted to the program", () => {
    expect(line("guarded", "program")).toEqual(["stop", "want", "want", "want", "goal", "off"]);
    expect(line("system", "program")).toEqual(["run", "run", "stop", "want", "goal", "off"]);
  });
  it("stops at a utility and at the browser", () => {
    expect(line("intercept", "program")).toEqual(["run", "stop", "want", "want", "goal", "off"]);
    expect(line("browser_keeps", "program")).toEqual(["run", "run", "run", "stop", "goal", "off"]);
  });
  it("draws what comes behind the program in the last column", () => {
    expect(line("program", "browser")).toEqual(["run", "run", "run", "run", "stop", "goal"]);
  });
  it("draws an input method before every utility, and the system's last say behind the program", () => {
    expect(line("input_method", "program")).toEqual(["stop", "want", "want", "want", "goal", "off"]);
    expect(line("program", "system_last")).toEqual(["run", "run", "run", "run", "stop", "goal"]);
  });
  it("runs to the program that swallows text", () => {
    expect(line("program", "text")).toEqual(["run", "run", "run", "run", "stop", "goal"]);
  });
  it("ends in the program where two commands share a stroke", () => {
    expect(line("program", "program")).toEqual(["run", "run", "run", "run", "stop", "off"]);
  });
  it("never begins where nobody can press it", () => {
    expect(line(null, "program")).toEqual(["stop", "want", "want", "want", "goal", "off"]);
  });
});
