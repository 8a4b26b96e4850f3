import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../../testing/stage";
import { DescribedView } from "./DescribedView";

const path = "/api/catalogue/weir-desk/2/settings-files";
const how = {
  container: "ini",
  at: ["keys"],
  command: "name",
  keys: { at: "value" },
  dialect: { modifiers: { Control: ["ctl~"] }, letters: "small" },
};
const entry = {
  line: 2,
  called: "save.sheet",
  context: "",
  name: "save.sheet",
  keys: ["Ctrl S"],
  shortcuts: ["Ctrl+S"],
  shown: false,
  state: "unknown",
};
const read = {
  described: how,
  why: ["2 of 3 texts read as keys"],
  read: 2,
  shown: 0,
  entries: [
    { ...entry, command: null, may_be: "save" },
    { ...entry, line: 3, called: "old.pan", name: "old.pan", command: null, may_be: null },
  ],
  unread: [{ line: 4, says: "zoom.fit: 'pad-entr' is no key" }],
  missing: "",
  same: true,
  places: [
    { line: 2, begin: 0, end: 10 },
    { line: 2, begin: 11, end: 16 },
  ],
};
const lines = ["[keys]", "save.sheet=ctl~s", "old.pan=ctl~left", "zoom.fit=ctl~pad-entr"];
const sample = { size: 70, total: 4, lines, proposals: [read], tried: null };
const files = {
  name: "Weir Desk 2",
  digest: "d1",
  platforms: ["windows"],
  described: [],
  commands: [{ id: "save", name: "Save the sheet" }],
  others: [],
};
const done = { id: 4, title: "Described where Weir Desk 2 keeps its keys" };

function show(role: "reader" | "editor", answers: Record<string, unknown> = {}) {
  return stage(
    <DescribedView />,
    { ...session(role), [`GET ${path}`]: files, [`POST ${path}`]: sample, [`PUT ${path}`]: done, ...answers },
    "/?program=weir-desk&version=2",
  );
}

async function drop() {
  await screen.findByText("Choose a settings file");
  const input = document.querySelector("input[type=file]") as HTMLInputElement;
  fireEvent.change(input, { target: { files: [new File([lines.join("\n")], "settings.ini")] } });
}

