import { describe, expect, it } from "vitest";
import { asCsv, asText, byPeople, inWords, plainly, widthOf } from "./cells";
import { addressOf, filtersFrom, isAsked, itemsOf, NOTHING, rowsOf } from "./filters";
import { cell, matrix, program, task } from "./testing";
import { landed, stepped } from "./walking";

const asked = (parts: object) => ({ ...NOTHING, ...parts });
const ids = (rows: { id: string }[]) => rows.map((r) => r.id);

describe("which rows are looked for", () => {
  const data = matrix([
    task("save", {
      group: "Files",
      other_words: ["keep"],
      cells: [cell("sheet", "agrees"), cell("mail", "differs", "F10")],
    }),
    task("next", { group: "Editing", family: "walk", cells: [cell("sheet", "clashes", "F4")] }),
    task("back", { group: "Editing", family: "walk", line: null, cells: [cell("mail", "no_line", "F5")] }),
  ]);
  it("goes by state, and by the state in one program", () => {
    expect(ids(rowsOf(data, asked({ state: "open" }), null))).toEqual(["save", "next"]);
    expect(ids(rowsOf(data, asked({ state: "open", program: "sheet" }), null))).toEqual(["next"]);
    expect(ids(rowsOf(data, asked({ state: "no_line" }), null))).toEqual(["back"]);
    expect(ids(rowsOf(data, asked({ state: "agrees" }), null))).toEqual(["save"]);
  });
  it("goes by group, program and family", () => {
    expect(ids(rowsOf(data, asked({ group: "Editing" }), null))).toEqual(["next", "back"]);
    expect(ids(rowsOf(data, asked({ program: "mail" }), null))).toEqual(["save", "back"]);
    expect(ids(rowsOf(data, asked({ family: "walk" }), null))).toEqual(["next", "back"]);
  });
  it("goes by words of task, other words, family and keys; all of them", () => {
    expect(ids(rowsOf(data, asked({ words: "keep" }), null))).toEqual(["save"]);
    expect(ids(rowsOf(data, asked({ words: "walking f4" }), null))).toEqual(["next"]);
    expect(ids(rowsOf(data, asked({ words: "walking save" }), null))).toEqual([]);
  });
  it("goes by the tasks that keys have to do with, beside all else", () => {
    const onKeys = new Set(["save", "back"]);
    expect(ids(rowsOf(data, asked({ keys: "F5" }), onKeys))).toEqual(["save", "back"]);
    expect(ids(rowsOf(data, asked({ keys: "F5", group: "Editing" }), onKeys))).toEqual(["back"]);
    expect(ids(rowsOf(data, asked({ keys: "F5" }), new Set()))).toEqual([]);
  });
  it("is said by the address, and read from it", () => {
    const params = new URLSearchParams();
    for (const [name, value] of Object.entries(addressOf({ state: "open", words: "save" })))
      params.set(name, value ?? "");
    expect(filtersFrom(params)).toEqual(asked({ state: "open", words: "save" }));
    expect(isAsked(filtersFrom(params))).toBe(true);
    expect(isAsked(filtersFrom(new URLSearchParams("setup=x")))).toBe(false);
    expect(addressOf({ words: "" })).toEqual({ "s.words": null });
  });
  it("puts the heads of groups between, and brackets families that stand together", () => {
    const items = itemsOf(data.tasks);
    expect(items.map((i) => (i.kind === "group" ? i.name : i.family))).toEqual([
      "Files",
      "",
      "Editing",
      "first",
      "last",
    ]);
  });
  it("gives a group that others part several heads, told apart", () => {
    const items = itemsOf([task("a", { group: "A" }), task("b", { group: "B" }), task("c", { group: "A" })]);
    const heads = items.flatMap((i) => (i.kind === "group" ? [`${i.name} ${i.before}`] : []));
    expect(heads).toEqual(["A a", "B b", "A c"]);
  });
});

describe("the sheet by keys", () => {
  const items = itemsOf([task("a", { group: "A" }), task("b", { group: "A" }), task("c", { group: "B" })]);
  const at = { row: 1, column: 2 };
  it("steps as a sheet does", () => {
    const step = (key: string, ends = false) => stepped(key, ends, at, 10, 5, 6);
    expect(step("ArrowDown")).toEqual({ row: 2, column: 2 });
    expect(step("ArrowLeft")).toEqual({ row: 1, column: 1 });
    expect(step("ArrowRight", true)).toEqual({ row: 1, column: 6 });
    expect(step("PageDown")).toEqual({ row: 11, column: 2 });
    expect(step("Home")).toEqual({ row: 1, column: 0 });
    expect(step("End", true)).toEqual({ row: 4, column: 6 });
    expect(step("x")).toBeNull();
  });
  it("lands on tasks, never on the heads of groups, and stays within", () => {
    expect(landed(items, 3, 2)).toBe(4);
    expect(landed(items, 3, 4)).toBe(2);
    expect(landed(items, 0, 1)).toBe(1);
    expect(landed(items, 99, 1)).toBe(4);
  });
});

describe("cells in words", () => {
  it("say state, keys, why and people", () => {
    const row = task("save");
    expect(inWords(cell("sheet", "differs", "F10"), program("sheet"), row)).toBe("Sheet: differs, F10; 31 people");
    expect(inWords(cell("sheet", "agrees", undefined, { people: 10 }), program("sheet"), row)).toBe(
      "Sheet: agrees; 10 of 31 people",
    );
    expect(inWords(undefined, program("sheet"), row)).toBe("Sheet: Save is not offered");
    expect(asText(cell("sheet", "cannot"))).toBe("can't");
  });
  it("go out as CSV without anything that a spreadsheet would calculate", () => {
    const row = task("save", { name: '=SUM("a")', cells: [cell("sheet", "differs", "F10")] });
    expect(asCsv([row], [program("sheet"), program("mail")])).toBe(
      'Task,Standard,Sheet,Mail\r\n"\'=SUM(""a"")",F9,differs: F10,',
    );
  });
  it("are as broad as many people need", () => {
    expect(widthOf(program("sheet", { people: 90 }), 90)).toBeGreaterThan(widthOf(program("mail", { people: 9 }), 90));
    expect(plainly({ agree: 1, could: 0, people_agree: 0, people_could: 0 })).toBe("–");
    expect(byPeople({ agree: 0, could: 0, people_agree: 2, people_could: 3 })).toBe("67 %");
  });
});
