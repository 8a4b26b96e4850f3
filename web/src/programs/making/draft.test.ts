import { describe, expect, it } from "vitest";
import type { Draft } from "./draft";
import { argumentsFrom, draftOf, editOf, faultsByRow, newScopeId, rowsFrom, sameDraft, taskCalled } from "./draft";
import { program } from "./testing";

const tasks = [
  { id: "save", name: "Save the document", other_words: ["save", "speichern"] },
  { id: "print", name: "Print", other_words: ["print"] },
  { id: "stamp", name: "Stamp", other_words: ["print"] },
];

describe("a program as it is edited", () => {
  it("is sent back as it came while nobody changed it", () => {
    const draft = draftOf(program);
    const [sent] = editOf(draft, "d1").commands;
    expect(sent).toMatchObject({ id: "save", other_words: ["keep", "store"], keys: { windows: "Control+S or F12" } });
    expect(draft.rows[0]?.arguments).toBe("by = 1, 5; to");
    expect(sent?.arguments).toEqual(program.commands[0]?.arguments);
    expect(sent?.reached_by).toEqual({ by: "menu", depth: 2 });
    expect(sameDraft(draft, draftOf(program))).toBe(true);
    expect(sameDraft({ ...draft, name: "Weir" }, draft)).toBe(false);
  });

  it("reads the values of an argument as words or as a range", () => {
    const range = { name: "percent", values: [], least: -5, most: 25 };
    expect(argumentsFrom("percent = -5 to 25; how = up, down; note")).toEqual([
      range,
      { name: "how", values: ["up", "down"] },
      { name: "note", values: [] },
    ]);
  });

  it("takes commands as lines: a name, and behind a colon or a tab its keys", () => {
    const rows = rowsFrom(
      "Print: Ctrl+P\n\n Stamp\tCtrl+P or F9\nLock the gate\nRatio 1:2",
      draftOf(program),
      "windows",
    );
    expect(rows.map((r) => [r.name, r.keys.windows])).toEqual([
      ["Print", "Ctrl+P"],
      ["Stamp", "Ctrl+P or F9"],
      ["Lock the gate", undefined],
      ["Ratio 1:2", undefined],
    ]);
    expect(rows.map((r) => r.group)).toEqual(["Files", "Files", "Files", "Files"]);
    expect(new Set([0, ...rows.map((r) => r.row)]).size).toBe(5);
  });

  it("gives a command the task that alone is called so", () => {
    expect(taskCalled("Print", tasks)).toBe("print");
    expect(taskCalled(" speichern ", tasks)).toBe("save");
    expect(taskCalled("Drucken", tasks)).toBe(null);
    expect(
      taskCalled("x", [
        ...tasks,
        { id: "y", name: "Y", other_words: ["x"] },
        { id: "z", name: "Z", other_words: ["x"] },
      ]),
    ).toBe(null);
  });

  it("finds the row of a fault by its place", () => {
    const draft: Draft = { ...draftOf(program) };
    draft.rows = [...draft.rows, ...rowsFrom("Print", draft, "windows")];
    const faults = faultsByRow(
      [
        { place: "commands[1].keys.windows", says: "It is none.", cure: "Mend it." },
        { place: "name", says: "Elsewhere.", cure: "" },
      ],
      draft,
    );
    expect([...faults]).toEqual([[1, "It is none. Mend it."]]);
  });

  it("names scopes so that no two are called the same", () => {
    expect(newScopeId("Main list", ["window"])).toBe("main-list");
    expect(newScopeId("Main list", ["main-list", "main-list-2"])).toBe("main-list-3");
    expect(newScopeId("保存", [])).toBe("scope");
  });
});
