import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { session, stage } from "../testing/stage";
import { ProfilesView } from "./ProfilesView";

const strait: Schemas["WaitingForReleaseOut"] = {
  key: "organisation/organisation",
  kind: "organisation",
  name: "Strait",
  newest: 3,
  released: null,
  notes: ["Added Ada", "Added a machine"],
};

function show(role: "editor" | "releaser") {
  return stage(<ProfilesView />, {
    ...session(role),
    "GET /api/profiles/named": [],
    "GET /api/releases": [
      strait,
      { ...strait, key: "tasks/tasks", kind: "tasks", name: "Tasks", released: 1, notes: [] },
    ],
    "POST /api/releases": { before: [] },
  });
}

describe("what waits for release", () => {
  it("is released where there is no profile yet, together", async () => {
    const sent = show("releaser");
    expect(await screen.findByText(/never released; since then: Added Ada and 1 more/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Release all 2" }));
    await waitFor(() => expect(sent.some((s) => JSON.stringify(s).includes("tasks/tasks"))).toBe(true));
  });
  it("is seen by editors, who don't release", async () => {
    show("editor");
    expect(await screen.findByText("Strait")).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Release/ })).toBeNull();
  });
});
