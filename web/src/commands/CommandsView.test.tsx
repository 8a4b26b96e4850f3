import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { lens, NO_WORTH, session, shortcut, stage } from "../testing/stage";
import { CommandsView } from "./CommandsView";

function row(n: number, parts: Partial<Schemas["CommandRowOut"]> = {}): Schemas["CommandRowOut"] {
  return {
    id: `quaysheet/c${n}`,
    program: "quaysheet",
    program_name: "Quaysheet",
    version: "7.2",
    command: `c${n}`,
    name: `Command ${n}`,
    arguments: {},
    takes: [],
    marks: [],
    also: "",
    description: "Does something.",
    group: "Cells",
    scope: "sheet",
    scope_name: "Sheet",
    kind: "built-in",
    keys: [{ ...shortcut(`F${n}`), strokes: [{ code: `F${n}`, modifiers: [] }], unreachable: "" }],
    layers: ["default", "House"],
    task: null,
    task_name: "",
    people: 31,
    states: ["own key"],
    clashes: [],
    setup: "counters",
    settable: true,
    ...parts,
  };
}

const MANY = 20_000;
function commands(url: URL): Schemas["CommandsOut"] {
  const at = Number(url.searchParams.get("at"));
  const words = url.searchParams.get("words") ?? "";
  const lines = words === "nothing" ? 0 : words ? 1 : MANY;
  return {
    total: MANY,
    programs: 60,
    found: lines,
    lines,
    at,
    order: words ? "best first" : "program",
    place: null,
    changed: 3,
    program: null,
    shown: Array.from({ length: Math.min(60, lines) }, (_, n) => ({
      row: row(at + n, words ? { name: "Delete the row", marks: [{ begin: 0, end: 6 }] } : {}),
    })),
  };
}

const life: Schemas["CommandLifeOut"] = {
  row: row(0),
  versions: [
    { version: "7.1", there: true, keys: [shortcut("F5")] },
    { version: "7.2", there: true, keys: [shortcut("F6")] },
  ],
  stages: [
    {
      layer: "default",
      profile: "",
      keys: [shortcut("F6")],
      by: "",
      at: null,
      long_ago: false,
      holds: false,
      in_vain: "",
    },
    {
      ...{ layer: "House", profile: "house", keys: [shortcut("F0")], by: "Ines", at: "2026-10-02T08:00:00Z" },
      ...{ long_ago: false, holds: true, in_vain: "" },
    },
  ],
  notes: ["On this keyboard it needs Shift."],
  elsewhere: [],
  uses: [],
  source: "",
};
const nothing = { programs: [], states: [], scopes: [], kinds: [], groups: [], tasks: [], layers: [] };
const answers = {
  "GET /api/lenses": [lens()],
  "GET /api/commands": commands,
  "GET /api/commands/choices": {
    ...nothing,
    states: [{ id: "no key", name: "no key", rows: 5 }],
    tasks: [{ id: "save", name: "Save", rows: 9 }],
  },
  "GET /api/commands/life": life,
  "GET /api/commands/ids": ["quaysheet/c0", "quaysheet/c1", "quaysheet/c2"],
  "POST /api/commands/reset/plan": {
    ...{ count: 1, unseen: 0, stays: [], surprises: [{ people: 31, says: ["Command 0: F0, then F6"] }] },
    would: { solves: [], makes: ["Command 7, F6"], solved: 0, made: 1, people: 31, worth: NO_WORTH },
    returns: [
      {
        ...{ id: "quaysheet/c0", program_name: "Quaysheet", name: "Command 0", layers: ["House"] },
        ...{ before: [shortcut("F0")], after: [shortcut("F6")] },
      },
    ],
  } satisfies Schemas["ResetPlanOut"],
  "POST /api/commands/reset": { id: 4, title: "Reset Command 0" },
  "POST /api/commands/task": { id: 5, title: "Gave 3 commands the task Save" },
  "GET /api/history": [],
};

