import { fireEvent, screen } from "@testing-library/react";
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
    expect(sent.map((s) => s.body)).toEqual([
      { setup: "s", program: "p", scope: "c", strokes: [{ code: "KeyY", modifiers: ["Control"] }] },
    ]);
    expect(onJudged).toHaveBeenLastCalledWith(judged);
  });
  it("marks the place of a fault and offers the guess", async () => {
    const fault = { title: "No key is called bakspace.", status: 400, detail: "", cure: "", safe: "" };
    const { onJudged } = show(400, { ...fault, text: "ctrl+bakspace", span: [5, 13], guess: "Control+Backspace" });
    fireEvent.change(screen.getByLabelText("Shortcut"), { target: { value: "ctrl+bakspace" } });
    expect((await screen.findByText("bakspace")).tagName).toBe("MARK");
    expect(screen.getByRole("button", { name: "Take Control+Backspace" })).toBeTruthy();
    expect(onJudged).toHaveBeenLastCalledWith(null);
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
});
