import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { session, stage } from "../testing/stage";
import { isLike, TasksView } from "./TasksView";
import type { Task } from "./useTasks";

const task = (id: string, more: Partial<Task> = {}): Task => ({
  id,
  name: id,
  names: {},
  group: "Files",
  other_words: [],
  protected: false,
  usual: {},
  commands: 0,
  programs: 0,
  lines: 0,
  family: null,
  ...more,
});
const plan = (more: Partial<Schemas["TaskPlanOut"]> = {}): Schemas["TaskPlanOut"] => ({
  commands: 2,
  programs: ["Weir Desk"],
  lines: 1,
  lines_gone: 0,
  lines_apart: 0,
  lines_apart_then: 0,
  agree: 3,
  could: 4,
  agree_then: 3,
  could_then: 4,
  solves: [],
  makes: [],
  solved: 0,
  made: 0,
  come: [],
  coming: 0,
  go: [],
  going: 0,
  ...more,
});
const NEUTRAL = [
  { name: "Files", tasks: 15, there: 0, some: ["Print"] },
  { name: "Text", tasks: 29, there: 29, some: ["Bold"] },
  { name: "Web", tasks: 7, there: 2, some: ["Home"] },
];

describe("tasks", () => {
  it("brings names in from a sheet, told first", async () => {
    const sent = stage(<TasksView />, {
      ...session("editor"),
      "GET /api/tasks": { tasks: [task("save")], families: [], without_task: 3 },
      "POST /api/names/preview": {
        changes: [
          { of: "save", language: "German", before: "Sichern", after: "Speichern" },
          { of: "save", language: "French", before: "Enregistrer", after: "" },
        ],
        count: 3,
        things: 1,
      },
      "POST /api/names": { id: 1, title: "3 names from a sheet" },
    });
    fireEvent.click(await screen.findByRole("button", { name: "As a sheet" }));
    expect((await screen.findByRole("menuitem", { name: /^CSV/ })).getAttribute("href")).toBe("/api/names.csv");
    fireEvent.click(screen.getByRole("menuitem", { name: "Bring names in ..." }));
    const input = document.querySelector("input[type=file]") as HTMLInputElement;
    fireEvent.change(input, { target: { files: [new File(["x"], "names.csv")] } });
    expect(await screen.findByText("3 names of 1 task or command would change.")).toBeTruthy();
    const rows = within(screen.getByRole("region", { name: "Names from names.csv" })).getAllByRole("listitem");
    expect(rows.map((r) => r.textContent)).toEqual([
      "save in German: Sichern Speichern",
      "save in French: Enregistrer no name of its own",
    ]);
    expect(screen.getByText("and 1 more")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Take these names" }));
    await waitFor(() => expect(sent.some((s) => s.path === "/api/names")).toBe(true));
    await waitFor(() => expect(screen.queryByText("and 1 more")).toBeNull());
  });
  it("says what a sheet of names can't be read for, and takes nothing", async () => {
    stage(<TasksView />, {
      ...session("editor"),
      "GET /api/tasks": { tasks: [task("save")], families: [], without_task: 3 },
      "POST /api/names/preview": [400, { title: "The sheet can't be read.", status: 400 }],
    });
    await screen.findByRole("button", { name: "As a sheet" });
    const input = document.querySelector("input[type=file]") as HTMLInputElement;
    fireEvent.change(input, { target: { files: [new File(["x"], "names.csv")] } });
    expect(await screen.findByText("The sheet can't be read.")).toBeTruthy();
    expect((screen.getByRole("button", { name: "Take these names" }) as HTMLButtonElement).disabled).toBe(true);
    fireEvent.click(screen.getByRole("button", { name: "Leave it" }));
    expect(screen.queryByRole("button", { name: "Take these names" })).toBeNull();
  });
  it("takes chosen groups of the list that ships", async () => {
    const sent = stage(<TasksView />, {
      ...session("editor"),
      "GET /api/tasks": { tasks: [], families: [], without_task: 3 },
      "GET /api/tasks/neutral": NEUTRAL,
      "POST /api/tasks/neutral": { id: 1, title: "Took" },
    });
    fireEvent.click(await screen.findByLabelText(/Web/));
    fireEvent.click(screen.getByRole("button", { name: "Take 15 tasks" }));
    await waitFor(() => expect(sent.find((s) => s.method === "POST")?.body).toEqual({ groups: ["Files"] }));
  });

  it("tells what merging two tasks touches before it is done", async () => {
    const sent = stage(
      <TasksView />,
      {
        ...session("editor"),
        "GET /api/tasks": { tasks: [task("print"), task("stamp")], families: [], without_task: 0 },
        "GET /api/tasks/one/stamp/commands": [],
        "POST /api/tasks/merge/plan": plan({ lines_gone: 1, agree_then: 4 }),
        "POST /api/tasks/merge": { id: 1, title: "One" },
      },
      "/?task=stamp",
    );
    fireEvent.mouseDown(await screen.findByRole("combobox", { name: "Another task" }));
    fireEvent.click(await screen.findByRole("option", { name: "print" }));
    expect(await screen.findByText(/2 commands in Weir Desk and 1 line of the standard go along/)).toBeTruthy();
    expect(screen.getByText(/75.0 % agrees now and 100.0 % then/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Make them one" }));
    await waitFor(() =>
      expect(sent.find((s) => s.path === "/api/tasks/merge")?.body).toEqual({ gone: "stamp", into: "print" }),
    );
  });

  it("tells what other usual keys would do before they are saved", async () => {
    const makes = ["Stamp it takes F9 from Keep"];
    const sent = stage(
      <TasksView />,
      {
        ...session("editor"),
        "GET /api/tasks": { tasks: [task("stamp")], families: [], without_task: 0 },
        "GET /api/tasks/one/stamp/commands": [],
        "POST /api/tasks/one/stamp/plan": plan({ lines_apart_then: 1, made: 1, makes }),
      },
      "/?task=stamp",
    );
    fireEvent.change(await screen.findByLabelText("Usual keys on Windows"), { target: { value: "F9" } });
    expect(await screen.findByText(/1 line says another key than the usual one then, 0 now/)).toBeTruthy();
    expect(screen.getByText(makes[0] ?? "")).toBeTruthy();
    expect(sent.find((s) => s.path.endsWith("/plan"))?.body).toMatchObject({ usual: { windows: "F9" } });
  });

  it("tells what splitting would do while commands are chosen", async () => {
    const command = { program: "weir", program_name: "Weir Desk", version: "1" };
    const commands = ["keep", "stamp"].map((c) => ({ ...command, command: c, command_name: c }));
    const sent = stage(
      <TasksView />,
      {
        ...session("editor"),
        "GET /api/tasks": { tasks: [task("save", { commands: 2 })], families: [], without_task: 0 },
        "GET /api/tasks/one/save/commands": commands,
        "POST /api/tasks/one/save/split/plan": plan({ agree_then: 2, could_then: 3 }),
      },
      "/?task=save",
    );
    fireEvent.click(await screen.findByLabelText("keep, in Weir Desk 1"));
    expect(
      await screen.findByText(/stay with save. Of what could follow the standard, 75.0 % agrees now and 66.7 % then/),
    );
    expect(sent.find((s) => s.path.endsWith("/split/plan"))?.body).toMatchObject({
      commands: [{ program: "weir", command: "keep" }],
    });
  });

  it("finds by words, other words and keys", () => {
    const save = task("save", { name: "Save", other_words: ["speichern"], usual: { windows: "Control+S" } });
    expect([isLike(save, "speich"), isLike(save, "control+s save"), isLike(save, "print")]).toEqual([
      true,
      true,
      false,
    ]);
  });
});