describe("all commands", () => {
  it("draws only those in sight of twenty thousand", async () => {
    stage(<CommandsView />, { ...answers, ...session("editor") });
    await screen.findByText("Command 1");
    expect(screen.getByText("20000 found")).toBeTruthy();
    expect(document.querySelectorAll("[data-row]").length * 5).toBeLessThan(600);
  });

  it("walks by arrows, one stop for Tab", async () => {
    stage(<CommandsView />, { ...answers, ...session("editor") });
    const first = (await screen.findByText("Command 0")).closest("button") as HTMLElement;
    first.focus();
    fireEvent.keyDown(first, { key: "ArrowDown" });
    await waitFor(() => expect(document.activeElement?.textContent).toContain("Command 1"));
    expect(document.querySelectorAll('[data-row][tabindex="0"]')).toHaveLength(1);
  });

  it("underlines the words that were found and keeps them in the address", async () => {
    const sent = stage(<CommandsView />, { ...answers, ...session("reader") }, "/?words=delet");
    const found = await screen.findByText("Delete");
    expect(found.tagName).toBe("U");
    expect(screen.getByRole("button", { name: "Order: best first" })).toBeTruthy();
    expect(sent.filter((s) => s.path === "/api/commands")).toHaveLength(1);
  });

  it("asks with so much of a long question as says something", async () => {
    let asked = "";
    const played = (url: URL) => {
      asked = url.searchParams.get("words") ?? "";
      return commands(url);
    };
    stage(
      <CommandsView />,
      { ...answers, "GET /api/commands": played, ...session("reader") },
      `/?words=${"x".repeat(10_000)}`,
    );
    await screen.findByText("Delete");
    expect(asked).toHaveLength(400);
  });

  it("says what to do where nothing is found", async () => {
    stage(<CommandsView />, { ...answers, ...session("reader") }, "/?words=nothing");
    fireEvent.click(await screen.findByRole("button", { name: "Show all 20000 commands" }));
    await screen.findByText("Command 0");
  });

  it("asks for a state by a part of the sentence", async () => {
    let asked = "";
    const played = (url: URL) => {
      asked = url.search;
      return commands(url);
    };
    stage(<CommandsView />, { ...answers, "GET /api/commands": played, ...session("reader") });
    fireEvent.click(await screen.findByRole("button", { name: "State: in any state" }));
    fireEvent.click(await screen.findByRole("menuitem", { name: /without a key/ }));
    await waitFor(() => expect(new URLSearchParams(asked).get("state")).toBe("no key"));
    expect(screen.getByRole("button", { name: "State: without a key" })).toBeTruthy();
  });
});

