import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { lens, NO_WORTH, session, shortcut, stage } from "../testing/stage";
import { StandardView } from "./StandardView";
import { cell, matrix, task } from "./testing";
import type { Plan } from "./useStandard";

const COUNT = { agree: 1, could: 2, people_agree: 31, people_could: 62 };
const PLAN: Plan = {
  lines: [],
  programs: [],
  entries: 0,
  people: 0,
  stays: [],
  learners: [],
  solves: [],
  makes: [],
  broken: [],
  worth: NO_WORTH,
  before: COUNT,
  after: COUNT,
};
const DATA = matrix([task("save", { cells: [cell("sheet", "agrees")] })], {
  departments: [{ id: "sales", name: "Sales", covered: COUNT }],
  points: [
    { revision: 1, at: "2026-11-01T08:00:00Z", released: true, covered: COUNT },
    { revision: 2, at: "2026-11-02T08:00:00Z", released: false, covered: { ...COUNT, people_agree: 62 } },
  ],
});
const FINDING = {
  kind: "many_keys",
  says: "Save has 2 keys on Windows: F9 in Sheet; F10 in Mail.",
  platform: "windows",
  tasks: ["save"],
  programs: ["Sheet", "Mail"],
  keys: null,
  people: 31,
  item: "",
  allowed: "",
};
const DOUBLE = { ...FINDING, kind: "two_meanings", says: "F9 means 2 things.", keys: "F9", tasks: ["save", "next"] };

function show(
  address: string,
  answers: Record<string, unknown> = {},
  role: "editor" | "releaser" | "reader" = "editor",
) {
  return stage(
    <StandardView />,
    {
      ...session(role),
      "GET /api/lenses": [lens({ layers: ["The standard", "House"], layer_ids: ["standard", "house"] })],
      "GET /api/standard": DATA,
      "GET /api/standard/drafts": [],
      "GET /api/standard/sets": [],
      "POST /api/standard/plan": PLAN,
      ...answers,
    },
    address,
  );
}

const bodies = (sent: { path: string; method: string; body: unknown }[], path: string) =>
  sent.filter((s) => s.method === "POST" && s.path === path).map((s) => s.body);

describe("coverage over revisions and departments", () => {
  it("is a small line that says its figures", async () => {
    show("/");
    const line = await screen.findByRole("img", { name: /By people, over revisions/ });
    expect(line.getAttribute("aria-label")).toContain("revision 1, released: 50 %; revision 2: 100 %");
    expect(line.querySelectorAll("circle").length).toBe(1);
  });
  it("is told by department where all setups are looked at, and chosen by it", async () => {
    const sent = show("/?seen=all");
    const sales = await screen.findByRole("button", { name: "Sales 50 %" });
    fireEvent.click(sales);
    await waitFor(() => expect(sales.getAttribute("aria-pressed")).toBe("true"));
    expect(sent.filter((s) => s.path === "/api/standard").length).toBe(2);
  });
});

