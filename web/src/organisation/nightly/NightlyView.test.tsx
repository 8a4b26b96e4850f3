import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../../testing/stage";
import { NightlyView } from "./NightlyView";
import type { Sender, Sent } from "./useNightly";

const sent: Sent = {
  id: "s1",
  sender: "HR",
  kind: "people",
  at: "2026-11-29T02:00:00Z",
  name: "people.csv",
  state: "waiting",
  says: "1 row breaks a rule.",
  told: ["Adds 2 people."],
  list: "l1",
  rows: 20,
  bad: 1,
  change: null,
  decided_by: "",
};
const hr: Sender = {
  id: "h1",
  name: "HR",
  kind: "people",
  program: "",
  program_name: "",
  made_by: "Arvid",
  at: "2026-11-20T08:00:00Z",
  revoked_at: null,
  headings: { Personalnummer: "id", Name: "name" },
  waiting: 1,
  newest: sent,
  states: ["taken", "same", "waiting"],
};

describe("nightly lists", () => {
  it("says what waits and why, and takes the good rows at a yes", async () => {
    const calls = stage(<NightlyView />, {
      ...session("editor"),
      "GET /api/nightly": [hr],
      "POST /api/nightly/lists/s1/yes": { ...sent, state: "working" },
    });
    expect(await screen.findByText("One waits for your yes.")).toBeTruthy();
    const waiting = within(screen.getByRole("region", { name: "Waiting list of HR" }));
    expect(waiting.getByText(/1 row breaks a rule/)).toBeTruthy();
    fireEvent.click(waiting.getByRole("button", { name: "Yes, take the 19 good rows" }));
    await waitFor(() => expect(calls.some((c) => c.path.endsWith("/yes"))).toBe(true));
    expect(screen.queryByRole("button", { name: /Revoke/ })).toBeNull();
    expect(screen.getByRole("img").getAttribute("aria-label")).toBe(
      "The last ones: 1 taken, 1 with nothing new, 1 waiting",
    );
  });

  it("shows a token once, with the line that sends", async () => {
    const calls = stage(<NightlyView />, {
      ...session("administrator"),
      "GET /api/nightly": [],
      "GET /api/organisation": { programs: [] },
      "POST /api/nightly": { sender: { ...hr, newest: null, states: [] }, token: "t0ken" },
    });
    expect(await screen.findByText("No system sends lists yet.")).toBeTruthy();
    fireEvent.change(screen.getByLabelText(/What sends it/), { target: { value: " HR " } });
    fireEvent.click(screen.getByRole("button", { name: "Make a token" }));
    expect(await screen.findByText("t0ken")).toBeTruthy();
    expect(screen.getByText(/amberkey send people FILE --server/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "It is kept" }));
    expect(screen.queryByText("t0ken")).toBeNull();
    expect(calls.find((c) => c.method === "POST")?.body).toEqual({
      name: "HR",
      kind: "people",
      program: "",
      platforms: [],
    });
  });

  it("lists what came, and takes a list back", async () => {
    const taken: Sent = { ...sent, state: "taken", says: "", change: 9, decided_by: "Jorun" };
    const calls = stage(<NightlyView />, {
      ...session("editor"),
      "GET /api/nightly": [{ ...hr, waiting: 0, newest: taken }],
      "GET /api/nightly/h1/sent": { total: 1, rows: [taken] },
      "POST /api/history/9/undo": { id: 10, title: "Undid it" },
    });
    fireEvent.click(await screen.findByRole("button", { name: "What came" }));
    expect(await screen.findByText(/Personalnummer as id, Name as name/)).toBeTruthy();
    expect(await screen.findByText(/taken, by Jorun/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Take it back" }));
    await waitFor(() => expect(calls.some((c) => c.path === "/api/history/9/undo")).toBe(true));
  });
});