describe("the life of a command", () => {
  it("goes from the default to what holds, with who said it", async () => {
    stage(<CommandsView />, { ...answers, ...session("editor") }, "/?at=quaysheet/c0");
    const steps = within(await screen.findByRole("list", { name: "Where its keys come from" })).getAllByRole(
      "listitem",
    );
    expect(steps.map((s) => s.textContent)).toEqual([
      expect.stringContaining("in 7.1 the maker gave it F5"),
      expect.stringContaining("Ines, 2 October"),
    ]);
    expect(screen.getByText("On this keyboard it needs Shift.")).toBeTruthy();
  });

  it("resets it after telling what returns and whom that surprises", async () => {
    const sent = stage(<CommandsView />, { ...answers, ...session("editor") }, "/?at=quaysheet/c0");
    fireEvent.click(await screen.findByRole("button", { name: "Back to what is beneath" }));
    await screen.findByText("31 people find 1 command on other keys");
    expect(screen.getByText("Command 7, F6")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Reset Command 0" }));
    await waitFor(() => expect(sent.some((s) => s.path === "/api/commands/reset")).toBe(true));
    expect(sent.find((s) => s.path === "/api/commands/reset")?.body).toMatchObject({
      rows: ["quaysheet/c0"],
      to: "what is beneath",
    });
  });

  it("gives a risky one a free key that was picked, with a reason", async () => {
    const risky = { ...life, row: row(0, { states: ["risky"] }) };
    let asked = "";
    const free = (url: URL) => {
      asked = url.searchParams.get("hand") ?? "";
      return [{ keys: shortcut("F9"), reach: 4, reasons: ["first letter"] }];
    };
    const sent = stage(
      <CommandsView />,
      {
        ...{ ...answers, ...session("editor"), "GET /api/commands/life": risky, "GET /api/commands/free": free },
        "POST /api/commands/plan": { entries: 1, people: 31, setups: ["Desk"], solves: [], makes: [], worth: NO_WORTH },
        "POST /api/commands/shortcuts": { id: 9, title: "Gave it F9" },
      },
      "/?at=quaysheet/c0",
    );
    fireEvent.click(await screen.findByRole("button", { name: "Free keys" }));
    fireEvent.click(await screen.findByRole("button", { name: "Hand: either hand" }));
    fireEvent.click(await screen.findByRole("menuitem", { name: "the left hand" }));
    await waitFor(() => expect(asked).toBe("left hand"));
    fireEvent.click(await screen.findByRole("button", { name: "Pick F9" }));
    await screen.findByText("Makes no clash.");
    const give = screen.getByRole("button", { name: "Give it" });
    expect((give as HTMLButtonElement).disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/It is risky/), { target: { value: "asked for by all" } });
    fireEvent.click(give);
    await waitFor(() => expect(sent.some((s) => s.path === "/api/commands/shortcuts")).toBe(true));
    expect(sent.find((s) => s.path === "/api/commands/shortcuts")?.body).toMatchObject({
      ...{ shortcuts: ["F9"], reason: "asked for by all" },
    });
  });

  it("enters, changes and takes out how often roles use it, in one step", async () => {
    const uses = [
      { role: "clerk", name: "Clerks", people: 31, weekly: null },
      { role: "pilot", name: "Pilots", people: 5, weekly: 40 },
      { role: "cook", name: "Cooks", people: 1, weekly: 3 },
    ];
    const sent = stage(
      <CommandsView />,
      {
        ...{ ...answers, ...session("editor"), "GET /api/commands/life": { ...life, uses } },
        "POST /api/organisation/change": { id: 9, title: "Said how often" },
      },
      "/?at=quaysheet/c0",
    );
    const enter = await screen.findByRole("button", { name: "Enter uses" });
    fireEvent.change(screen.getByLabelText("Clerks, 31 people"), { target: { value: "many" } });
    expect((enter as HTMLButtonElement).disabled).toBe(true);
    fireEvent.change(screen.getByLabelText("Clerks, 31 people"), { target: { value: "12" } });
    fireEvent.change(screen.getByLabelText("Cooks, 1 person"), { target: { value: "" } });
    fireEvent.click(enter);
    await waitFor(() => expect(sent.some((s) => s.path === "/api/organisation/change")).toBe(true));
    const of = { program: "quaysheet", command: "c0" };
    expect(sent.find((s) => s.path === "/api/organisation/change")?.body).toMatchObject({
      items: [
        { section: "uses", before: null, after: { role: "clerk", weekly: 12, ...of } },
        { section: "uses", before: { role: "cook", weekly: 3, ...of }, after: null },
      ],
    });
  });

  it("gives a template with a value a key of its own", async () => {
    const takes = [
      { name: "percent", values: [], least: 1, most: 25 },
      { name: "how", values: ["up", "down"] },
    ];
    const template = { ...life, row: row(0, { takes, keys: [] }) };
    const sent = stage(
      <CommandsView />,
      {
        ...{ ...answers, ...session("editor"), "GET /api/commands/life": template },
        "GET /api/commands/free": [{ keys: shortcut("F9"), reach: 4, reasons: [] }],
        "POST /api/commands/plan": { entries: 1, people: 31, setups: ["Desk"], solves: [], makes: [], worth: NO_WORTH },
        "POST /api/commands/shortcuts": { id: 9, title: "Gave it F9" },
      },
      "/?at=quaysheet/c0",
    );
    fireEvent.click(await screen.findByRole("button", { name: "Free keys" }));
    fireEvent.click(await screen.findByRole("button", { name: "Pick F9" }));
    fireEvent.change(screen.getByLabelText("percent"), { target: { value: "10" } });
    await screen.findByText("Fill in how too.");
    fireEvent.mouseDown(screen.getByLabelText("how"));
    fireEvent.click(await screen.findByRole("option", { name: "up" }));
    await screen.findByText("Makes no clash.");
    fireEvent.click(await screen.findByRole("button", { name: "Give it" }));
    await waitFor(() => expect(sent.some((s) => s.path === "/api/commands/shortcuts")).toBe(true));
    expect(sent.find((s) => s.path === "/api/commands/shortcuts")?.body).toMatchObject({
      arguments: { percent: 10, how: "up" },
    });
  });

  it("lets a reader look only", async () => {
    stage(<CommandsView />, { ...answers, ...session("reader") }, "/?at=quaysheet/c0");
    await screen.findByText("Readers look; an editor gives keys.");
    expect(screen.queryByRole("button", { name: /Reset|Back to/ })).toBe(null);
  });
});

