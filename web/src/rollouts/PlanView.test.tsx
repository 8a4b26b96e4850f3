import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../testing/stage";
import { PlanView } from "./PlanView";
import type { Draft, Drawn } from "./useRollouts";
import { chosenBy, firstDraft, isWhole, newWave } from "./words";

const OFFERED = {
  documents: [{ key: "profile/house", name: "House", number: 7 }],
  departments: [{ id: "tickets", name: "Ticket counters" }],
  machines: [{ id: "c1", name: "Counter 1" }],
};

function drawn(parts: Partial<Drawn> = {}): Drawn {
  return {
    title: "House, revision 7",
    machines: 12,
    people: 40,
    waves: [{ name: "Pilot", machines: [{ id: "c1", name: "Counter 1" }], many: 1, people: 3 }],
    not_in_a_wave: 0,
    learners: 3,
    relearned: [{ program: "Quaysheet", command: "Find", before: "F5", after: "F6", people: 3 }],
    cannot: [
      { machine: "Gate 1", why: "It has no agent." },
      { machine: "Gate 2", why: "It has no agent." },
    ],
    closes: [{ program: "Boardwright", machines: 4 }],
    ...parts,
  };
}

function show(more = {}) {
  return stage(<PlanView />, {
    ...session("releaser"),
    "GET /api/rollouts/offered": OFFERED,
    "POST /api/rollouts/draw": drawn(),
    ...more,
  });
}

describe("planning a release", () => {
  it("tells what it would do before it begins", async () => {
    show();
    const would = await screen.findByRole("region", { name: "What it would do" });
    await within(would).findByText(/reaches 12 machines/);
    expect(would.textContent).toContain("Find in Quaysheet: F5 becomes F6 3 people");
    expect(would.textContent).toContain("It has no agent. Gate 1; Gate 2");
    expect(would.textContent).toContain("Boardwright on 4 machines");
  });
  it("begins what was drawn", async () => {
    const sent = show({
      "POST /api/rollouts": [409, { title: "Ines has begun this release already.", detail: "", cure: "" }],
    });
    fireEvent.mouseDown(await screen.findByLabelText("What goes out"));
    fireEvent.click(await screen.findByRole("option", { name: "House, revision 7" }));
    fireEvent.click(screen.getByRole("button", { name: /Take the wave out.*A tenth/ }));
    fireEvent.click(screen.getByRole("button", { name: "Begin the release" }));
    await waitFor(() => expect(sent.find((s) => s.path === "/api/rollouts")).toBeTruthy());
    const draft = sent.find((s) => s.path === "/api/rollouts")?.body as Draft;
    expect(draft.of).toEqual(["profile/house"]);
    expect(draft.plan.waves.map((w) => w.chosen.by)).toEqual(["setups", "rest"]);
    expect(await screen.findByText("Ines has begun this release already.")).toBeTruthy();
  });
  it("says why a plan makes no sense where it would tell what it does", async () => {
    show({
      "POST /api/rollouts/draw": [409, { title: "This release reaches nobody.", detail: "No agent.", cure: "Enrol." }],
    });
    expect((await screen.findByRole("alert")).textContent).toContain("This release reaches nobody.");
  });
  it("asks nothing while a wave doesn't say who is in it", () => {
    const draft = firstDraft();
    expect(isWhole(draft)).toBe(true);
    const [first] = draft.plan.waves;
    if (!first) throw new Error("no wave");
    for (const [by, whole] of [
      ["machines", false],
      ["department", true],
      ["share", true],
      ["rest", true],
    ] as const) {
      const wave = chosenBy(first, by, OFFERED.departments);
      expect(isWhole({ ...draft, plan: { ...draft.plan, waves: [wave] } })).toBe(whole);
    }
    expect(isWhole({ ...draft, plan: { ...draft.plan, waves: [newWave(" ")] } })).toBe(false);
  });
});
