import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../testing/stage";
import { DriftView } from "./DriftView";
import type { Drift } from "./useRollouts";

function drift(parts: Partial<Drift> = {}): Drift {
  return {
    id: "d1",
    program: "Quaysheet",
    command: "insert-row",
    name: "Insert a row",
    has: ["Ctrl F3"],
    wanted: null,
    machines: [{ machine: "c5", name: "Counter 5", whose: "", seen: "2026-10-01" }],
    takeable: true,
    proposed: "counters",
    layers: [{ profile: "counters", name: "Ticket counters", having: 3, seen: 4 }],
    reason: "",
    until: null,
    by: "",
    ...parts,
  };
}

function show(waiting: Drift[], left: Drift[] = [], more = {}, role: "editor" | "reader" = "editor") {
  return stage(<DriftView />, { ...session(role), "GET /api/drift": { waiting, left }, ...more });
}

describe("what people changed", () => {
  it("is taken into the profile that is proposed", async () => {
    const sent = show([drift()], [], { "POST /api/drift/take": { id: 4, title: "Took 1 own change from machines" } });
    expect((await screen.findByRole("listitem")).textContent).toContain(
      "Insert a row in Quaysheet is on Ctrl F3; the program's default is wanted.Counter 5, 1 October",
    );
    fireEvent.click(screen.getByRole("button", { name: "Take it into the profile" }));
    await waitFor(() => expect(sent.find((s) => s.method === "POST")?.body).toEqual({ into: { d1: "counters" } }));
    expect(await screen.findByText("Took 1 own change from machines")).toBeTruthy();
  });
  it("is left with a reason and an end, and not without", async () => {
    const left = drift({ reason: "They need it.", until: "2026-12-01", by: "Jorun" });
    const sent = show([drift()], [], { "POST /api/drift/d1/leave": { waiting: [], left: [left] } });
    fireEvent.click(await screen.findByRole("button", { name: "Leave it, with a reason" }));
    const button = () => screen.getByRole("button", { name: "Leave it until then" }) as HTMLButtonElement;
    expect(button().disabled).toBe(true);
    fireEvent.change(screen.getByLabelText("Why it stays"), { target: { value: "They need it." } });
    fireEvent.change(screen.getByLabelText("Until"), { target: { value: "2026-12-01" } });
    fireEvent.click(button());
    expect(await screen.findByText(/stays on Ctrl F3/)).toBeTruthy();
    expect(sent.find((s) => s.method === "POST")?.body).toEqual({ reason: "They need it.", until: "2026-12-01" });
  });
  it("that was left is looked at again", async () => {
    show([], [drift({ reason: "x", until: "2026-12-01", by: "Jorun" })], {
      "POST /api/drift/d1/again": { waiting: [drift()], left: [] },
    });
    fireEvent.click(await screen.findByRole("button", { name: "Look at it again" }));
    expect(await screen.findByRole("button", { name: "Take it into the profile" })).toBeTruthy();
  });
  it("cannot be taken where nobody sits, and says when there is none", async () => {
    show([drift({ takeable: false, machines: [] })]);
    expect(await screen.findByRole("button", { name: "Leave it, with a reason" })).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Take it into the profile" })).toBeNull();
  });
  it("is not for readers", async () => {
    show([], [], {}, "reader");
    expect(await screen.findByText("What people changed on their machines is for editors.")).toBeTruthy();
  });
});
