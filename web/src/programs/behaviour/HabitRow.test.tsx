import { fireEvent, screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { stage } from "../../testing/stage";
import { HabitRow } from "./HabitRow";
import type { Habit } from "./useBehaviour";

const FIELDS: Record<string, unknown> = {
  limits: { sequence_length: 1, bare_keys: true, shortcuts_per_command: 3 },
  reads_keys_by: { macos: "character" },
  on_prefix: { wins: "long", waits_ms: 900 },
  switches: [],
};

function habit(parts: Partial<Habit>): Habit {
  return {
    id: "on_tie",
    title: "Ties",
    asks: "Which runs?",
    value: "first",
    options: [],
    says: "",
    shown: null,
    ...parts,
  };
}

function option(value: string) {
  return { value, title: value, does: `It does ${value}.` };
}

function show(one: Habit) {
  const set = vi.fn();
  stage(<HabitRow habit={one} platform="windows" field={(name) => FIELDS[name]} set={set} />, {});
  return set;
}

describe("a habit", () => {
  it("shows what the present choice does, with its trace", () => {
    const presses = [{ pressed: "F7", taken_at: "program", says: "Quaysheet does its first command" }];
    show(habit({ says: "The first one runs.", shown: { given: "Two are on F7.", presses } }));
    expect(screen.getByRole("region", { name: "Ties" }).textContent).toContain("The first one runs.");
    expect(screen.getByRole("listitem").textContent).toBe("F7Quaysheet does its first command");
  });
  it("sets its own field", () => {
    const set = show(habit({ options: [option("first"), option("last")] }));
    fireEvent.click(screen.getByRole("button", { name: "last" }));
    expect(set).toHaveBeenCalledWith("on_tie", "last");
  });
  it("reads keys by platform, and leaves the others", () => {
    const set = show(habit({ id: "reads_keys_by", value: "key", options: [option("key"), option("position")] }));
    fireEvent.click(screen.getByRole("button", { name: "position" }));
    expect(set).toHaveBeenCalledWith("reads_keys_by", { macos: "character", windows: "position" });
  });
  it("keeps the other limits", () => {
    const set = show(habit({ id: "bare_keys", value: "yes", options: [option("yes"), option("no")] }));
    fireEvent.click(screen.getByRole("button", { name: "no" }));
    expect(set).toHaveBeenCalledWith("limits", { sequence_length: 1, bare_keys: false, shortcuts_per_command: 3 });
  });
  it("takes no figure out of bounds", () => {
    const set = show(habit({ id: "sequence_length", value: "1" }));
    const field = screen.getByLabelText("Presses at most");
    fireEvent.change(field, { target: { value: "99" } });
    expect(set).not.toHaveBeenCalled();
    expect(screen.getByText("A whole number from 1 to 12.")).toBeTruthy();
    fireEvent.change(field, { target: { value: "3" } });
    expect(set).toHaveBeenCalledWith("limits", { sequence_length: 3, bare_keys: true, shortcuts_per_command: 3 });
  });
  it("waits as long as it takes where no time is given", () => {
    const set = show(habit({ id: "on_prefix", value: "long", options: [option("long"), option("short")] }));
    fireEvent.change(screen.getByLabelText("Waits for (ms; 0: as long as it takes)"), { target: { value: "0" } });
    expect(set).toHaveBeenCalledWith("on_prefix", { wins: "long", waits_ms: null });
  });
  it("has switches with ids of their own", () => {
    const set = show(habit({ id: "switches", value: "" }));
    fireEvent.click(screen.getByRole("button", { name: "Add a switch" }));
    expect(set).toHaveBeenCalledWith("switches", [{ id: "switch-1", name: "A switch", where: "Settings" }]);
  });
});
