import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../../testing/stage";
import type { Assumed } from "./useWorth";
import { WorthView } from "./WorthView";

const usual: Assumed = {
  ...{ keystroke_ms: 280, pointing_ms: 1100, button_ms: 200, homing_ms: 400, thought_ms: 1350, reach_ms: 10 },
  ...{ weekly: 5, share: 50, shares: {}, slips: 30, halves_after: 2, weeks: 13, notice_ms: 1500, risky: 3 },
};
const found = { assumed: { ...usual, keystroke_ms: 200 }, usual, roles: [{ id: "pilot", name: "Pilots" }] };

describe("what is assumed", () => {
  it("says where each figure comes from and what is said otherwise here", async () => {
    stage(<WorthView />, { ...session("reader"), "GET /api/organisation/worth": found });
    await screen.findByText("here; usually 280 (Card, Moran and Newell, 1980)");
    expect(screen.queryByRole("button", { name: "Assume this" })).toBe(null);
    expect((screen.getByLabelText("A moment of thought") as HTMLInputElement).disabled).toBe(true);
  });

  it("is changed as one, shares of roles too, and what is no number is not sent", async () => {
    const sent = stage(<WorthView />, {
      ...{ ...session("editor"), "GET /api/organisation/worth": found },
      "PUT /api/organisation/worth": { id: 4, title: "Changed what is assumed" },
    });
    const assume = (await screen.findByRole("button", { name: "Assume this" })) as HTMLButtonElement;
    expect(assume.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText("Pilots who use a key"), { target: { value: "many" } });
    expect(assume.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText("Pilots who use a key"), { target: { value: "80" } });
    fireEvent.click(assume);
    await waitFor(() => expect(sent.some((s) => s.method === "PUT")).toBe(true));
    expect(sent.find((s) => s.method === "PUT")?.body).toEqual({
      ...usual,
      ...{ keystroke_ms: 200, shares: { pilot: 80 } },
    });
  });

  it("goes back to the usual figures", async () => {
    const sent = stage(<WorthView />, {
      ...{ ...session("editor"), "GET /api/organisation/worth": found },
      "PUT /api/organisation/worth": [400, { title: "It can't be.", status: 400 }],
    });
    fireEvent.click(await screen.findByRole("button", { name: "As usual again" }));
    await screen.findByText("It can't be.");
    expect(sent.find((s) => s.method === "PUT")?.body).toEqual(usual);
  });
});
