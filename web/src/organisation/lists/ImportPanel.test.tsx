import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../../testing/stage";
import { ImportPanel } from "./ImportPanel";
import type { ListImport } from "./useImport";

const COLUMNS = [
  { id: "name", title: "Name", says: "", needed: true },
  { id: "department", title: "Department", says: "", needed: true },
];

function found(parts: Partial<ListImport> = {}): ListImport {
  return {
    id: "one",
    kind: "people",
    name: "people.csv",
    heads: ["Who", "Where"],
    first: [["Ada", "Harbour"]],
    columns: COLUMNS,
    matching: { name: 0 },
    state: "new",
    done: 0,
    total: 0,
    told: [],
    faults: [],
    guessed: [],
    bad: 0,
    good: 0,
    says: "",
    change: null,
    ...parts,
  };
}

function show(state: ListImport, more = {}) {
  const sent = stage(<ImportPanel kinds={["people"]} />, {
    ...session("editor"),
    "POST /api/organisation/lists/people": state,
    "GET /api/organisation/imports/one": state,
    "POST /api/organisation/imports/one/check": { ...state, state: "checking", done: 200, total: 5000 },
    "POST /api/organisation/imports/one/take": { ...state, state: "taking" },
    ...more,
  });
  return sent;
}

async function upload() {
  await screen.findByRole("button", { name: "Bring in people" });
  const input = document.querySelector("input[type=file]") as HTMLInputElement;
  fireEvent.change(input, { target: { files: [new File(["Who"], "people.csv")] } });
  await screen.findByText("people.csv");
}

describe("a list on its way in", () => {
  it("is matched before it is checked, and says what is missing", async () => {
    const sent = show(found());
    await upload();
    expect(screen.getByText("Without Department, rows can change what is known and add nothing.")).toBeTruthy();
    fireEvent.mouseDown(screen.getByRole("combobox", { name: "Department" }));
    fireEvent.click(screen.getByRole("option", { name: "Where" }));
    fireEvent.click(screen.getByRole("button", { name: "Check it" }));
    await waitFor(() => expect(screen.getByText("Checking: 200 of 5000 rows")).toBeTruthy());
    expect(sent.find((s) => s.path.endsWith("/check"))?.body).toEqual({ matching: { name: 0, department: 1 } });
  });
  it("gives a heading to one column only", async () => {
    const sent = show(found());
    await upload();
    fireEvent.mouseDown(screen.getByRole("combobox", { name: "Department" }));
    fireEvent.click(screen.getByRole("option", { name: "Who" }));
    fireEvent.click(screen.getByRole("button", { name: "Check it" }));
    await waitFor(() =>
      expect(sent.find((s) => s.path.endsWith("/check"))?.body).toEqual({ matching: { department: 0 } }),
    );
  });
  it("tells every fault with its row, and takes the good rows alone", async () => {
    const faults = [{ place: "row 3, Department", says: "There is no department Attic.", cure: "Add it first." }];
    const sent = show(found({ state: "checked", told: ["Adds 2 people."], faults, good: 2, bad: 1 }));
    await upload();
    expect(screen.getByRole("list", { name: "Faults" }).textContent).toContain(
      "row 3, Department There is no department",
    );
    fireEvent.click(screen.getByRole("button", { name: "Take the 2 good rows, leave 1" }));
    await waitFor(() => expect(sent.find((s) => s.path.endsWith("/take"))?.body).toEqual({ only_good: true }));
  });
  it("can't be taken where nothing in it is good", async () => {
    show(found({ state: "checked", told: ["Leaves as they are: 3 people."] }));
    await upload();
    expect(screen.queryByRole("button", { name: /^Take/ })).toBeNull();
    expect(screen.getByRole("button", { name: "Check it again" })).toBeTruthy();
  });
  it("says why nothing was taken", async () => {
    show(found({ state: "failed", says: "Nothing was taken. Jorun changed it in the meantime." }));
    await upload();
    expect(screen.getByRole("alert").textContent).toContain("Nothing was taken.");
  });
});
