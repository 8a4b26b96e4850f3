import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Schemas } from "../api/client";
import { stage } from "../testing/stage";
import { PressField } from "./PressField";

const judged: Schemas["JudgementOut"] = {
  shortcut: { text: "Control+Z", words: "Strg Z", caps: [["Strg", "Z"]] },
  strokes: [[{ code: "KeyY", modifiers: ["Control"] }]],
  unreachable: "",
  note: "",
  refused: "",
  types: "",
  reach: 6,
  flags: [],
  caret: "",
  holders: [],
  differs: "",
  longest: 1,
  verdict: "free",
};

function show(status: number, body: unknown) {
  const onJudged = vi.fn();
  const field = <PressField label="Shortcut" setup="s" program="p" scope="c" onJudged={onJudged} />;
  return { sent: stage(field, { "POST /api/press": [status, body] }), onJudged };
}

describe("the press field", () => {
  it("records the physical key, not what this keyboard types", async () => {
    const { sent, onJudged } = show(200, judged);
    fireEvent.click(screen.getByRole("button", { name: "Press it" }));
    const field = screen.getByLabelText("Shortcut");
    fireEvent.keyDown(field, { key: "z", code: "KeyY", ctrlKey: true, modifierControl: true });
    expect(await screen.findByText("Free here.")).toBeTruthy();
    expect(sent.filter((s) => s.path === "/api/press").map((s) => s.body)).toEqual([
      { setup: "s", program: "p", scope: "c", strokes: [{ code: "KeyY", modifiers: ["Control"], key: "z" }] },
    ]);
    expect(onJudged).toHaveBeenLastCalledWith(judged, {
      strokes: [{ code: "KeyY", modifiers: ["Control"], key: "z" }],
    });
  });
  it("marks the place of a fault and offers the guess", async () => {
    const fault = { title: "No key is called bakspace.", status: 400, detail: "", cure: "", safe: "" };
    const { onJudged } = show(400, { ...fault, text: "ctrl+bakspace", span: [5, 13], guess: "Control+Backspace" });
    fireEvent.change(screen.getByLabelText("Shortcut"), { target: { value: "ctrl+bakspace" } });
    expect((await screen.findByText("bakspace")).tagName).toBe("MARK");
    expect(screen.getByRole("button", { name: "Take Control+Backspace" })).toBeTruthy();
    expect(onJudged).toHaveBeenLastCalledWith(null, { text: "ctrl+bakspace" });
  });
  it("leaves no trace of a press that was cancelled", () => {
    const { sent } = show(200, judged);
    fireEvent.click(screen.getByRole("button", { name: "Press it" }));
    const field = screen.getByLabelText<HTMLInputElement>("Shortcut");
    fireEvent.keyDown(field, { key: "Control", code: "ControlLeft", ctrlKey: true, modifierControl: true });
    expect(field.value).toBe("Control+");
    fireEvent.keyDown(field, { key: "Escape", code: "Escape" });
    expect([field.value, sent]).toEqual(["", []]);
  });
  const listen = () => {
    fireEvent.click(screen.getByRole("button", { name: "Press it" }));
    return screen.getByLabelText<HTMLInputElement>("Shortcut");
  };
  const strokesOf = (sent: { path: string; body: unknown }[]) =>
    (sent.filter((s) => s.path === "/api/press").at(-1)?.body as { strokes: unknown[] } | undefined)?.strokes;
  it("takes a modifier that is tapped alone", async () => {
    const { sent } = show(200, judged);
    const field = listen();
    fireEvent.keyDown(field, { key: "Alt", code: "AltLeft", altKey: true, modifierAlt: true });
    fireEvent.keyUp(field, { key: "Alt", code: "AltLeft" });
    await screen.findByText("Free here.");
    expect(strokesOf(sent)).toEqual([{ code: null, modifiers: ["Alt"], key: "" }]);
  });
  it("takes no tap where another key was pressed with it", async () => {
    const { sent } = show(200, judged);
    const field = listen();
    fireEvent.keyDown(field, { key: "Control", code: "ControlLeft", ctrlKey: true, modifierControl: true });
    fireEvent.keyDown(field, { key: "k", code: "KeyK", ctrlKey: true, modifierControl: true });
    fireEvent.keyUp(field, { key: "Control", code: "ControlLeft" });
    await screen.findByText("Free here.");
    expect(strokesOf(sent)).toEqual([{ code: "KeyK", modifiers: ["Control"], key: "k" }]);
  });
  it("takes several in a row, and the last of them back", async () => {
    const { sent } = show(200, judged);
    const field = listen();
    fireEvent.click(screen.getByRole("button", { name: "Several in a row" }));
    fireEvent.keyDown(field, { key: "F8", code: "F8" });
    fireEvent.keyDown(field, { key: "5", code: "Numpad5" });
    await waitFor(() => expect(strokesOf(sent)).toHaveLength(2));
    fireEvent.click(await screen.findByRole("button", { name: "Take the last back" }));
    await waitFor(() => expect(strokesOf(sent)).toEqual([{ code: "F8", modifiers: [], key: "F8" }]));
  });
  it("gives back what was there before, where it is cancelled", async () => {
    show(200, judged);
    fireEvent.change(screen.getByLabelText("Shortcut"), { target: { value: "ctrl z" } });
    const field = listen();
    fireEvent.keyDown(field, { key: "F8", code: "F8" });
    expect(field.value).not.toBe("ctrl z");
    fireEvent.keyDown(field, { key: "Escape", code: "Escape" });
    expect(field.value).toBe("ctrl z");
  });
  it("says where the specialist's own keyboard differs, and what a browser never sees", async () => {
    const differs = "Your keyboard has y on this key.";
    const field = <PressField label="Shortcut" setup="s" program={null} scope={null} onJudged={vi.fn()} listening />;
    const keys = { text: "Meta+L", words: "Win L", caps: [["Win", "L"]] };
    stage(field, {
      "POST /api/press": { ...judged, differs },
      "GET /api/unseen": [{ keys, does: "locks the screen" }],
    });
    expect(document.activeElement).toBe(screen.getByLabelText("Shortcut"));
    expect(await screen.findByText(/Your system takes 1 presses before a page sees them/)).toBeTruthy();
    expect(screen.getByText(/locks the screen/)).toBeTruthy();
    fireEvent.keyDown(screen.getByLabelText("Shortcut"), { key: "y", code: "KeyY" });
    expect(await screen.findByText(differs)).toBeTruthy();
  });
});
