import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { lens, session, shortcut, stage } from "../testing/stage";
import { ClashesView } from "./ClashesView";
import type { Group } from "./useClashes";

function group(name: string, parts: Partial<Group> = {}): Group {
  const subject = {
    program: "quaysheet",
    program_name: "Quaysheet",
    command: name,
    command_name: name,
    scope: "sheet",
    scope_name: "Sheet",
    shortcut: shortcut("Meta+L"),
  };
  return {
    identity: name,
    seen_in: "counters",
    kind: "system_fixed",
    severity: "blocker",
    says: `${name} never gets it.`,
    subject,
    holder: null,
    stroke: null,
    text: "",
    taken_at: "system_fixed",
    taken_says: "locks the screen",
    meant_for: "program",
    meant_says: "Quaysheet",
    setups: ["Ticket counters"],
    setup_ids: ["counters"],
    departments: [],
    strokes: [],
    new: false,
    may_be_meant: false,
    meaning: null,
    people: 31,
    allowed: null,
    ...parts,
  };
}
const decision = { id: 4, title: "Moved Fold", by: "Ines", at: "2026-11-24T08:00:00Z", undone: false };

function show(groups: Group[], decided = [decision], address = "/") {
  const clashes = { stations: [], groups, setups: 1, people: 31, decided };
  return stage(
    <ClashesView />,
    {
      ...session("editor"),
      "GET /api/lenses": [lens()],
      "GET /api/clashes": clashes,
      "GET /api/clashes/Jump/ways": [],
      "POST /api/history/4/undo": { id: 5, title: "Undid: Moved Fold" },
      "POST /api/history/4/redo": { id: 6, title: "Did again: Moved Fold" },
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
    show([group("Jump")], [], "/?clash=Jump");
    expect(await screen.findByText(/Jump never gets it\./)).toBeTruthy();
    expect(screen.getByRole("button", { name: /31 people/ }).getAttribute("aria-expanded")).toBe("true");
  });
  it("says what to do when nothing is left", async () => {
    show([]);
    expect(await screen.findByText(/Every press gets where it was meant to go/)).toBeTruthy();
  });
  it("keeps allowed clashes apart, with their reason", async () => {
    show(
      [group("Jump", { allowed: { reason: "Nobody uses it", by: "Ines", until: "2027-01-01" } })],
      [],
      "/?show=allowed&clash=Jump",
    );
    expect(await screen.findByText(/Allowed by Ines: Nobody uses it It comes back after 2027-01-01/)).toBeTruthy();
  });
  it("undoes a decision from the list, and does it again", async () => {
    const sent = show([], [decision, { ...decision, title: "Moved Sum", undone: true }], "/?show=decided");
    fireEvent.click(await screen.findByRole("button", { name: "Undo: Moved Fold" }));
    expect(await screen.findByText("Undid: Moved Fold")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Do again: Moved Sum" }));
    expect(await screen.findByText("Did again: Moved Fold")).toBeTruthy();
    expect(sent.filter((s) => s.method === "POST").map((s) => s.path)).toEqual([
      "/api/history/4/undo",
      "/api/history/4/redo",
    ]);
  });
});
