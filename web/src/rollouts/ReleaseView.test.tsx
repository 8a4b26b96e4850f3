import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import { session, stage } from "../testing/stage";
import { ReleaseView } from "./ReleaseView";
import type { Release, Stop, Wave } from "./useRollouts";
import { firstDraft } from "./words";

const MACHINES = ["Counter 1", "Counter 2", "Counter 3"].map((name) => ({ id: name.replace(" ", "-"), name }));

function wave(name: string, parts: Partial<Wave> = {}): Wave {
  const all = [{ state: "in step", machines: MACHINES }] satisfies Wave["parts"];
  const rest = { opened: "2026-10-01T09:12:00Z", gate: "", opens_at: null, many: 3, people: 9, done: 3 };
  return { name, ...rest, parts: all, ...parts };
}

function stop(state: Stop["state"], parts: Partial<Stop> = {}): Stop {
  const file = { program: "q", path: "q.json", state, says: "It is read-only.", tries: 3, again_at: null };
  return { id: "c6", name: "Counter 6", state, heard_at: "2026-10-01T08:40:00Z", files: [file], ...parts };
}

function release(parts: Partial<Release> = {}): Release {
  return {
    id: "r1",
    number: 4,
    title: "Ticket counters, revision 47",
    of: ["profile/counters"],
    by: "Ines",
    at: "2026-10-01T09:00:00Z",
    state: "running",
    says: "",
    ended_at: null,
    machines: 22,
    in_step: 8,
    stopped: 1,
    to_come: 13,
    written: 8,
    waves: [wave("Pilot"), wave("Westquay", { opened: null, gate: "Shut while it is so", parts: [] })],
    newcomers: null,
    stops: [],
    plan: firstDraft().plan,
    seen: "0",
    ...parts,
  };
}

function show(role: "reader" | "releaser", shown: Release, more = {}) {
  const view = (
    <Routes>
      <Route path="/machines/releases/:id" element={<ReleaseView />} />
    </Routes>
  );
  const answers = { ...session(role), "GET /api/rollouts/r1": shown, ...more };
  return stage(view, answers, "/machines/releases/r1");
}

describe("a release", () => {
  it("shows its waves with their machines, and what keeps one shut", async () => {
    show("releaser", release());
    const waves = await screen.findByRole("list", { name: "Waves" });
    expect(within(waves).getByText("Shut while it is so")).toBeTruthy();
    const pilot = within(waves).getByRole("listitem", { name: "Pilot" });
    expect(pilot.textContent).toContain("3 machines, 9 people");
    expect(pilot.textContent).toContain("in step: Counter 1; Counter 2; Counter 3.");
    expect(screen.getByRole("status").textContent).toContain("8 in step, 1 stopped, 13 to come");
  });
  it("counts the machines of a large wave instead of drawing each", async () => {
    const many = Array.from({ length: 300 }, (_, n) => ({ id: `m${n}`, name: `Machine ${n}` }));
    const parts = [{ state: "to come", machines: many }] satisfies Wave["parts"];
    show("releaser", release({ waves: [wave("All", { many: 300, done: 0, parts })] }));
    const all = await screen.findByRole("listitem", { name: "All" });
    expect(within(all).getByText("300")).toBeTruthy();
    expect(within(all).queryByTitle("Machine 1: to come")).toBeNull();
  });
  it("goes on without a machine where it stops", async () => {
    const sent = show("releaser", release({ stops: [stop("stopped")] }), {
      "POST /api/rollouts/r1/machines/c6/without": release({ stops: [] }),
    });
    expect(await screen.findByText("It is read-only.")).toBeTruthy();
    expect(screen.getByText(/tried 3 times/)).toBeTruthy();
    fireEvent.click(await screen.findByRole("button", { name: "Go on without it: Counter 6" }));
    await waitFor(() => expect(screen.queryByText("It is read-only.")).toBeNull());
    expect(sent.some((s) => s.method === "POST")).toBe(true);
  });
  it("leads from somebody's own change to where it is decided", async () => {
    show("releaser", release({ stops: [stop("own change"), stop("silent", { id: "g2", name: "Gate 2" })] }));
    const link = await screen.findByRole("link", { name: /Take it into a profile, or leave it: Counter 6/ });
    expect(link.getAttribute("href")).toBe("/machines/drift");
    expect(screen.getByText(/has been silent since 1 October/)).toBeTruthy();
  });
  it("is taken back only after it was said what that does", async () => {
    const sent = show("releaser", release(), {
      "POST /api/rollouts/r1/take-back": release({ state: "going back" }),
    });
    fireEvent.click(await screen.findByRole("button", { name: "Take it back everywhere" }));
    expect(screen.getByRole("dialog").textContent).toContain("On 8 machines our keys become what they were");
    fireEvent.click(screen.getByRole("button", { name: "Leave it as it is" }));
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    expect(sent.filter((s) => s.method === "POST")).toEqual([]);
    fireEvent.click(screen.getByRole("button", { name: "Take it back everywhere" }));
    fireEvent.click(screen.getByRole("button", { name: "Take it back" }));
    expect(await screen.findByText("going back")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Pause" })).toBeNull();
  });
  it("is taken back on one machine alone", async () => {
    const sent = show("releaser", release(), {
      "POST /api/rollouts/r1/machines/Counter-2/take-back": release({ in_step: 7 }),
    });
    const button = (await screen.findByRole("button", { name: "Take it back there" })) as HTMLButtonElement;
    expect(button.disabled).toBe(true);
    fireEvent.mouseDown(screen.getByLabelText("On one machine"));
    fireEvent.click(await screen.findByRole("option", { name: "Counter 2" }));
    fireEvent.click(button);
    await waitFor(() => expect(sent.some((s) => s.path.endsWith("/Counter-2/take-back"))).toBe(true));
    await waitFor(() => expect(screen.getByRole("status").textContent).toContain("7 in step"));
  });
  it("takes a machine in again that was left out", async () => {
    const parts = [{ state: "left out", machines: MACHINES.slice(0, 1) }] satisfies Wave["parts"];
    const sent = show("releaser", release({ waves: [wave("Pilot", { parts })] }), {
      "POST /api/rollouts/r1/machines/Counter-1/try-again": release(),
    });
    fireEvent.mouseDown(await screen.findByLabelText("Left out"));
    fireEvent.click(await screen.findByRole("option", { name: "Counter 1" }));
    fireEvent.click(screen.getByRole("button", { name: "Take it in again" }));
    await waitFor(() => expect(sent.some((s) => s.path.endsWith("/Counter-1/try-again"))).toBe(true));
  });
  it("pauses and goes on", async () => {
    show("releaser", release(), {
      "POST /api/rollouts/r1/pause": release({ state: "paused", says: "Ines paused it." }),
    });
    fireEvent.click(await screen.findByRole("button", { name: "Pause" }));
    expect(await screen.findByRole("button", { name: "Go on" })).toBeTruthy();
    expect(screen.getByText(/Ines paused it/)).toBeTruthy();
  });
  it("is looked at by readers and steered by none of them", async () => {
    show("reader", release({ stops: [stop("stopped"), stop("own change", { id: "c5", name: "Counter 5" })] }));
    expect(await screen.findAllByText("It is read-only.")).toHaveLength(2);
    expect(screen.queryAllByRole("button")).toEqual([]);
    expect(screen.queryByRole("link", { name: /Take it into/ })).toBeNull();
  });
});
