import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { lens, session, shortcut, stage } from "../testing/stage";
import { CommandPanel } from "./CommandPanel";
import type { Command, Program } from "./usePrograms";

const bound = { ...shortcut("F6"), strokes: [{ code: "F6", modifiers: [] }], unreachable: "" };
const command: Command = {
  id: "filter",
  name: "Filter",
  description: "",
  other_words: [],
  group: "View",
  scope: "sheet",
  scope_name: "Sheet",
  risky: false,
  grip: "",
  source: "",
  shortcuts: [bound],
  layer: "House",
  hid: [{ layer: "default", shortcuts: [shortcut("F5")] }],
  clashes: [],
};
const program: Program = {
  id: "quaysheet",
  name: "Quaysheet",
  kind: "office",
  version: "1",
  description: "",
  habits: [],
  commands: [command],
};
const judged = {
  shortcut: shortcut("F9"),
  strokes: [],
  unreachable: "",
  note: "",
  refused: "",
  types: "",
  reach: 1,
  flags: [],
  caret: "",
  holders: [],
  verdict: "free",
};
const plan = { entries: 1, people: 31, setups: ["Ticket counters"], solves: [], makes: ["Calculate again, F9"] };
const answers = {
  "GET /api/lenses": [lens()],
  "POST /api/press": judged,
  "POST /api/commands/plan": plan,
  "POST /api/commands/shortcuts": { id: 1, title: "Gave Filter F9" },
};
const given = (sent: { path: string; body: unknown }[]) =>
  sent.filter((s) => s.path === "/api/commands/shortcuts").map((s) => s.body);

describe("a command's life", () => {
  it("goes from the default to what holds", async () => {
    stage(<CommandPanel program={program} command={command} />, { ...answers, ...session("editor") });
    const steps = screen.getAllByRole("listitem").map((li) => li.textContent);
    expect(steps).toHaveLength(2);
    expect(steps[0]).toContain("default");
    expect(steps[1]).toContain("House holds");
  });
  it("tells the consequences before a shortcut is given", async () => {
    const sent = stage(<CommandPanel program={program} command={command} />, { ...answers, ...session("editor") });
    fireEvent.change(await screen.findByLabelText("New shortcut"), { target: { value: "f9" } });
    expect(await screen.findByText("Makes: Calculate again, F9.")).toBeTruthy();
    expect(given(sent)).toEqual([]);
    fireEvent.click(screen.getByRole("button", { name: "Give it" }));
    await waitFor(() => expect(given(sent)).toHaveLength(1));
    expect(given(sent)[0]).toMatchObject({ command: "filter", shortcuts: ["F9"] });
  });
  it("keeps the present one when asked to", async () => {
    const sent = stage(<CommandPanel program={program} command={command} />, { ...answers, ...session("editor") });
    fireEvent.change(await screen.findByLabelText("New shortcut"), { target: { value: "f9" } });
    fireEvent.click(screen.getByLabelText("Keep the present one too"));
    await screen.findByText("Makes: Calculate again, F9.");
    fireEvent.click(screen.getByRole("button", { name: "Give it" }));
    await waitFor(() => expect(given(sent)[0]).toMatchObject({ shortcuts: ["F6", "F9"] }));
  });
  it("goes back to the default key", async () => {
    const sent = stage(<CommandPanel program={program} command={command} />, { ...answers, ...session("editor") });
    fireEvent.click(await screen.findByRole("button", { name: "Back to the default key" }));
    await waitFor(() => expect(given(sent)[0]).toMatchObject({ shortcuts: ["F5"] }));
  });
  it("can't be changed where the system keeps the press", () => {
    stage(<CommandPanel program={{ ...program, name: "Windows" }} command={{ ...command, grip: "fixed" }} />, {
      ...answers,
      ...session("editor"),
    });
    expect(screen.getByText(/Windows keeps this press for itself/)).toBeTruthy();
    expect(screen.queryByLabelText("New shortcut")).toBeNull();
  });
});