describe("what is worth a look", () => {
  it("leads to the task", async () => {
    show("/?show=findings", {
      "GET /api/standard/findings": { kinds: [["many_keys", "One task, many keys"]], findings: [FINDING] },
      "GET /api/standard/tasks/save": {
        ...{ task: "save", name: "Save", family: [], lines: [], choices: [], had: [], exceptions: [] },
      },
    });
    fireEvent.click(await screen.findByRole("button", { name: "Look at it" }));
    expect(await screen.findByText("No program here offers Save.")).toBeTruthy();
  });
  it("leaves out what is on other platforms", async () => {
    show("/?show=findings", {
      "GET /api/standard/findings": {
        kinds: [["many_keys", "One task, many keys"]],
        findings: [{ ...FINDING, platform: "macos" }],
      },
    });
    expect(await screen.findByText("Nothing to look at")).toBeTruthy();
  });
  it("shows a few of many, and all when asked", async () => {
    const many = Array.from({ length: 20 }, (_, n) => ({ ...FINDING, says: `Task ${n} has 2 keys.` }));
    show("/?show=findings", {
      "GET /api/standard/findings": { kinds: [["many_keys", "One task, many keys"]], findings: many },
    });
    const part = await screen.findByRole("region", { name: "One task, many keys" });
    expect(within(part).getAllByRole("listitem").length).toBe(12);
    fireEvent.click(within(part).getByRole("button", { name: "Show all 20" }));
    expect(within(part).getAllByRole("listitem").length).toBe(20);
  });
  it("lets a key mean two things with a reason, and takes that back", async () => {
    const sent = show("/?show=findings", {
      "GET /api/standard/findings": {
        kinds: [["two_meanings", "One key, two meanings"]],
        findings: [DOUBLE, { ...DOUBLE, says: "F10 means 2 things.", keys: "F10", allowed: "Nobody has both" }],
      },
      "POST /api/standard/meanings": { id: 4, title: "F9 may mean several things" },
    });
    fireEvent.click(await screen.findByRole("button", { name: "That may be" }));
    const allow = screen.getByRole<HTMLButtonElement>("button", { name: "Allow it" });
    expect(allow.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText("Why it may"), { target: { value: "Nobody has both" } });
    fireEvent.click(allow);
    await waitFor(() => expect(bodies(sent, "/api/standard/meanings").length).toBe(1));
    fireEvent.click(screen.getByRole("button", { name: "Not any more" }));
    await waitFor(() => expect(bodies(sent, "/api/standard/meanings").length).toBe(2));
    expect(bodies(sent, "/api/standard/meanings")).toMatchObject([
      { keys: "F9", platform: "windows", reason: "Nobody has both", remove: false, seen: "d1" },
      { keys: "F10", remove: true },
    ]);
  });
});

describe("carrying over", () => {
  const line = (name: string, parts: Partial<Schemas["CarriedOut"]>): Schemas["CarriedOut"] => ({
    task: name.toLowerCase(),
    name,
    origin: shortcut("Control+S"),
    keys: null,
    why: "",
    proposal: null,
    ...parts,
  });
  const carried = [
    line("Save", { keys: shortcut("Meta+S") }),
    line("Copy", { keys: shortcut("Meta+C") }),
    line("Close", { why: "the system takes it", proposal: shortcut("Meta+D") }),
  ];
  it("saves what is ticked, with proposals where they are wanted", async () => {
    const sent = show("/?show=carry", {
      "GET /api/standard/carry": carried,
      "POST /api/standard/lines": { id: 5, title: "Set 2 lines" },
    });
    fireEvent.click(await screen.findByRole("checkbox", { name: /Copy/ }));
    expect(screen.getByText(/the system takes it/)).toBeTruthy();
    fireEvent.click(screen.getByRole("checkbox", { name: /instead/ }));
    fireEvent.click(screen.getByRole("button", { name: "Save 2 lines" }));
    await waitFor(() => expect(bodies(sent, "/api/standard/lines").length).toBe(1));
    expect(bodies(sent, "/api/standard/lines")[0]).toMatchObject({
      seen: "d1",
      lines: [
        { task: "save", platform: "macos", keys: "Meta+S" },
        { task: "close", platform: "macos", keys: "Meta+D" },
      ],
    });
  });
  it("says where there is nothing to carry", async () => {
    show("/?show=carry", { "GET /api/standard/carry": [] });
    expect(await screen.findByText("Nothing to carry over")).toBeTruthy();
  });
});

