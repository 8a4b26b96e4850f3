import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../testing/stage";
import { isLike, TasksView } from "./TasksView";
import type { Task } from "./useTasks";

const task = (id: string, more: Partial<Task> = {}): Task => ({
  id,
  name: id,
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
const NEUTRAL = [
  { name: "Files", tasks: 15, there: 0, some: ["Print"] },
  { name: "Text", tasks: 29, there: 29, some: ["Bold"] },
  { name: "Web", tasks: 7, there: 2, some: ["Home"] },
];

describe("tasks", () => {
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
        "POST /api/tasks/merge/plan": {
          commands: 2,
          programs: ["Weir Desk"],
          lines: 1,
          lines_gone: 1,
          agree: 3,
          could: 4,
          agree_then: 4,
          could_then: 4,
        },
        "POST /api/tasks/merge": { id: 1, title: "One" },
      },
      "/?task=stamp",
    );
    fireEvent.mouseDown(await screen.findByRole("combobox", { name: "Another task" }));
    fireEvent.click(await screen.findByRole("option", { name: "print" }));
    expect(await screen.findByText(/2 commands in Weir Desk and 1 line of the standard go along/)).toBeTruthy();
    expect(screen.getByText(/75 % agrees now and 100 % then/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Make them one" }));
    await waitFor(() =>
      expect(sent.find((s) => s.path === "/api/tasks/merge")?.body).toEqual({ gone: "stamp", into: "print" }),
    );
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
