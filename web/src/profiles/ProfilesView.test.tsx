import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { lens, session, stage } from "../testing/stage";
import { ProfilesView } from "./ProfilesView";
import { ANSWERS, held } from "./sections/testing";

const ENTRY = {
  ...{ key: "quaysheet/stamp on windows", program: "Quaysheet", command: "Stamp the berth", platform: "Windows" },
  ...{ layouts: [], shortcuts: ["F10"], over: [], orphan: false, locked: false },
};
const PROFILE = {
  ...{
    id: "counters",
    own: false,
    name: "Ticket counters",
    description: "Agreed.",
    digest: "d",
    newest: 3,
    released: 2,
  },
  entries: [ENTRY, { ...ENTRY, key: "quaysheet/hold on windows", command: "Hold a cabin" }],
  reserved: [],
  revisions: [],
};
const LINES = [
  {
    ...{ section: "entries", says: "2 shortcuts", count: 2, lives: "person", goes: "goes", in_files: 2 },
    ...{ why: "", needs: "", items: ["Stamp the berth in Quaysheet"] },
  },
  {
    ...{ section: "macros", says: "1 macro", count: 1, lives: "document", goes: "stays", in_files: 0 },
    ...{ why: "It lives in Manifest.", needs: "macros allowed in Quaysheet", items: ["Close"] },
  },
];
const FOUND = {
  ...{ id: "gate", name: "Gates", description: "", own: false, shortcuts: 3, others: 1, people: 1 },
  ...{ because: "abbreviations: pax", released: false },
};
const KNOWN = [
  { id: "house", name: "House", people: 106 },
  { id: "counters", name: "Ticket counters", people: 49 },
];

function show(address: string, answers: object = {}) {
  return stage(
    <ProfilesView />,
    {
      ...session("editor"),
      ...ANSWERS,
      "GET /api/profiles/named": KNOWN,
      "GET /api/profiles/one/counters": PROFILE,
      "GET /api/profiles/one/house": { ...PROFILE, id: "house", name: "House" },
      "GET /api/profiles/counters/held": held(),
      "GET /api/profiles/house/held": held({ name: "House" }),
      "GET /api/profiles/counters/travels": { stays_whole: false, lines: LINES },
      "GET /api/profiles/house/travels": { stays_whole: true, lines: LINES },
      "GET /api/profiles/counters/entries/spare": [],
      "GET /api/profiles/found": { total: 300, profiles: [FOUND] },
      "GET /api/organisation": { all_profiles: KNOWN, platforms: [], departments: [], roles: [], programs: [] },
      "GET /api/organisation/table/people": { start: 0, total: 0, rows: [] },
      "GET /api/lenses": [lens({ layers: ["House", "Ticket counters"], layer_ids: ["house", "counters"] })],
      "GET /api/releases": [],
      "GET /api/approvals": [],
      ...answers,
    },
    address,
  );
}

describe("a profile", () => {
  it("stands in the frames of the layers beneath it, with what it holds", async () => {
    show("/profiles?profile=counters");
    const frames = await screen.findByRole("navigation", { name: "Where it lands" });
    await waitFor(() => expect(frames.textContent).toContain("49 people"));
    expect(frames.textContent).toMatch(/As programs are shipped.*House.*Ticket counters/);
    const sections = within(frames).getByRole("list", { name: "Sections of Ticket counters" });
    expect(within(sections).getByRole("link", { name: "2 shelves" })).toBeTruthy();
  });

  it("says of everything whether it travels", async () => {
    show("/profiles?profile=counters");
    const travels = await screen.findByRole("complementary", { name: "What travels" });
    expect(travels.textContent).toContain("2 shortcutsgo alongwith the person; in settings files");
    expect(travels.textContent).toContain("1 macrostayin a document; set by handIt lives in Manifest.");
    expect(travels.textContent).toContain("needs macros allowed in Quaysheet");
  });

  it("of one person stays here, whatever it holds", async () => {
    show("/profiles?profile=house");
    const travels = await screen.findByRole("complementary", { name: "What travels" });
    expect(travels.textContent).toContain("One person's own: it stays here.");
    expect(travels.textContent).not.toContain("go along");
  });

  it("is found among hundreds by what is in it", async () => {
    show("/profiles?profile=counters");
    fireEvent.click(await screen.findByRole("button", { name: "Find a profile" }));
    expect(await screen.findByText("300 profiles")).toBeTruthy();
    const found = screen.getByRole("list", { name: "Profiles found" });
    expect(found.textContent).toContain("abbreviations: pax");
    expect(found.textContent).toContain("3 shortcuts, 1 other thing");
    expect(screen.getByText("The first 1 are shown. Say more to find others.")).toBeTruthy();
    expect(within(found).getByRole("link", { name: "Gates" }).getAttribute("href")).toContain("profile=gate");
  });

  it("has its shortcuts chosen, and carried with who relearns what", async () => {
    const relearn = [{ people: 11, says: ["Stamp the berth in Quaysheet: F9, then F10"] }];
    const would = { solves: [], makes: [], solved: 0, made: 0, people: 11 };
    const sent = show("/profiles?profile=counters&section=entries", {
      "POST /api/profiles/counters/entries/carry/plan": { would, relearn, stands: [], carried: 1 },
      "POST /api/profiles/counters/entries/carry": { id: 4, title: "Moved 1 shortcut" },
    });
    fireEvent.click(await screen.findByRole("checkbox", { name: "Choose Stamp the berth on Windows" }));
    fireEvent.click(screen.getByRole("button", { name: "Move or copy them" }));
    fireEvent.mouseDown(await screen.findByRole("combobox", { name: "To the profile" }));
    fireEvent.click(await screen.findByRole("option", { name: "House" }));
    expect(await screen.findByText("11 people")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Move 1 shortcut" }));
    await waitFor(() =>
      expect(sent.find((s) => s.path.endsWith("/carry") && s.method === "POST")?.body).toEqual({
        ...{ keys: ["quaysheet/stamp on windows"], to: "house", layouts: null, stay: false, over: false },
      }),
    );
  });

  it("has those that change nothing chosen all at once", async () => {
    const spare = {
      ...{ key: ENTRY.key, command: "Stamp the berth", program: "Quaysheet", platform: "Windows" },
      ...{ keys: ["F10"], same_as: "House" },
    };
    show("/profiles?profile=counters&section=entries", { "GET /api/profiles/counters/entries/spare": [spare] });
    fireEvent.click(await screen.findByText(/1 shortcut changes nothing/));
    expect(screen.getByText("House says the same")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Choose all of them" }));
    expect(await screen.findByText("1 shortcut chosen")).toBeTruthy();
  });
});
