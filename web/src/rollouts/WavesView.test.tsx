import { fireEvent, screen, waitFor } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import { session, stage } from "../testing/stage";
import type { Release } from "./useRollouts";
import { WavesView } from "./WavesView";
import { firstDraft } from "./words";

const RELEASE = {
  id: "r1",
  number: 4,
  title: "House, revision 7",
  of: [],
  by: "Ines",
  at: "2026-10-01T09:00:00Z",
  state: "running",
  says: "",
  ended_at: null,
  machines: 2,
  in_step: 1,
  stopped: 0,
  to_come: 1,
  written: 1,
  waves: [],
  newcomers: null,
  stops: [],
  plan: firstDraft().plan,
  seen: "0",
} satisfies Release;

const DRAWN = {
  waves: [
    { name: "Pilot", machines: [], many: 1, people: 2 },
    { name: "Everybody else", machines: [], many: 3, people: 9 },
  ],
  ...{ sooner: 2, later: 0, not_in_a_wave: 1, no_more: 1 },
};

function show(release: Release, more = {}) {
  const view = (
    <Routes>
      <Route path="/machines/releases/:id/waves" element={<WavesView />} />
      <Route path="/machines/releases/:id" element={<h1>The release itself</h1>} />
    </Routes>
  );
  const answers = {
    ...session("releaser"),
    "GET /api/rollouts/r1": release,
    "GET /api/rollouts/offered": { documents: [], departments: [], machines: [] },
    "POST /api/rollouts/r1/waves/draw": DRAWN,
    ...more,
  };
  return stage(view, answers, "/machines/releases/r1/waves");
}

describe("the waves of a release under way", () => {
  it("can be changed where they aren't open, and what was seen goes along", async () => {
    const sent = show(RELEASE, { "POST /api/rollouts/r1/waves": RELEASE });
    expect((await screen.findByText(/is open\./)).textContent).toBe("Wave 1, Pilot, is open.");
    fireEvent.click(screen.getByRole("button", { name: /Take the wave out.*A tenth/ }));
    fireEvent.click(screen.getByRole("button", { name: "Change the waves" }));
    expect(await screen.findByText("The release itself")).toBeTruthy();
    const body = sent.find((s) => s.path === "/api/rollouts/r1/waves")?.body as { plan: Release["plan"]; seen: string };
    expect(body.seen).toBe("0");
    expect(body.plan.waves.map((w) => w.name)).toEqual(["Pilot", "Everybody else"]);
  });
  it("tell what a change comes to before it is made", async () => {
    show(RELEASE);
    const told = await screen.findByRole("region", { name: "What it comes to" });
    expect(told.textContent).toBe(
      "It puts 2 machines sooner, 1 machine in no wave any more. 1 machine would be in no wave. " +
        "Pilot: 1 machine; Everybody else: 3 machines.",
    );
  });
  it("stay where one was opened meanwhile", async () => {
    show(RELEASE, {
      "POST /api/rollouts/r1/waves": [409, { title: "A wave was opened meanwhile.", detail: "", cure: "" }],
    });
    fireEvent.click(await screen.findByRole("button", { name: "Change the waves" }));
    expect(await screen.findByText("A wave was opened meanwhile.")).toBeTruthy();
    await waitFor(() => expect(screen.queryByText("The release itself")).toBeNull());
  });
  it("of a release that is done are not for changing", async () => {
    show({ ...RELEASE, state: "done" });
    expect(await screen.findByText("These waves can't be changed.")).toBeTruthy();
  });
});
