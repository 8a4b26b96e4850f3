import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../../testing/stage";
import { EnrolManyView } from "./EnrolManyView";
import type { EnrolKey } from "./useEnrolling";

function made(parts: Partial<EnrolKey> = {}): EnrolKey {
  return {
    id: 7,
    note: "Ebb Island",
    made_by: "Ines",
    made_at: "2026-10-01T08:00:00Z",
    expires_at: "2026-10-15T08:00:00Z",
    limit: 25,
    used: 3,
    state: "works",
    ...parts,
  };
}

function show(keys: EnrolKey[], role: "editor" | "releaser" = "releaser") {
  return stage(<EnrolManyView />, {
    ...session(role),
    "GET /api/enrolment-keys": keys,
    "POST /api/enrolment-keys": { key: "shown-once", fingerprint: "ab12 cd34", made: made() },
    "GET /api/agents/package": { made_for: "linux-x86_64, Python 3.11", digest: "d".repeat(64), size: 3_000_000 },
    "POST /api/enrolment-keys/7": made({ state: "withdrawn" }),
  });
}

describe("keys for many machines", () => {
  it("are made for some machines and days, and shown once", async () => {
    const sent = show([]);
    fireEvent.change(await screen.findByLabelText("machines"), { target: { value: "40" } });
    fireEvent.change(screen.getByLabelText("What it is for"), { target: { value: "Gates" } });
    fireEvent.click(screen.getByRole("button", { name: "Make the key" }));
    expect(await screen.findByText("shown-once")).toBeTruthy();
    expect(screen.getByText("ab12 cd34")).toBeTruthy();
    expect(await screen.findByText("d".repeat(64))).toBeTruthy();
    expect(screen.getByRole("link", { name: "The agent" }).getAttribute("href")).toBe("/api/agents/package.zip");
    expect(sent.find((s) => s.method === "POST")?.body).toEqual({ note: "Gates", limit: 40, days: 14 });
  });
  it.each(["", "0", "-3", "2.5", "many"])("are not made for %j machines", async (limit) => {
    show([]);
    fireEvent.change(await screen.findByLabelText("machines"), { target: { value: limit } });
    expect((screen.getByRole("button", { name: "Make the key" }) as HTMLButtonElement).disabled).toBe(true);
  });
  it("say how far they are, and why one works no more", async () => {
    show([made(), made({ id: 8, state: "used up", used: 25 }), made({ id: 9, note: "", state: "too old" })]);
    const rows = await screen.findAllByRole("listitem");
    expect(rows.map((r) => r.textContent)).toEqual([
      expect.stringMatching(/Ebb Island3 of 25 machinesworks until 15 October/),
      expect.stringMatching(/25 of 25 machinesused up/),
      expect.stringMatching(/Key of 1 October.*ended 15 October/),
    ]);
    expect(screen.getAllByRole("button", { name: "Withdraw it" })).toHaveLength(1);
  });
  it("are withdrawn, and that can be undone", async () => {
    const sent = show([made()]);
    fireEvent.click(await screen.findByRole("button", { name: "Withdraw it" }));
    expect(await screen.findByText("The key enrols nobody any more.")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Undo this" }));
    await waitFor(() =>
      expect(sent.filter((s) => s.method === "POST").map((s) => s.body)).toEqual([{ back: false }, { back: true }]),
    );
  });
  it("are a releaser's", async () => {
    show([], "editor");
    expect(await screen.findByText("A releaser makes keys for enrolling machines.")).toBeTruthy();
  });
});
