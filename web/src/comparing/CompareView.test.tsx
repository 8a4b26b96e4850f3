import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Sent } from "../testing/stage";
import { session, stage } from "../testing/stage";
import { CompareView } from "./CompareView";
import type { Compared } from "./useComparing";

type Difference = Compared["groups"][number]["differences"][number];

const difference = (id: string, parts: Partial<Difference> = {}): Difference => ({
  id,
  does: "changes",
  says: `${id} moves.`,
  refused: "",
  people: 3,
  clashes: false,
  nothing: "",
  ...parts,
});
const side = (text: string, writable: boolean): Compared["left"] => ({
  text,
  key: "profile/house",
  title: text,
  note: "",
  number: 2,
  writable,
});

function compared(parts: Partial<Compared> = {}): Compared {
  const moves = [
    difference("a"),
    difference("b", { clashes: true }),
    difference("c", { refused: "It can't take F1." }),
  ];
  const nothing = [difference("n", { nothing: "only the wording differs", says: "Words differ." })];
  return {
    left: side("profile/house", true),
    right: side("profile/house~1", false),
    groups: [
      { means: "moves", title: "Moves a key that people know", count: 3, differences: moves, beyond: [] },
      { means: "nothing", title: "Of no effect", count: 1, differences: nothing, beyond: [] },
    ],
    count: 4,
    alike: 10,
    ...parts,
  };
}

const TAKE = "POST /api/compare/take";
const PLAN = "POST /api/compare/plan";

function show(found: unknown, role: "reader" | "editor" = "editor"): Sent[] {
  return stage(
    <CompareView />,
    {
      "GET /api/compare": found,
      "GET /api/profiles": [],
      "GET /api/machines/shown": [{ id: "counter-3", name: "Counter 3" }],
      [PLAN]: { solves: [], makes: ["Find, F3"], solved: 0, made: 1, people: 3 },
      [TAKE]: { id: 1, title: "Took 1 difference over" },
      ...session(role),
    },
    "/profiles/compare?left=profile/house&right=profile/house~1",
  );
}

const bodies = (sent: Sent[], of: string) => sent.filter((s) => `${s.method} ${s.path}` === of).map((s) => s.body);

describe("two states held against each other", () => {
  it("chooses at first what neither clashes nor is refused nor is of no effect", async () => {
    const sent = show(compared());
    expect(((await screen.findByRole("switch", { name: "a moves." })) as HTMLInputElement).checked).toBe(true);
    expect((screen.getByRole("switch", { name: "b moves." }) as HTMLInputElement).checked).toBe(false);
    expect((screen.getByRole("switch", { name: "c moves." }) as HTMLInputElement).disabled).toBe(true);
    expect(screen.getByText("3 people; would make a clash")).toBeTruthy();
    expect(await screen.findByText(/Solves no clashes, makes 1\. It reaches 3 people\./)).toBeTruthy();
    expect(screen.getByText(/Makes 1 clash:/)).toBeTruthy();
    expect(bodies(sent, PLAN)[0]).toEqual({ into: "profile/house", other: "profile/house~1", chosen: ["a"] });
  });

  it("says that a second side is missing where there is one profile only, and doesn't wait for it", async () => {
    const house = { id: "house", name: "House", revisions: [] };
    stage(<CompareView />, {
      ...session("editor"),
      "GET /api/profiles": [house],
      "GET /api/lenses": [],
      "GET /api/machines/shown": [],
    });
    expect(await screen.findByText("There is nothing to hold against it yet.")).toBeTruthy();
    expect(screen.queryByText(/Loading/)).toBeNull();
  });

  it("offers the files of machines that have shown some", async () => {
    show(compared());
    fireEvent.mouseDown(await screen.findByRole("combobox", { name: "Held against" }));
    expect(await screen.findByRole("option", { name: "What the files of Counter 3 say" })).toBeTruthy();
    expect(screen.queryByRole("option", { name: "What the files of Counter 4 say" })).toBeNull();
  });

  it("folds away what is of no effect, and counts it", async () => {
    show(compared());
    fireEvent.click(await screen.findByRole("button", { name: "Show the 1 of no effect" }));
    expect(screen.getByText("only the wording differs")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Fold away the 1 of no effect" }));
    expect(screen.queryByText("only the wording differs")).toBeNull();
  });

  it("takes whole groups and single ones over, and works the consequences out again", async () => {
    const sent = show(compared());
    fireEvent.click(await screen.findByRole("switch", { name: "All of: Moves a key that people know" }));
    await waitFor(() => expect(bodies(sent, PLAN).at(-1)).toMatchObject({ chosen: ["a", "b"] }));
    fireEvent.click(screen.getByRole("switch", { name: "a moves." }));
    fireEvent.click(await screen.findByRole("button", { name: "Take 1 of 3 over into profile/house" }));
    await waitFor(() =>
      expect(bodies(sent, TAKE)).toEqual([{ into: "profile/house", other: "profile/house~1", chosen: ["b"] }]),
    );
  });

  it("takes those of a group that are too many to be shown, too", async () => {
    const moves = {
      means: "moves",
      title: "Moves a key",
      count: 4,
      differences: [difference("a")],
      beyond: ["x", "y"],
    };
    const sent = show(compared({ groups: [moves] as Compared["groups"], count: 4 }));
    expect(await screen.findByText("And 3 more, 2 of them chosen.")).toBeTruthy();
    fireEvent.click(await screen.findByRole("button", { name: "Take 3 of 3 over into profile/house" }));
    await waitFor(() => expect(bodies(sent, TAKE)[0]).toMatchObject({ chosen: ["a", "x", "y"] }));
    fireEvent.click(screen.getByRole("switch", { name: "All of: Moves a key" }));
    expect(screen.getByText("And 3 more, 2 of them chosen.")).toBeTruthy();
    fireEvent.click(screen.getByRole("switch", { name: "All of: Moves a key" }));
    expect(screen.getByText("And 3 more, 0 of them chosen.")).toBeTruthy();
  });

  it("walks from one difference to the next by arrows", async () => {
    show(compared());
    const first = await screen.findByRole("switch", { name: "a moves." });
    first.focus();
    fireEvent.keyDown(first, { key: "ArrowDown" });
    expect(document.activeElement).toBe(screen.getByRole("switch", { name: "b moves." }));
    fireEvent.keyDown(document.activeElement as HTMLElement, { key: "ArrowUp" });
    expect(document.activeElement).toBe(first);
  });

  it("writes the side that can be written, and neither where none can", async () => {
    const sent = show(compared({ left: side("profile/house~1", false), right: side("profile/house", true) }));
    fireEvent.click(await screen.findByRole("button", { name: /over into profile\/house$/ }));
    await waitFor(() =>
      expect(bodies(sent, TAKE)[0]).toMatchObject({ into: "profile/house", other: "profile/house~1" }),
    );
  });

  it("is only looked at where both are older ones, and by readers", async () => {
    show(compared({ left: side("profile/house~1", false), right: side("profile/house~2", false) }));
    expect(await screen.findByText(/they can be looked at only/)).toBeTruthy();
    expect(screen.queryByRole("switch", { name: "a moves." })).toBeNull();
  });

  it("says that nothing differs, and why two can't be compared", async () => {
    show([409, { title: "They have nothing in common.", status: 409 }]);
    expect(await screen.findByText("They have nothing in common.")).toBeTruthy();
  });
});