describe("where a program keeps its keys", () => {
  it("keeps what was understood of a file, with a corrected word and the names that were matched", async () => {
    const sent = show("editor");
    await drop();
    fireEvent.change(await screen.findByLabelText("Path on Windows"), { target: { value: "Weir/settings.ini" } });
    await waitFor(() => expect((screen.getByLabelText("What save.sheet is") as HTMLSelectElement).value).toBe("save"));
    fireEvent.keyDown(screen.getByLabelText("Path on Windows"), { key: "Enter", ctrlKey: true });
    await waitFor(() => expect(sent.some((s) => s.method === "PUT")).toBe(true));
    expect(sent.find((s) => s.method === "PUT")?.body).toEqual({
      digest: "d1",
      number: 0,
      described: { ...how, path: { windows: "Weir/settings.ini" } },
      called: { save: { called: "save.sheet", context: "" } },
      new: [],
    });
  });

  it("underlines what writing may change and nothing else of a line", async () => {
    show("reader");
    await drop();
    const file = await screen.findByRole("list", { name: "The file" });
    await waitFor(() =>
      expect([...file.querySelectorAll("u")].map((u) => u.textContent)).toEqual(["save.sheet", "ctl~s"]),
    );
    expect(file.querySelectorAll("code")[1]?.textContent).toBe("save.sheet=ctl~s");
  });

  it("makes names that are none of its commands new ones, when told so", async () => {
    const sent = show("editor");
    await drop();
    fireEvent.change(await screen.findByLabelText("What save.sheet is"), { target: { value: "+" } });
    fireEvent.click(screen.getByText("Keep this description"));
    await waitFor(() => expect(sent.some((s) => s.method === "PUT")).toBe(true));
    const body = sent.find((s) => s.method === "PUT")?.body as { called: object; new: object[] };
    expect(body.new).toContainEqual({ called: "save.sheet", context: "", shortcuts: [] });
    expect(body.called).not.toHaveProperty("+");
  });

  it("makes a name new with the default that the file only shows", async () => {
    const shown = { ...entry, line: 5, called: "zoom", name: "zoom", keys: ["F6"], shortcuts: ["F6"], shown: true };
    const entries = [...read.entries, { ...shown, command: null, may_be: null }];
    const proposal = { ...read, described: { ...how, shown_behind: "#" }, shown: 1, entries };
    const sent = show("editor", { [`POST ${path}`]: { ...sample, proposals: [proposal] } });
    await drop();
    expect(await screen.findByText("line 5, shown as its default")).toBeTruthy();
    expect((screen.getByLabelText("Sign before a default that is only shown") as HTMLInputElement).value).toBe("#");
    fireEvent.change(screen.getByLabelText("What zoom is"), { target: { value: "+" } });
    fireEvent.click(screen.getByText("Keep this description"));
    await waitFor(() => expect(sent.some((s) => s.method === "PUT")).toBe(true));
    const body = sent.find((s) => s.method === "PUT")?.body as { new: object[] };
    expect(body.new).toEqual([{ called: "zoom", context: "", shortcuts: ["F6"] }]);
  });

  it("tells what can't be read with its line, and which line writing would change", async () => {
    const tried = {
      lines: [{ line: 2, before: "save.sheet=ctl~s", after: "save.sheet=ctl~F2" }],
      size: 71,
      refused: "",
    };
    show("editor", { [`POST ${path}`]: { ...sample, tried } });
    await drop();
    expect(await screen.findByText("zoom.fit: 'pad-entr' is no key")).toBeTruthy();
    expect(screen.getByText("line 4, left alone")).toBeTruthy();
    fireEvent.change(screen.getByLabelText("Command"), { target: { value: "save" } });
    fireEvent.change(screen.getByLabelText("Its keys"), { target: { value: "F2" } });
    expect(await screen.findByText("changes line 2")).toBeTruthy();
    expect(screen.getByText("save.sheet=ctl~F2").tagName).toBe("INS");
  });

  it("tells what another version's description says otherwise, and takes it over", async () => {
    const one = { ...how, path: { windows: "Weir/settings.ini" } };
    const others = [
      {
        version: "1",
        described: [{ ...one, path: { windows: "Weir/old.ini" } }],
        differs: [[{ what: "where it lies (windows)", here: "Weir/settings.ini", there: "Weir/old.ini" }]],
      },
    ];
    show("editor", { [`GET ${path}`]: { ...files, described: [one], others } });
    expect(await screen.findByText("Version 1 is described otherwise in one point.")).toBeTruthy();
    expect(screen.getByText("where it lies (windows)")).toBeTruthy();
    fireEvent.click(await screen.findByRole("button", { name: /Take it as it is there/ }));
    await waitFor(() =>
      expect((screen.getByLabelText("Path on Windows") as HTMLInputElement).value).toBe("Weir/old.ini"),
    );
  });

  it("says what to do where nothing reads as keys", async () => {
    show("editor", { [`POST ${path}`]: { ...sample, proposals: [] } });
    await drop();
    expect(await screen.findByText("Nothing in settings.ini reads as keys.")).toBeTruthy();
    expect(screen.queryByText("Keep this description")).toBeNull();
  });

  it("shows a fault of a description and keeps nothing then", async () => {
    const fault = { place: "settings_files[0]", says: "a record needs two places", cure: "Mend it." };
    const problem = { title: "This can't be taken.", status: 400, detail: "", cure: "", safe: "", faults: [fault] };
    const again = { ...files, described: [{ ...how, path: { windows: "Weir/settings.ini" } }] };
    show("editor", { [`GET ${path}`]: again, [`POST ${path}`]: [400, problem] });
    await drop();
    expect(await screen.findByText(/a record needs two places/)).toBeTruthy();
    expect((screen.getByText("Keep this description") as HTMLButtonElement).disabled).toBe(true);
  });

  it("lets a reader look, and change nothing", async () => {
    show("reader");
    await drop();
    expect(((await screen.findByLabelText("Letters")) as HTMLSelectElement).disabled).toBe(true);
    expect(screen.queryByText("Keep this description")).toBeNull();
  });
});
