import { createEvent, fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../../testing/stage";
import { ListView } from "./ListView";
import type { List, Row } from "./useList";

const list = (more: Partial<List> = {}): List => ({
  id: "l1",
  name: "keys.csv",
  state: "checked",
  done: 2,
  total: 2,
  tables: ["Table 1 (3 rows)"],
  asked: {
    table: 0,
    program: null,
    new: null,
    head: null,
    columns: null,
    platforms: [],
    corrections: {},
    lacking: "gone",
  },
  head: 1,
  heads: ["Command", "Keys"],
  columns: { 0: "name", 1: "keys" },
  keys_count_on: ["windows", "linux"],
  keys_may_count_on: ["windows", "macos", "linux"],
  says: [],
  told: ["Adds 1 command."],
  counts: { adds: 1, unread: 1, guessed: 0 },
  change: null,
  program: "",
  ...more,
});
const row = (number: number, more: Partial<Row> = {}): Row => ({
  row: number,
  what: "adds",
  name: "Save",
  command: "save",
  found_by: "",
  guessed: false,
  cells: {
    name: { text: "Save", read: "Save", state: "sure", says: "" },
    keys: { text: "Ctrl+S", read: "Control+S", state: "sure", says: "" },
  },
  differs: [],
  faults: [],
  ...more,
});
const bad = row(3, {
  what: "unread",
  cells: { keys: { text: "as ever", read: "", state: "unread", says: "" } },
  faults: [{ place: "row 3, keys", says: "as ever: No key is called as.", cure: "Write it anew." }],
});
const ROWS = { "GET /api/command-lists/l1/rows": { total: 2, start: 0, rows: [row(2), bad] } };
const CATALOGUE = { "GET /api/catalogue": { programs: [] } };

describe("a list of commands", () => {
  it("says on which platforms keys count that name none, and takes others", async () => {
    const sent = stage(
      <ListView />,
      {
        ...session("editor"),
        ...ROWS,
        ...CATALOGUE,
        "GET /api/command-lists/l1": list(),
        "PUT /api/command-lists/l1": list(),
      },
      "/?list=l1",
    );
    const where = await screen.findByRole("group", { name: "Where keys count that name no platform" });
    const pressed = [...where.querySelectorAll("button")].filter((b) => b.getAttribute("aria-pressed") === "true");
    expect(pressed.map((b) => b.textContent)).toEqual(["Windows", "Linux"]);
    const mac = [...where.querySelectorAll("button")].find((b) => b.textContent === "macOS");
    if (mac) fireEvent.click(mac);
    await waitFor(() =>
      expect(sent.find((s) => s.method === "PUT")?.body).toMatchObject({ platforms: ["windows", "linux", "macos"] }),
    );
  });

  it("reads what is pasted with its table, at once", async () => {
    const sent = stage(<ListView />, {
      ...session("editor"),
      ...ROWS,
      ...CATALOGUE,
      "POST /api/command-lists/pasted": list(),
      "GET /api/command-lists/l1": list(),
    });
    const field = await screen.findByLabelText("Paste the table here");
    const paste = createEvent.paste(field, {
      clipboardData: { getData: (kind: string) => (kind === "text/html" ? "<table></table>" : "Save\tCtrl+S") },
    });
    fireEvent(field, paste);
    expect(await screen.findByText("What keys.csv says")).toBeTruthy();
    expect(sent.find((s) => s.path.endsWith("/pasted"))?.body).toEqual({
      text: "Save\tCtrl+S",
      html: "<table></table>",
    });
  });

  it("says what can't be read at its row, where it is typed over", async () => {
    const sent = stage(
      <ListView />,
      {
        ...session("editor"),
        ...ROWS,
        ...CATALOGUE,
        "GET /api/command-lists/l1": list(),
        "PUT /api/command-lists/l1": list(),
      },
      "/?list=l1",
    );
    expect(await screen.findByText(/No key is called as. Write it anew/)).toBeTruthy();
    const cell = screen.getByLabelText("keys of row 3");
    expect(cell.getAttribute("aria-invalid")).toBe("true");
    fireEvent.change(cell, { target: { value: "Ctrl+P" } });
    fireEvent.blur(cell);
    await waitFor(() =>
      expect(sent.find((s) => s.method === "PUT")?.body).toMatchObject({ corrections: { 3: { keys: "Ctrl+P" } } }),
    );
  });

  it("is taken once it is said which program it is", async () => {
    const named = list();
    const now = list({
      asked: { ...named.asked, new: { name: "Weir Desk", version: "2", kind: "office", platforms: ["windows"] } },
    });
    const sent = stage(
      <ListView />,
      {
        ...session("editor"),
        ...ROWS,
        ...CATALOGUE,
        "GET /api/command-lists/l1": named,
        "PUT /api/command-lists/l1": now,
        "POST /api/command-lists/l1/take": list({ ...now, state: "taken", program: "weir-desk" }),
      },
      "/?list=l1",
    );
    expect((await screen.findByRole<HTMLButtonElement>("button", { name: "Take 1 command" })).disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/Its name/), { target: { value: "Weir Desk" } });
    fireEvent.click(screen.getByRole("button", { name: "It is this one" }));
    await waitFor(() =>
      expect(screen.getByRole<HTMLButtonElement>("button", { name: "Take 1 command" }).disabled).toBe(false),
    );
    expect(sent.find((s) => s.method === "PUT")?.body).toMatchObject({ new: { name: "Weir Desk", version: "1.0" } });
    fireEvent.click(screen.getByRole("button", { name: "Take 1 command" }));
    const next = await screen.findByRole("link", { name: "Find their tasks" });
    expect(next.getAttribute("href")).toBe("/programs/matching?program=weir-desk&version=2");
  });

  it("is made a newer version of a program that is known, and leads to what the upgrade means", async () => {
    const asked = { ...list().asked, program: "weir-desk@2" };
    const newer = list({ asked: { ...asked, next_version: "3 b" }, counts: { same: 4, gone: 1 } });
    const sent = stage(
      <ListView />,
      {
        ...session("editor"),
        ...ROWS,
        "GET /api/catalogue": { programs: [{ id: "weir-desk", version: "2", name: "Weir Desk", table: false }] },
        "GET /api/command-lists/l1": list({ asked }),
        "PUT /api/command-lists/l1": newer,
        "POST /api/command-lists/l1/take": list({ ...newer, state: "taken", program: "weir-desk" }),
      },
      "/?list=l1",
    );
    const field = await screen.findByLabelText("Newer version");
    fireEvent.change(field, { target: { value: " 3 b " } });
    fireEvent.keyDown(field, { key: "Enter" });
    fireEvent.click(await screen.findByRole("button", { name: "Make version 3 b" }));
    expect(sent.find((s) => s.method === "PUT")?.body).toMatchObject({ next_version: "3 b", lacking: "gone" });
    const next = await screen.findByRole("link", { name: "See what the upgrade means" });
    expect(next.getAttribute("href")).toBe("/programs/upgrade?of=weir-desk&old=2&new=3+b");
  });

  it("tells how far a long one is", async () => {
    stage(
      <ListView />,
      {
        ...session("editor"),
        ...CATALOGUE,
        "GET /api/command-lists/l1": list({ state: "checking", done: 400, total: 5000 }),
      },
      "/?list=l1",
    );
    expect(await screen.findByText(/400 of 5,000 rows/)).toBeTruthy();
    expect(screen.getByRole("progressbar").getAttribute("aria-valuenow")).toBe("8");
  });
});
