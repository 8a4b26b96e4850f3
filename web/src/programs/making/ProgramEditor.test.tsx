import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../../testing/stage";
import { ProgramEditor } from "./ProgramEditor";
import { program } from "./testing";

const plan = { differences: 1, solves: [], makes: [], solved: 0, made: 0, orphans: [], lines: [] };
const path = "/api/catalogue/weir-desk/1.0";
const tasks = { tasks: [], families: [], without_task: 0 };

function show(
  role: "reader" | "editor",
  planned: unknown = plan,
  saved: unknown = { id: 4, title: "Edited Weir Desk 1.0" },
) {
  return stage(
    <ProgramEditor />,
    {
      ...session(role),
      [`GET ${path}`]: program,
      [`POST ${path}/plan`]: planned,
      [`PUT ${path}`]: saved,
      "GET /api/tasks": tasks,
    },
    "/?program=weir-desk&version=1.0",
  );
}

describe("a program's sheet", () => {
  it("tells what an edit does, and saves it by Ctrl+Enter", async () => {
    const sent = show("editor", {
      ...plan,
      made: 1,
      makes: ["Save and Print meet on F8"],
      orphans: ["House: F8 for Save"],
    });
    fireEvent.change(await screen.findByLabelText("Keys of Save on Windows"), { target: { value: "F8" } });
    expect(await screen.findByText("Save and Print meet on F8")).toBeTruthy();
    expect(screen.getByText("House: F8 for Save")).toBeTruthy();
    fireEvent.keyDown(screen.getByLabelText("Keys of Save on Windows"), { key: "Enter", ctrlKey: true });
    await waitFor(() => expect(sent.some((s) => s.method === "PUT")).toBe(true));
    const body = sent.find((s) => s.method === "PUT")?.body as { digest: string; commands: { keys: unknown }[] };
    expect(body.digest).toBe("d1");
    expect(body.commands[0]?.keys).toEqual({ windows: "F8" });
  });

  it("shows a fault at its row and saves nothing", async () => {
    const fault = {
      place: "commands[0].keys.windows",
      says: "'Ctrl+Nonsense' on Windows: no such key.",
      cure: "Mend it.",
    };
    const problem = {
      title: "This document can't be taken.",
      status: 400,
      detail: "",
      cure: "",
      safe: "",
      faults: [fault],
    };
    const sent = show("editor", [400, problem]);
    const field = await screen.findByLabelText("Keys of Save on Windows");
    fireEvent.change(field, { target: { value: "Ctrl+Nonsense" } });
    expect(await screen.findByText(/no such key. Mend it/)).toBeTruthy();
    fireEvent.keyDown(field, { key: "Enter", ctrlKey: true });
    expect(screen.getByRole("button", { name: "Save Weir Desk" })).toHaveProperty("disabled", true);
    expect(sent.some((s) => s.method === "PUT")).toBe(false);
  });

  it("changes several commands at once, and takes them out", async () => {
    show("editor");
    fireEvent.change(await screen.findByLabelText("Add commands"), { target: { value: "Print: Ctrl+P\nStamp" } });
    fireEvent.keyDown(screen.getByLabelText("Add commands"), { key: "Enter" });
    fireEvent.click(await screen.findByLabelText("Choose Print"));
    fireEvent.click(screen.getByLabelText("Choose Stamp"));
    fireEvent.change(screen.getByRole("textbox", { name: "Group" }), { target: { value: "Paper" } });
    expect(screen.getByLabelText("Group of Stamp")).toHaveProperty("value", "Paper");
    expect(screen.getByLabelText("Group of Save")).toHaveProperty("value", "Files");
    fireEvent.click(screen.getByRole("button", { name: "Take them out" }));
    expect(screen.queryByLabelText("Name of Print")).toBeNull();
    expect(screen.getByLabelText("Name of Save")).toBeTruthy();
  });

  it("leads up and down through a column by arrow keys", async () => {
    show("editor");
    fireEvent.change(await screen.findByLabelText("Add commands"), { target: { value: "Print" } });
    fireEvent.keyDown(screen.getByLabelText("Add commands"), { key: "Enter" });
    screen.getByLabelText("Keys of Save on Linux").focus();
    fireEvent.keyDown(screen.getByLabelText("Keys of Save on Linux"), { key: "ArrowDown" });
    expect(document.activeElement).toBe(screen.getByLabelText("Keys of Print on Linux"));
    fireEvent.keyDown(screen.getByLabelText("Keys of Print on Linux"), { key: "ArrowUp" });
    expect(document.activeElement).toBe(screen.getByLabelText("Keys of Save on Linux"));
  });

  it("asks whose is to count where somebody else saved the same", async () => {
    const item = (keys: string) => ({ id: "save", name: "Save", defaults: { windows: [keys] } });
    const both = {
      section: "commands",
      key: "save",
      base: item("Control+S"),
      ours: item("F8"),
      theirs: item("F9"),
      says_ours: "save: F8",
      says_theirs: "save: F9",
    };
    let tries = 0;
    const sent = show("editor", plan, () => {
      tries += 1;
      const problem = {
        title: "Jorun made something else of the same.",
        status: 409,
        by: "Jorun",
        contradictions: [both],
      };
      return tries === 1 ? [409, problem] : { id: 4, title: "Edited" };
    });
    fireEvent.change(await screen.findByLabelText("Keys of Save on Windows"), { target: { value: "F8" } });
    fireEvent.click(await screen.findByRole("button", { name: "Save Weir Desk" }));
    fireEvent.click(await screen.findByLabelText("Yours: save: F8"));
    fireEvent.click(screen.getByRole("button", { name: "Save with these" }));
    await waitFor(() => expect(sent.filter((s) => s.method === "PUT")).toHaveLength(2));
    const again = sent.filter((s) => s.method === "PUT")[1]?.body as { chosen: unknown };
    expect(again.chosen).toEqual([{ section: "commands", key: "save", value: item("F8"), sent: false }]);
  });

  it("lets readers look only", async () => {
    show("reader");
    expect(await screen.findByLabelText("Name of Save")).toHaveProperty("disabled", true);
    expect(screen.queryByLabelText("Add commands")).toBeNull();
    expect(screen.queryByRole("button", { name: /Delete/ })).toBeNull();
  });
});