describe("several commands at once", () => {
  it("gives all that were found a task", async () => {
    const sent = stage(<CommandsView />, { ...answers, ...session("editor") });
    fireEvent.click(await screen.findByRole("checkbox", { name: "Choose all that were found" }));
    await screen.findByText("3 commands chosen");
    fireEvent.mouseDown(await screen.findByRole("combobox", { name: /^Task/ }));
    fireEvent.click(await screen.findByRole("option", { name: "Save" }));
    fireEvent.click(screen.getByRole("button", { name: "Give them this task" }));
    await waitFor(() => expect(sent.some((s) => s.path === "/api/commands/task")).toBe(true));
    expect(sent.find((s) => s.path === "/api/commands/task")?.body).toEqual({
      setup: "counters",
      rows: ["quaysheet/c0", "quaysheet/c1", "quaysheet/c2"],
      task: "save",
    });
  });

  it("puts their tasks into a family behind those that are in it", async () => {
    const family = { id: "walk", name: "Walking", step: "shift", members: ["next", "save"] };
    const nothing = { solves: [], makes: [], come: [], go: [], programs: [] };
    const numbers = { commands: 0, lines: 0, lines_gone: 0, lines_apart: 0, lines_apart_then: 0, coming: 0, going: 0 };
    const sent = stage(<CommandsView />, {
      ...{ ...answers, ...session("editor") },
      "GET /api/tasks": { tasks: [], families: [family], without_task: 0 },
      "POST /api/commands/tasks": {
        tasks: [
          { id: "save", name: "Save" },
          { id: "back", name: "Back" },
        ],
        stays: [{ name: "Command 2 in Quaysheet", why: "it has no task" }],
      } satisfies Schemas["TasksOfRowsOut"],
      "POST /api/tasks/families/walk/plan": {
        ...{ ...nothing, ...numbers, agree: 1, could: 2, agree_then: 1, could_then: 2, solved: 0, made: 0 },
      } satisfies Schemas["TaskPlanOut"],
      "PUT /api/tasks/families/walk": { id: 8, title: "Family Walking" },
    });
    fireEvent.click(await screen.findByRole("checkbox", { name: "Choose all that were found" }));
    fireEvent.mouseDown(await screen.findByRole("combobox", { name: /Their tasks into the family/ }));
    fireEvent.click(await screen.findByRole("option", { name: "Walking" }));
    await screen.findByText("Left out, since they have no task: Command 2 in Quaysheet.");
    await screen.findByText(/3 tasks in it/);
    fireEvent.click(screen.getByRole("button", { name: "Make it so" }));
    await waitFor(() => expect(sent.some((s) => s.path === "/api/tasks/families/walk")).toBe(true));
    expect(sent.find((s) => s.path === "/api/tasks/families/walk")?.body).toEqual({
      ...{ name: "Walking", step: "shift", members: ["next", "save", "back"] },
    });
  });

  it("brings keys into another layer after telling what stays", async () => {
    const sent = stage(<CommandsView />, {
      ...{ ...answers, ...session("editor") },
      "GET /api/profiles/named": [{ id: "desk", name: "Desk" }],
      "POST /api/commands/bring/plan": {
        ...{ count: 2, stays: [{ name: "Command 2 in Quaysheet", why: "House locks it" }], surprises: [] },
        would: { solves: [], makes: [], solved: 0, made: 0, people: 3, worth: NO_WORTH },
      } satisfies Schemas["BringKeysPlanOut"],
      "POST /api/commands/bring": { id: 8, title: "Brought the keys of 2 commands into Desk" },
    });
    fireEvent.click(await screen.findByRole("checkbox", { name: "Choose all that were found" }));
    fireEvent.mouseDown(await screen.findByRole("combobox", { name: /Their keys into the layer/ }));
    fireEvent.click(await screen.findByRole("option", { name: "Desk" }));
    await screen.findByText("Command 2 in Quaysheet stays: House locks it.");
    fireEvent.click(screen.getByRole("button", { name: "Bring 2 there" }));
    await waitFor(() => expect(sent.some((s) => s.path === "/api/commands/bring")).toBe(true));
    expect(sent.find((s) => s.path === "/api/commands/bring")?.body).toMatchObject({ to: "desk" });
  });

  it("chooses a group by its head", async () => {
    const head = { id: "quaysheet/Cells", program_name: "Quaysheet", group: "Cells", rows: 3, closed: false };
    let asked = "";
    const grouped = (url: URL) => ({ ...commands(url), lines: 1, shown: [{ head }] });
    const ids = (url: URL) => {
      asked = url.search;
      return ["quaysheet/c0", "quaysheet/c1", "quaysheet/c2"];
    };
    const played = { "GET /api/commands": grouped, "GET /api/commands/ids": ids };
    stage(<CommandsView />, { ...answers, ...session("editor"), ...played }, "/?folded=1");
    fireEvent.click(await screen.findByRole("checkbox", { name: "Choose all of Cells in Quaysheet" }));
    await screen.findByText("3 commands chosen");
    expect(new URLSearchParams(asked).get("group")).toBe("Cells");
    expect(new URLSearchParams(asked).get("program")).toBe("quaysheet");
  });

  it("chooses a span with Shift and the arrows", async () => {
    stage(<CommandsView />, { ...answers, ...session("editor") });
    const first = (await screen.findByText("Command 0")).closest("button") as HTMLElement;
    first.focus();
    fireEvent.keyDown(first, { key: "ArrowDown", shiftKey: true });
    await screen.findByText("2 commands chosen");
  });
});
