import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../../testing/stage";
import { MatchingView } from "./MatchingView";
import type { Proposal } from "./useProposals";

const proposal = (command: string, sure: boolean, ...tasks: string[]): Proposal => ({
  command,
  name: `Do ${command}`,
  group: "File",
  task: tasks[0] ?? null,
  sure,
  candidates: tasks.map((t) => ({ task: t, name: `Task ${t}`, score: 0.9, reasons: [`like ${t}`], beside: "" })),
});
const ALL = [
  proposal("save", true, "save"),
  proposal("print", true, "print"),
  proposal("seal", false, "stamp", "lock"),
  proposal("horn", false),
];
const PATH = "/api/catalogue/weir/2";
const answers = {
  ...session("editor"),
  "GET /api/tasks": { tasks: [{ id: "save" }], families: [], without_task: 4 },
  [`GET ${PATH}/proposals`]: ALL,
  [`POST ${PATH}/tasks`]: { id: 1, title: "Gave" },
  [`POST ${PATH}/refusals`]: { command: "seal", task: "stamp", refused: true },
};

describe("commands to tasks", () => {
  it("takes the sure ones together, without those that are struck out", async () => {
    const sent = stage(<MatchingView />, answers, "/?program=weir&version=2");
    fireEvent.click(await screen.findByLabelText("Do print"));
    fireEvent.click(screen.getByRole("button", { name: "Give 1 command its task" }));
    const body = { tasks: { save: "save" }, made_of: [] };
    await waitFor(() => expect(sent.find((s) => s.path === `${PATH}/tasks`)?.body).toEqual(body));
  });

  it.each([
    ["2", "/tasks", { tasks: { seal: "lock" }, made_of: [] }],
    ["n", "/tasks", { tasks: {}, made_of: ["seal"] }],
    ["0", "/refusals", { command: "seal", task: "stamp", refused: true }],
  ])("asks about doubtful ones one by one: %s answers", async (pressed, path, body) => {
    const sent = stage(<MatchingView />, answers, "/?program=weir&version=2");
    const asked = await screen.findByRole("region", { name: "To look at" });
    expect(asked.textContent).toContain("Do seal in File: which task does it do?");
    fireEvent.keyDown(asked, { key: pressed });
    await waitFor(() => expect(sent.find((s) => s.path === PATH + path)?.body).toEqual(body));
  });

  it("says whose other way a command would be", async () => {
    const [first, ...rest] = ALL;
    const doubtful = { ...proposal("brand", false, "stamp") };
    const beside = { ...doubtful, candidates: doubtful.candidates.map((c) => ({ ...c, beside: "Seal" })) };
    stage(
      <MatchingView />,
      { ...answers, [`GET ${PATH}/proposals`]: [beside, first, ...rest] },
      "/?program=weir&version=2",
    );
    expect(await screen.findByText(/Seal does it already: this would be the other way/)).toBeTruthy();
  });

  it("makes tasks of commands that nothing matches", async () => {
    const sent = stage(<MatchingView />, answers, "/?program=weir&version=2");
    fireEvent.click(await screen.findByLabelText("Do horn"));
    fireEvent.click(screen.getByRole("button", { name: "Make a task of 1" }));
    const body = { tasks: {}, made_of: ["horn"] };
    await waitFor(() => expect(sent.find((s) => s.path === `${PATH}/tasks`)?.body).toEqual(body));
  });

  it("leads to the list of tasks where none is known", async () => {
    const none = { ...answers, "GET /api/tasks": { tasks: [], families: [], without_task: 4 } };
    stage(<MatchingView />, none, "/?program=weir&version=2");
    expect((await screen.findByRole("link", { name: "the list that ships" })).getAttribute("href")).toContain("take=1");
  });
});
