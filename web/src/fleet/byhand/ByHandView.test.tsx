import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../../testing/stage";
import { ByHandView } from "./ByHandView";
import type { Work } from "./useWorklist";

const item = {
  id: "i1",
  where: "Hewer, Editor",
  what: "Clear all",
  old: "Ctrl L",
  new: "Ctrl K",
  content: "Control+K",
  why: "Where it keeps its keys isn't described.",
};
const work: Work = {
  setup: "web",
  name: "Web team",
  items: [item],
  machines: [
    { id: "m1", name: "Desk 1", done: ["i1"], again: [] },
    { id: "m2", name: "Desk 2", done: [], again: ["i1"] },
  ],
};
const row = { setup: "web", name: "Web team", machines: 2, items: 1, done: 1, total: 2 };

function show(role: "reader" | "editor", list: unknown = [row], path = "/") {
  return stage(
    <ByHandView />,
    {
      ...session(role),
      "GET /api/worklist": list,
      "GET /api/worklist/web": work,
      "POST /api/worklist/ticks": {
        says: "1 thing done by hand.",
        before: [{ machine: "m2", item: "i1", content: null }],
      },
    },
    path,
  );
}

describe("what has to be set by hand", () => {
  it("is told with how far it is, and what has to be done again", async () => {
    show("editor");
    expect(await screen.findByText("1 of 2")).toBeTruthy();
    expect(screen.getByText(/Was set otherwise before on Desk 2/)).toBeTruthy();
    expect(screen.getByText(/never counted as in step/)).toBeTruthy();
  });
  it("is ticked on the machines that lack it, and the tick is undone", async () => {
    const sent = show("editor");
    const box = await screen.findByRole("checkbox", { name: "Clear all, set to Ctrl K" });
    await waitFor(() => expect((box as HTMLInputElement).disabled).toBe(false));
    fireEvent.click(box);
    expect(await screen.findByText("1 thing done by hand.")).toBeTruthy();
    const [first] = sent.filter((s) => s.path === "/api/worklist/ticks");
    expect(first?.body).toEqual({ ticks: [{ machine: "m2", item: "i1", content: "Control+K" }] });
    fireEvent.click(screen.getByRole("button", { name: "Undo this" }));
    await waitFor(() => expect(sent.filter((s) => s.path === "/api/worklist/ticks")).toHaveLength(2));
  });
  it("is only looked at by readers", async () => {
    show("reader");
    const box = await screen.findByRole("checkbox", { name: "Clear all, set to Ctrl K" });
    expect((box as HTMLInputElement).disabled).toBe(true);
    expect(screen.queryByRole("button", { name: "Bring a ticked list back" })).toBeNull();
  });
  it("is nothing where files say everything", async () => {
    show("editor", []);
    expect(await screen.findByText("Nothing has to be set by hand.")).toBeTruthy();
  });
});