describe("lending", () => {
  const plan = {
    name: "Sheet as Mail",
    taken: [{ task: "Save", command: "Keep", before: "F9", after: "F10" }],
    refused: [{ task: "Find", command: "Look", wanted: "F3", why: "it refuses F3" }],
    same: ["Copy"],
    lacking: [],
    solves: [],
    makes: ["Keep in Sheet, F10 (one stroke)"],
    people: 31,
  };
  async function choose(label: string, name: string) {
    fireEvent.mouseDown(screen.getByLabelText(label));
    fireEvent.click(await screen.findByRole("option", { name }));
  }
  it("tells what is taken, refused and would clash before it is kept, and never in the compiled layer", async () => {
    const sent = show("/?show=lend", {
      "POST /api/standard/lend/plan": plan,
      "POST /api/standard/lend": { id: 6, title: "Gave Sheet as Mail" },
    });
    await screen.findByText("No program has another one's shortcuts.");
    await choose("To", "Sheet");
    await choose("From", "Mail");
    expect(await screen.findByText(/1 are the same already/)).toBeTruthy();
    expect(screen.getByText(/F3 for Look: it refuses F3/)).toBeTruthy();
    expect(screen.getByText("Keep in Sheet, F10 (one stroke)")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Keep it as a set" }));
    await waitFor(() => expect(bodies(sent, "/api/standard/lend").length).toBe(1));
    expect(bodies(sent, "/api/standard/lend")[0]).toEqual({
      program: "sheet",
      source: "mail",
      platform: "windows",
      profile: "house",
    });
  });
  it("takes a set off again", async () => {
    const sent = show("/?show=lend", {
      "GET /api/standard/sets": [
        { profile: "house", profile_name: "House", id: "x", name: "Sheet as Mail", entries: 3 },
      ],
      "POST /api/standard/sets/removal": { id: 7, title: "Took Sheet as Mail off again" },
    });
    fireEvent.click(await screen.findByRole("button", { name: "Take it off again" }));
    await waitFor(() => expect(bodies(sent, "/api/standard/sets/removal")).toEqual([{ profile: "house", id: "x" }]));
  });
});

describe("drafts", () => {
  const draft = {
    id: 3,
    name: "Shorter",
    by: "Ines",
    mine: true,
    at: "2026-11-25T08:00:00Z",
    lines: 1,
    contradictions: [],
  };
  const line = { task: "save", name: "Save", platform: "windows", layouts: [], before: "F9", after: "F8" };
  const answers = {
    "GET /api/standard/drafts": [draft],
    "GET /api/standard/drafts/3/plan": { ...PLAN, lines: [line] },
    "POST /api/standard/drafts/3": { ...draft, name: "Longer" },
    "POST /api/standard/drafts/3/take": { id: 9, title: "Took over the draft Shorter" },
    "POST /api/standard/drafts/3/removal": draft,
  };
  it("are held against the standard, named otherwise and taken over", async () => {
    const sent = show("/?draft=3", answers);
    const region = await screen.findByRole("region", { name: "Draft" });
    expect(await within(region).findByText(/Save F9 to F8/)).toBeTruthy();
    fireEvent.change(within(region).getByLabelText("Its name"), { target: { value: "Longer" } });
    fireEvent.click(within(region).getByRole("button", { name: "Name it so" }));
    await waitFor(() => expect(bodies(sent, "/api/standard/drafts/3").length).toBe(1));
    fireEvent.click(within(region).getByRole("button", { name: "Take it over" }));
    expect(await screen.findByText("Took over the draft Shorter")).toBeTruthy();
    await waitFor(() => expect(screen.queryByRole("region", { name: "Draft" })).toBeNull());
  });
  it("are dropped, and brought back by the message's undo", async () => {
    const sent = show("/?draft=3", answers);
    fireEvent.click(await screen.findByRole("button", { name: "Drop it" }));
    expect(await screen.findByText("Dropped the draft Shorter")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Undo this" }));
    expect(await screen.findByText("Brought the draft Shorter back")).toBeTruthy();
    expect(bodies(sent, "/api/standard/drafts/3/removal")).toEqual([{ removed: true }, { removed: false }]);
  });
  it("are chosen where the rows are chosen", async () => {
    show("/", answers);
    fireEvent.mouseDown(await screen.findByLabelText("What if"));
    fireEvent.click(await screen.findByRole("option", { name: "Shorter, by Ines" }));
    expect(await screen.findByRole("region", { name: "Draft" })).toBeTruthy();
  });
});

describe("releasing", () => {
  it("is for releasers, and says when nobody changes", async () => {
    const sent = show(
      "/?release=1",
      { "GET /api/standard/release": PLAN, "POST /api/standard/release": { id: 8, title: "Released the standard" } },
      "releaser",
    );
    expect(await screen.findByText("No program changes and nobody relearns anything.")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Release it" }));
    expect(await screen.findByText("Released the standard")).toBeTruthy();
    expect(bodies(sent, "/api/standard/release").length).toBe(1);
  });
  it("shows a refusal in its place", async () => {
    const refusal = { title: "There is no standard here.", status: 404, detail: "", cure: "", safe: "" };
    show("/?release=1", { "GET /api/standard/release": [404, refusal] });
    expect(await screen.findByText("There is no standard here.")).toBeTruthy();
  });
});

describe("making room", () => {
  const ROOM: Schemas["RoomOut"] = {
    program: "sheet",
    program_name: "Sheet",
    command: "mark",
    command_name: "Mark it",
    platform: "windows",
    had: [shortcut("F9"), shortcut("F6")],
    keys: [shortcut("F6")],
    lines: [{ task: "save", name: "Save", keys: shortcut("F9"), layouts: ["de"] }],
    people: 31,
    known: true,
    reason: "For Save",
    owner: "Ines",
  };
  const answers = (rooms: Schemas["RoomOut"][]) => ({
    "GET /api/standard/rooms": { seen: "d1", rooms },
    "GET /api/standard/rooms/commands": [{ id: "find", name: "Find it", keys: [shortcut("F3")] }],
    "POST /api/standard/rooms/plan": { ...PLAN, entries: 1, programs: ["Sheet"], people: 31 },
    "POST /api/standard/rooms": { id: 11, title: "Mark it in Sheet makes room" },
    "POST /api/standard/drafts/3/rooms": {
      ...{ id: 3, name: "Shorter", by: "Ines", mine: true, at: "2026-11-25T08:00:00Z", lines: 0, contradictions: [] },
    },
  });
  it("tells for which line, and what is without one", async () => {
    show("/?show=rooms", answers([ROOM, { ...ROOM, command: "old", command_name: "Old one", lines: [] }]));
    const rows = within(await screen.findByRole("list", { name: "Commands that make room" })).getAllByRole("listitem");
    expect(rows[0]?.textContent).toContain("gave up");
    expect(rows[0]?.textContent).toContain("for Save (de)");
    expect(rows[1]?.textContent).toContain("for no line");
    expect(screen.getByText(/2 commands of these programs make room, 1 for no line/)).toBeTruthy();
  });
  it("gives a command its own keys back once that was told", async () => {
    const sent = show("/?show=rooms", answers([ROOM]));
    fireEvent.click(await screen.findByRole("button", { name: "Change Mark it in Sheet" }));
    expect(screen.getByRole("button", { name: "Save it" })).toHaveProperty("disabled", true);
    fireEvent.click(screen.getByLabelText(/Its own keys again/));
    await screen.findByText(/in Sheet/);
    await waitFor(() => expect(screen.getByRole("button", { name: "Save it" })).toHaveProperty("disabled", false));
    fireEvent.click(screen.getByRole("button", { name: "Save it" }));
    await waitFor(() => expect(bodies(sent, "/api/standard/rooms").length).toBe(1));
    expect(bodies(sent, "/api/standard/rooms")[0]).toEqual({
      rooms: [{ program: "sheet", command: "mark", platform: "windows", keys: null, reason: "For Save" }],
      seen: "d1",
      draft: null,
      chosen: [],
    });
  });
  it("has another command make room in the draft that is looked at", async () => {
    const sent = show("/?show=rooms&draft=3", answers([]));
    await screen.findByText("No command makes room");
    fireEvent.click(screen.getByRole("button", { name: "Have a command make room" }));
    fireEvent.mouseDown(screen.getByRole("combobox", { name: "Program" }));
    fireEvent.click(await screen.findByRole("option", { name: "Sheet" }));
    await waitFor(() => expect(screen.getByRole("combobox", { name: "Command" }).ariaDisabled).not.toBe("true"));
    fireEvent.mouseDown(screen.getByRole("combobox", { name: "Command" }));
    fireEvent.click(await screen.findByRole("option", { name: "Find it, F3" }));
    fireEvent.click(screen.getByRole("button", { name: "and its own F3" }));
    fireEvent.click(screen.getByRole("button", { name: "Without F3" }));
    const keep = screen.getByRole("button", { name: "Keep it in the draft" });
    await waitFor(() => expect(keep).toHaveProperty("disabled", false));
    fireEvent.click(keep);
    expect(await screen.findByText("Kept in the draft Shorter")).toBeTruthy();
    expect(bodies(sent, "/api/standard/drafts/3/rooms")).toEqual([
      { rooms: [{ program: "sheet", command: "find", platform: "windows", keys: [], reason: "" }] },
    ]);
  });
  it("is only read by readers", async () => {
    show("/?show=rooms", answers([ROOM]), "reader");
    await screen.findByText("Mark it");
    expect(screen.queryByRole("button", { name: /^Change/ })).toBeNull();
    expect(screen.queryByRole("button", { name: "Have a command make room" })).toBeNull();
  });
});
