import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../testing/stage";
import { Approvals } from "./Approvals";
import type { Sensitive } from "./useApprovals";

const launcher: Sensitive = {
  id: "d1",
  kind: "launcher",
  key: "profile/house",
  says: "Open the log, in House, runs kept-log --open",
  content: "kept-log --open",
  written_by: "Jorun",
  written_at: "2026-11-24T10:00:00Z",
  mine: false,
  approved: false,
  approved_by: "",
  approved_at: null,
};
const path: Sensitive = {
  ...launcher,
  id: "d2",
  kind: "path",
  says: "The settings of Quaysheet are written to Quaysheet/settings.json, below the home on Windows",
  content: "Quaysheet/settings.json",
  approved: true,
  approved_by: "Arvid",
  approved_at: "2026-11-24T11:00:00Z",
};

function show(role: "editor" | "releaser", all: Sensitive[]) {
  return stage(<Approvals />, {
    ...session(role),
    "GET /api/approvals": all,
    "POST /api/approvals": all.map((s) => ({ ...s, approved: true, approved_by: "Ines" })),
    "POST /api/approvals/withdrawn": all.map((s) => ({ ...s, approved: false })),
  });
}

describe("what waits for a yes", () => {
  it("is told with its exact content and who wrote it, and gets its yes with undo", async () => {
    const sent = show("releaser", [launcher, path]);
    expect(await screen.findByText("kept-log --open")).toBeTruthy();
    expect(screen.getByText(/Jorun wrote it/)).toBeTruthy();
    fireEvent.click(await screen.findByRole("button", { name: /Say yes/ }));
    expect(await screen.findByText("Approved: it may go out now.")).toBeTruthy();
    expect(screen.queryByRole("heading", { name: "Waiting for a yes" })).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Undo this" }));
    await waitFor(() => expect(sent.some((s) => s.path === "/api/approvals/withdrawn")).toBe(true));
  });
  it("can't be approved by whoever wrote it, nor by editors", async () => {
    show("releaser", [{ ...launcher, mine: true }]);
    expect(await screen.findByText("You wrote it: somebody else has to look at it.")).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Say yes/ })).toBeNull();
  });
  it("is only looked at by editors", async () => {
    show("editor", [launcher, path]);
    expect(await screen.findByText("kept-log --open")).toBeTruthy();
    expect(screen.queryByRole("button")).toBeNull();
    expect(screen.getByText("One thing that runs or is written may go out")).toBeTruthy();
  });
  it("is nothing where nothing runs", async () => {
    const sent = show("releaser", []);
    await waitFor(() => expect(sent.some((s) => s.path === "/api/approvals")).toBe(true));
    expect(screen.queryByRole("region")).toBeNull();
  });
});
