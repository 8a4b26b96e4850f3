import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { stage } from "../testing/stage";
import { Space, sizeOf } from "./Space";

const plan = (parts = {}) => ({
  count: 50,
  drop: 20,
  freed: 120_000,
  left: 2_400_000,
  must: 900_000,
  over: 0,
  documents: [{ document: "profile/house", count: 20, oldest: 1, newest: 31 }],
  ...parts,
});
const space = { revisions: 50, bytes: 2_520_000, one: 50_400, last: null };

describe("the space that revisions take", () => {
  it("is told, with what a rule would drop before it is done", async () => {
    const sent = stage(<Space />, {
      "GET /api/space": space,
      "POST /api/space/plan": plan(),
      "POST /api/space/thin": { id: "x", state: "waiting", dropped: 0, freed: 0, at: "2026-11-28T08:00:00Z", says: "" },
    });
    expect(await screen.findByText(/50 revisions take 2\.5 MB, 50 kB each\./)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Thin them out" }));
    expect(await screen.findByText(/20 of 50 would go for good and free 120 kB; 2\.4 MB stay\./)).toBeTruthy();
    fireEvent.change(screen.getByLabelText("In all at most MB"), { target: { value: "1.5" } });
    fireEvent.click(screen.getByLabelText("then one a week"));
    await waitFor(() =>
      expect(sent.filter((s) => s.path === "/api/space/plan").at(-1)?.body).toEqual({
        all_days: 7,
        daily_days: 91,
        weekly: false,
        budget: 1_500_000,
      }),
    );
    fireEvent.click(await screen.findByRole("button", { name: "Drop 20 for good" }));
    await waitFor(() => expect(sent.some((s) => s.path === "/api/space/thin")).toBe(true));
  });

  it("can't be thinned below what must stay, nor by what is no number", async () => {
    stage(<Space />, { "GET /api/space": space, "POST /api/space/plan": plan({ over: 5_000 }) });
    fireEvent.click(await screen.findByRole("button", { name: "Thin them out" }));
    expect(await screen.findByText(/alone take 900 kB: more than that/)).toBeTruthy();
    expect((screen.getByRole("button", { name: "Drop 20 for good" }) as HTMLButtonElement).disabled).toBe(true);
    fireEvent.change(screen.getByLabelText("All stay for days"), { target: { value: "-3" } });
    expect(screen.getByRole("alert").textContent).toContain("numbers from 0 on");
  });

  it("is told in kB and MB", () => {
    expect([0, 1, 1_499, 999_000, 1_000_000].map(sizeOf)).toEqual(["0 kB", "1 kB", "1 kB", "999 kB", "1.0 MB"]);
  });
});
