import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../testing/stage";
import { agreement, BeginStandard } from "./BeginStandard";

const covered = (agree: number, could: number) => ({ agree, could, people_agree: agree, people_could: could });
const ways = [
  { way: "presses" as const, lines: 9, tasks: 9, covered: covered(8, 9) },
  { way: "usual" as const, lines: 83, tasks: 83, covered: covered(9, 9) },
  { way: "empty" as const, lines: 0, tasks: 0, covered: covered(0, 0) },
];

describe("beginning a standard", () => {
  it("tells the agreement of each way, and the best has the focus", async () => {
    const sent = stage(<BeginStandard />, {
      ...session("editor"),
      "GET /api/standard/beginnings": { begun: false, tasks: 179, ways },
      "POST /api/standard/beginnings": { id: 1, title: "Began" },
    });
    const best = await screen.findByRole("button", { name: /usual keys/ });
    expect(document.activeElement).toBe(best);
    expect(screen.getByText("agrees with 89 % of what is pressed today (8 of 9)")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: /most people press/ }));
    await waitFor(() => expect(sent.find((s) => s.method === "POST")?.body).toEqual({ way: "presses" }));
  });

  it("says so where nobody could follow it yet", () => {
    expect(agreement({ way: "empty", lines: 0, tasks: 0, covered: covered(0, 0) })).toBe(
      "nobody has a program that could follow it yet",
    );
  });
});
