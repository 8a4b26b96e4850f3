import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { lens, session, stage } from "../testing/stage";
import { ClashesView } from "./ClashesView";
import { group, packed } from "./testing";
import type { Group } from "./useClashes";

const decision = {
  id: 4,
  title: "Moved Fold",
  reason: "Nobody found it",
  by: "Ines",
  at: "2026-11-24T08:00:00Z",
  undone: false,
  why_not: "",
};
const KINDS = [
  { id: "system_fixed", name: "the system keeps it" },
  { id: "shadow", name: "hidden by an inner scope" },
];

interface Played {
  decided?: (typeof decision)[];
  address?: string;
  meant?: Group[];
  there?: Group[];
  role?: "reader" | "editor";
}

function show(groups: Group[], { decided = [decision], address = "/", meant = [], there, role }: Played = {}) {
  const clashes = { stations: [], kinds: KINDS, departments: [{ id: "sales", name: "Sales" }], setups: 1, people: 31 };
  const other = lens({ setup: "harbour", short: "Harbour control", name: "Harbour control" });
  return stage(
    <ClashesView />,
    {
      ...session(role ?? "editor"),
      "GET /api/lenses": [lens(), other],
      "GET /api/clashes": (url: URL) => ({
        ...clashes,
        packed: packed(url.searchParams.get("setup") === "harbour" ? (there ?? []) : groups),
      }),
      "GET /api/clashes/meant": { groups: meant },
      "GET /api/clashes/decided": { total: decided.length, page: 1, pages: 1, decided },
      "GET /api/clashes/Jump/ways": [],
      "POST /api/history/4/undo": { id: 5, title: "Undid: Moved Fold" },
      "POST /api/history/4/redo": { id: 6, title: "Did again: Moved Fold" },
      "POST /api/meanings": { id: 7, title: "Marked" },
      "POST /api/settlements": { id: 8, title: "Settled 2 clashes" },
      "POST /api/settlements/plan": {
        settled: [
          { identity: "Jump", way: "move:F9", says: "Moved Jump to F9", done: true },
          { identity: "Fold", way: "", says: "Fold: there is none", done: false },
        ],
        entries: 1,
        people: 31,
        solves: ["Jump"],
        makes: [],
        worth: { says: ["About 7 minutes a week saved."], weighed: [] },
      },
      "POST /api/allowances": { id: 9, title: "Allowed 2 clashes" },
    },
    address,
  );
}

