import { cleanup, fireEvent, render, screen, within } from "@testing-library/react";
import { useState } from "react";
import { afterEach, describe, expect, it } from "vitest";
import type { Organisation } from "../useOrganisation";
import type { Item } from "./item";
import { MachineForm } from "./MachineForm";

const program = (id: string, kind: string, platforms: string[], more = {}) => ({
  id,
  name: id,
  kind,
  versions: ["1"],
  add_ons: [],
  turned_on: [],
  turned_off: [],
  platforms,
  ...more,
});
const platform = (id: string, layouts: string[]) => ({
  id,
  name: id,
  editions: [],
  layouts: layouts.map((name) => ({ id: name.toLowerCase(), name })),
  releases: [
    { name: "10", edition: "", also: [] },
    { name: "11", edition: "", also: [] },
    { name: "48", edition: "Tidal", also: [] },
  ],
  input_methods: [{ name: "Japanese", source: "Guide 3", takes: ["Convert"], composing: ["Enter", "Space"] }],
});

const ORGANISATION = {
  name: "Strait",
  profiles: [],
  departments: [],
  roles: [],
  kits: [],
  people: 1,
  machines: 1,
  setups: 1,
  platforms: [platform("windows", ["German", "British"]), platform("macos", ["British (Mac)", "German (Mac)"])],
  bodies: [{ id: "iso", name: "ISO" }],
  programs: [
    program("tableware", "system", ["windows"], {
      turned_on: [{ id: "clip", name: "Clipboard history" }],
      turned_off: [{ id: "grab", name: "Grab" }],
    }),
    program("fruitware", "system", ["macos"]),
    program("chart", "web", ["windows", "macos"]),
  ],
  all_profiles: [],
} as Organisation;

const MACHINE = {
  id: "one",
  name: "One",
  platform: "windows",
  edition: "Pro",
  layouts: ["german"],
  body: "iso",
  programs: [
    { id: "tableware", version: "1" },
    { id: "chart", version: "1" },
  ],
};

/** The form, and what the machine would be. */
function form(item: Item = MACHINE) {
  let now = item;
  function Held() {
    const [value, setValue] = useState(item);
    now = value;
    return <MachineForm organisation={ORGANISATION} item={value} onItem={setValue} disabled={false} />;
  }
  render(<Held />);
  return () => now;
}

function choose(label: string, option: string) {
  fireEvent.mouseDown(screen.getByRole("combobox", { name: label }));
  fireEvent.click(within(screen.getByRole("listbox")).getByRole("option", { name: option }));
}

afterEach(cleanup);

describe("the form of a machine", () => {
  it("gives a session on another platform its system and the layout that is like the one here", () => {
    const now = form();
    fireEvent.click(screen.getByRole("button", { name: "Add a session" }));
    expect(now().remote).toEqual({
      name: "Session",
      presses: "passed on",
      system: { id: "tableware", version: "1" },
    });
    choose("Platform over there", "macos");
    expect(now().remote).toMatchObject({
      platform: "macos",
      layout: "german (mac)",
      system: { id: "fruitware", version: "1" },
    });
    fireEvent.click(screen.getByRole("button", { name: "Take the session out" }));
    expect(now()).toEqual(MACHINE);
  });

  it("writes only what isn't as it is anyway", () => {
    const now = form();
    choose("Top row without Fn", "special keys");
    fireEvent.change(screen.getByLabelText("Displays"), { target: { value: "2" } });
    expect(now()).toMatchObject({ top_row: "special keys", displays: 2 });
    choose("Top row without Fn", "function keys");
    fireEvent.change(screen.getByLabelText("Displays"), { target: { value: "1" } });
    expect(now()).toEqual(MACHINE);
  });

  it("says in which window a page runs and whether it may go first", () => {
    const now = form();
    const chart = () => (now().programs as Item[])[1];
    choose("Window of chart", "in a window of its own, full screen");
    expect(chart()).toEqual({ id: "chart", version: "1", runs: "in a window of its own", full_screen: true });
    choose("Window of chart", "in a tab, where the page may not go first");
    expect(chart()).toEqual({ id: "chart", version: "1", goes_first: false });
    choose("Window of chart", "in a tab of a browser");
    expect(chart()).toEqual({ id: "chart", version: "1" });
  });

  it("switches what the system has on and off", () => {
    const now = form();
    for (const [label, option] of [
      ["Switched on in tableware", "Clipboard history"],
      ["Switched off in tableware", "Grab"],
    ] as const) {
      fireEvent.mouseDown(screen.getByRole("combobox", { name: label }));
      fireEvent.click(screen.getByRole("option", { name: option }));
    }
    expect((now().programs as Item[])[0]).toEqual({ id: "tableware", version: "1", on: ["clip"], off: ["grab"] });
  });

  it("takes an input method with the presses that it has", () => {
    const now = form();
    fireEvent.click(screen.getByRole("button", { name: "Another input method" }));
    const takes = screen.getByRole("combobox", { name: "Presses that it takes at all times" });
    fireEvent.change(takes, { target: { value: " Control+Space " } });
    fireEvent.keyDown(takes, { key: "Enter" });
    expect(now().input_method).toMatchObject({ name: "Input method", takes: ["Control+Space"] });
  });

  it("takes an input method that is known by its name, and says what it takes", () => {
    const now = form();
    fireEvent.click(screen.getByRole("button", { name: "Japanese" }));
    expect(now().input_method).toEqual({ name: "Japanese" });
    expect(screen.getByText(/Takes 1 press at all times and 2 while composing.*Source: Guide 3/)).toBeTruthy();
    fireEvent.change(screen.getByLabelText("Its name"), { target: { value: "Own" } });
    expect(screen.queryByText(/Source: Guide 3/)).toBeNull();
  });

  it.each([
    ["Pro", ["11", "10"]],
    ["Tidal", ["48"]],
  ])("offers the versions of the edition %s, the newest first", (edition, versions) => {
    form({ ...MACHINE, edition });
    fireEvent.keyDown(screen.getByLabelText("Version, if not the newest"), { key: "ArrowDown" });
    const offered = within(screen.getByRole("listbox")).getAllByRole("option");
    expect(offered.map((o) => o.textContent)).toEqual(versions);
  });
});
