import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { isPress, OwnShortcuts, useAction } from "../../shared/own/own";
import type { Own } from "../../shared/own/useOwn";
import { session, shortcut, stage } from "../../testing/stage";
import { OwnList } from "./OwnList";

function own(id: string, key: string, modifiers: string[] = [], parts: Partial<Own> = {}): Own {
  const keys = shortcut([...modifiers, key].join("+"));
  return { id, name: `Do ${id}`, keys, press: { modifiers, key }, changed: false, clashes: [], ...parts };
}

function Acting({ act }: { act: () => void }) {
  useAction("undo", act);
  return (
    <>
      <input aria-label="Words" />
      <input type="checkbox" aria-label="Choose" />
      <button type="button">Rest</button>
    </>
  );
}

function show(all: Own[], more = {}) {
  const act = vi.fn();
  const sent = stage(
    <OwnShortcuts>
      <Acting act={act} />
      <OwnList />
    </OwnShortcuts>,
    { ...session("editor"), "GET /api/own-shortcuts": all, ...more },
  );
  return { act, sent };
}

const press = (on: Element | Window, key: string, more = {}) => fireEvent.keyDown(on, { key, ...more });

describe("an own shortcut", () => {
  it.each([
    [{ modifiers: [], key: "?" }, { key: "?", shiftKey: true }, true],
    [{ modifiers: [], key: "P" }, { key: "p" }, true],
    [{ modifiers: [], key: "P" }, { key: "P", shiftKey: true }, false],
    [{ modifiers: ["Control"], key: "Z" }, { key: "z", ctrlKey: true }, true],
    [{ modifiers: ["Control"], key: "Z" }, { key: "z" }, false],
    [{ modifiers: ["Control", "Shift"], key: "Z" }, { key: "Z", ctrlKey: true, shiftKey: true }, true],
    [{ modifiers: [], key: "F9" }, { key: "F9" }, true],
    [{ modifiers: [], key: "F9" }, { key: "F9", altKey: true }, false],
  ])("asks for %o, and %o is it: %s", (wanted, event, is) => {
    expect(isPress(wanted, new KeyboardEvent("keydown", event))).toBe(is);
  });
  it("runs on the page, and never while text is typed or a field listens", async () => {
    const { act } = show([own("undo", "U")]);
    const words = await screen.findByLabelText("Words");
    await waitFor(() => {
      press(screen.getByRole("button", { name: "Rest" }), "u");
      expect(act).toHaveBeenCalled();
    });
    const before = act.mock.calls.length;
    press(words, "u");
    expect(act).toHaveBeenCalledTimes(before);
    press(screen.getByLabelText("Choose"), "u"); // a checkbox takes no text
    expect(act).toHaveBeenCalledTimes(before + 1);
    document.body.insertAdjacentHTML("beforeend", '<div data-listening=""><button id="busy">Stop</button></div>');
    press(document.getElementById("busy") as Element, "u");
    document.querySelector("[data-listening]")?.remove();
    expect(act).toHaveBeenCalledTimes(before + 1);
  });
  it("does nothing where it is switched off", async () => {
    const { act } = show([own("undo", "U", [], { keys: null, press: null }), own("shortcuts", "?")]);
    await waitFor(() => {
      press(window, "?", { shiftKey: true });
      expect(screen.getByRole("dialog")).toBeTruthy();
    });
    press(window, "u");
    expect(act).not.toHaveBeenCalled();
  });
});

describe("the list of own shortcuts", () => {
  async function open(all: Own[], more = {}) {
    const shown = show([own("shortcuts", "?"), ...all], more);
    await waitFor(() => {
      press(window, "?", { shiftKey: true });
      expect(screen.getByRole("dialog")).toBeTruthy();
    });
    return shown;
  }
  it("says what each clashes with", async () => {
    await open([own("undo", "U", [], { clashes: ["Windows takes U before any program."] })]);
    expect(await screen.findByText("Windows takes U before any program.")).toBeTruthy();
  });
  it("changes one, switches it off and puts the usual one back", async () => {
    const changed = own("undo", "F9", [], { changed: true });
    const { sent } = await open([own("undo", "U")], { "PUT /api/own-shortcuts/undo": [changed] });
    fireEvent.click(await screen.findByRole("button", { name: "Change: Do undo" }));
    fireEvent.change(screen.getByLabelText("New shortcut"), { target: { value: "f9" } });
    fireEvent.click(screen.getByRole("button", { name: "Take it" }));
    fireEvent.click(await screen.findByRole("button", { name: "The usual one: Do undo" }));
    fireEvent.click(screen.getByRole("button", { name: "Switch off: Do undo" }));
    await waitFor(() => {
      expect(sent.filter((s) => s.method === "PUT").map((s) => s.body)).toEqual([
        { keys: "f9" },
        { keys: null },
        { keys: "" },
      ]);
    });
  });
});