describe("where presses stop", () => {
  it("counts groups, people and setups in words", async () => {
    show([group("Jump"), group("Fold")]);
    await screen.findByRole("list", { name: "Clashes" });
    expect(screen.getByRole("status").textContent).toBe("2 groups to decide, 31 people, 1 setup");
  });
  it("moves between rows with the arrows, one of them in the tab order", async () => {
    show([group("Jump"), group("Fold")]);
    const rows = await screen.findAllByRole("button", { name: /31 people/ });
    rows[0]?.focus();
    fireEvent.keyDown(rows[0] as HTMLElement, { key: "ArrowDown" });
    expect(document.activeElement).toBe(rows[1]);
    await waitFor(() => expect(rows.map((r) => r.tabIndex)).toEqual([-1, 0]));
    fireEvent.keyDown(rows[1] as HTMLElement, { key: "ArrowDown" });
    expect(document.activeElement).toBe(rows[1]);
  });
  it("opens the clash that the address names", async () => {
    show([group("Jump")], { address: "/?clash=Jump" });
    expect(await screen.findByText(/Jump never gets it\./)).toBeTruthy();
    expect(screen.getByRole("button", { name: /31 people/ }).getAttribute("aria-expanded")).toBe("true");
  });
  it("closes with Escape, and the row has the focus", async () => {
    show([group("Jump")], { address: "/?clash=Jump" });
    fireEvent.keyDown(await screen.findByText(/Jump never gets it\./), { key: "Escape" });
    await waitFor(() => expect(screen.queryByText(/Jump never gets it\./)).toBeNull());
    await waitFor(() => expect(document.activeElement?.getAttribute("data-row")).not.toBeNull());
  });
  it("says what to do when nothing is left, and when nothing is like that", async () => {
    show([]);
    expect(await screen.findByText(/Every press gets where it was meant to go/)).toBeTruthy();
    cleanup();
    show([group("Jump")], { address: "/?f.words=tide" });
    fireEvent.click(await screen.findByRole("button", { name: "Ask for less" }));
    expect(await screen.findByRole("list", { name: "Clashes" })).toBeTruthy();
  });
  it("keeps low ones out of sight until they are asked for", async () => {
    show([group("Jump"), group("Stretch", { severity: "low" })]);
    await screen.findByRole("list", { name: "Clashes" });
    expect(screen.getByRole("status").textContent).toBe("2 groups to decide, 31 people, 1 setup; 1 in sight");
    fireEvent.click(await screen.findByRole("button", { name: "low 1" }));
    expect(await screen.findByText("Stretch")).toBeTruthy();
  });
  it("keeps allowed clashes apart, with their reason", async () => {
    show([group("Jump", { allowed: { reason: "Nobody uses it", by: "Ines", until: "2027-01-01" } })], {
      address: "/?show=allowed&clash=Jump",
    });
    expect(await screen.findByText(/Allowed by Ines: Nobody uses it It comes back after 2027-01-01/)).toBeTruthy();
  });
  it("undoes a decision from the list, does one again, and says why one must stay", async () => {
    const stays = { ...decision, id: 9, title: "Moved Sort", why_not: "Jorun changed the same since." };
    const sent = show([], {
      decided: [decision, { ...decision, title: "Moved Sum", undone: true }, stays],
      address: "/?show=decided",
    });
    expect(await screen.findByText(/Can't be undone: Jorun changed the same since/)).toBeTruthy();
    expect((await screen.findByRole<HTMLButtonElement>("button", { name: "Undo: Moved Sort" })).disabled).toBe(true);
    fireEvent.click(await screen.findByRole("button", { name: "Undo: Moved Fold" }));
    expect(await screen.findByText("Undid: Moved Fold")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Do again: Moved Sum" }));
    expect(await screen.findByText("Did again: Moved Fold")).toBeTruthy();
    expect(sent.filter((s) => s.method === "POST").map((s) => s.path)).toEqual([
      "/api/history/4/undo",
      "/api/history/4/redo",
    ]);
  });
  it("shows what makers meant only where it is asked for, and lets it be doubted", async () => {
    const shadow = group("Hide", { kind: "shadow", may_be_meant: true });
    const sent = show([], { meant: [shadow], address: "/?show=meant&clash=Hide" });
    fireEvent.click(await screen.findByRole("button", { name: /Not meant: put it among/ }));
    await waitFor(() => expect(sent.find((s) => s.path === "/api/meanings")?.body).toMatchObject({ meant: false }));
  });
  it("marks what differs from the lens that it is held against, and shows that alone", async () => {
    show([group("Jump"), group("Fold")], {
      there: [group("Fold"), group("Sort", { seen_in: "harbour" })],
      address: "/?against=harbour",
    });
    const row = async (name: string) =>
      (await screen.findByText(name, { selector: "b" })).closest("li")?.textContent ?? "";
    expect(await row("Jump")).toContain("only here");
    expect(await row("Sort")).toContain("only Harbour control");
    expect(await row("Fold")).not.toContain("only");
    cleanup();
    show([group("Jump"), group("Fold")], { there: [group("Fold")], address: "/?against=harbour&differs=1" });
    expect(await screen.findByText("Jump", { selector: "b" })).toBeTruthy();
    await waitFor(() => expect(screen.queryByText("Fold", { selector: "b" })).toBeNull());
  });
});

describe("several clashes at once", () => {
  async function choose(role: "reader" | "editor" = "editor") {
    const sent = show([group("Jump"), group("Fold"), group("Sum")], { role });
    const rows = await screen.findAllByRole("button", { name: /31 people/ });
    rows[0]?.focus();
    fireEvent.keyDown(rows[0] as HTMLElement, { key: "ArrowDown", shiftKey: true });
    expect((await screen.findByText("2 clashes are chosen")).getAttribute("role")).toBe("status");
    return sent;
  }
  it("are settled as they were told", async () => {
    const sent = await choose();
    fireEvent.click(await screen.findByRole("button", { name: "Settle them" }));
    expect(await screen.findByText("Moved Jump to F9")).toBeTruthy();
    expect(screen.getByText("About 7 minutes a week saved.")).toBeTruthy();
    fireEvent.change(screen.getByLabelText("Why (kept with it)"), { target: { value: "Tidied" } });
    fireEvent.click(screen.getByRole("button", { name: "Settle this one" }));
    expect(await screen.findByText("Settled 2 clashes")).toBeTruthy();
    expect(sent.find((s) => s.path === "/api/settlements")?.body).toEqual({
      chosen: [
        { identity: "Jump", setup: "counters" },
        { identity: "Fold", setup: "counters" },
      ],
      ways: ["move:F9", ""],
      reason: "Tidied",
    });
  });
  it("are allowed with one reason", async () => {
    const sent = await choose();
    fireEvent.click(await screen.findByRole("button", { name: "Allow them" }));
    const allow = screen.getAllByRole<HTMLButtonElement>("button", { name: "Allow them" })[1];
    expect(allow?.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/Why they may stay/), { target: { value: "Until May" } });
    fireEvent.click(allow as HTMLElement);
    expect(await screen.findByText("Allowed 2 clashes")).toBeTruthy();
    expect(sent.find((s) => s.path === "/api/allowances")?.body).toMatchObject({ reason: "Until May", until: null });
  });
  it("are for readers to look at", async () => {
    await choose("reader");
    expect(screen.queryByRole("button", { name: "Settle them" })).toBeNull();
    expect(screen.getByText("Readers look; an editor decides.")).toBeTruthy();
  });
});
