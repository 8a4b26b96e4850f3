import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Sent } from "../testing/stage";
import { session, stage } from "../testing/stage";
import { LineView } from "./LineView";
import type { RevisionLine } from "./useComparing";

function revision(number: number, parts: Partial<RevisionLine> = {}): RevisionLine {
  return {
    number,
    digest: `d${number}`,
    by: "Ines",
    at: "2026-11-20T08:00:00Z",
    note: "",
    name: "",
    released: false,
    newest: false,
    change: number,
    settled: 0,
    undone: false,
    ...parts,
  };
}

const LINE = "GET /api/documents/profile/house/revisions";
const three = [
  revision(3, { newest: true, by: "Jorun", note: "Moved find" }),
  revision(2, { name: "Summer", settled: 2 }),
  revision(1, { released: true }),
];

function show(
  revisions: RevisionLine[],
  role: "reader" | "editor" = "editor",
  more: Record<string, unknown> = {},
): Sent[] {
  return stage(
    <LineView />,
    {
      [LINE]: { key: "profile/house", name: "House", newest: "d3", revisions },
      "GET /api/documents/profile/house/words": (at: URL) =>
        (at.searchParams.get("numbers") ?? "")
          .split(",")
          .map((n) => ({ number: Number(n), says: [`Says ${n}.`], count: 2 })),
      ...session(role),
      ...more,
    },
    "/profiles/history?of=profile/house",
  );
}

const rows = () => within(screen.getByRole("list", { name: "Revisions" })).getAllByRole("listitem");

describe("the line of revisions", () => {
  it("tells each with its words, who made it and what it is now", async () => {
    show(three);
    expect(await screen.findByText("Says 3. And 1 more.")).toBeTruthy();
    expect(rows().map((r) => r.textContent)).toEqual([
      expect.stringContaining("3here now"),
      expect.stringContaining("2, Summer"),
      expect.stringContaining("1released"),
    ]);
    expect(screen.getByText("decided 2 clashes")).toBeTruthy();
    expect(screen.getByText("The first one, with 2 things in it.")).toBeTruthy();
  });

  it("is narrowed by words, by who and by what they are", async () => {
    show(three);
    await screen.findByText("Says 3. And 1 more.");
    fireEvent.change(screen.getByLabelText("Words"), { target: { value: "summ" } });
    expect(rows()).toHaveLength(1);
    fireEvent.change(screen.getByLabelText("Words"), { target: { value: "" } });
    fireEvent.mouseDown(screen.getByRole("combobox", { name: "By" }));
    fireEvent.click(screen.getByRole("option", { name: "Jorun" }));
    expect(rows()[0]?.textContent).toContain("Moved find");
    expect(rows()).toHaveLength(1);
    fireEvent.mouseDown(screen.getByRole("combobox", { name: "Which" }));
    fireEvent.click(screen.getByRole("option", { name: "named ones" }));
    expect(screen.getByText("No revision is like that.")).toBeTruthy();
  });

  it("asks words for what is drawn only, and draws older ones when asked", async () => {
    const many = Array.from({ length: 100 }, (_, n) => revision(100 - n, { newest: n === 0 }));
    const sent = show(many);
    await screen.findByText("Says 100. And 1 more.");
    expect(rows()).toHaveLength(40);
    expect(sent.filter((s) => s.path.endsWith("/words"))).toHaveLength(1);
    fireEvent.click(screen.getByRole("button", { name: "40 older ones" }));
    expect(rows()).toHaveLength(80);
    expect(await screen.findByText("Says 21. And 1 more.")).toBeTruthy();
  });

  it("goes back with the state that was looked at", async () => {
    const BACK = "POST /api/documents/profile/house/back";
    const sent = show(three, "editor", { [BACK]: { id: 9, title: "Back to revision 2 of House" } });
    fireEvent.click((await screen.findAllByRole("button", { name: "Back to this one" }))[0] as HTMLElement);
    await waitFor(() => expect(sent.find((s) => s.method === "POST")?.body).toEqual({ number: 2, seen: "d3" }));
    expect(await screen.findByText("Back to revision 2 of House")).toBeTruthy();
  });

  it("says what came of one, and undoes single differences of it", async () => {
    const sent = show(three, "editor", {
      "GET /api/documents/profile/house/revisions/2": {
        says: [
          { id: "entries:a", says: "A moves.", means: "moves", why_not: "" },
          { id: "entries:b", says: "B moves.", means: "moves", why_not: "" },
        ],
        count: 2,
        solves: ["Find, F3"],
        makes: [],
        solved: 1,
        made: 0,
        change: 2,
        title: "",
      },
      "POST /api/history/2/undo-some": { id: 9, title: "Undid 1" },
    });
    fireEvent.click((await screen.findAllByRole("button", { name: "What came of it" }))[1] as HTMLElement);
    const came = await screen.findByRole("region", { name: "What came of revision 2" });
    expect(within(came).getByText("Made no clash.")).toBeTruthy();
    expect(came.textContent).toContain("Solved 1 clash:Find, F3");
    fireEvent.click(await within(came).findByRole("switch", { name: "B moves." }));
    fireEvent.click(within(came).getByRole("button", { name: "Undo 1 of these alone" }));
    await waitFor(() =>
      expect(sent.find((s) => s.method === "POST")?.body).toEqual({ differences: { "profile/house": ["entries:b"] } }),
    );
  });

  it("is only read by readers", async () => {
    show(three, "reader");
    await screen.findByText("Says 3. And 1 more.");
    expect(screen.queryByRole("button", { name: "Back to this one" })).toBeNull();
    expect(screen.getAllByRole("link", { name: "Hold it against now" })).toHaveLength(2);
  });
});
