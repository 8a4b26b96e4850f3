import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { lens, NO_WORTH, session, shortcut, stage } from "../testing/stage";
import { StandardView } from "./StandardView";
import { cell, matrix, task } from "./testing";
import type { Plan, Standard } from "./useStandard";

const PLAN: Plan = {
  lines: [{ task: "save", name: "Save", platform: "windows", layouts: [], before: "F9", after: "F8" }],
  programs: ["Sheet", "Mail"],
  entries: 2,
  people: 31,
  stays: [{ program: "Chart", task: "Save", why: "House says otherwise", people: 12 }],
  learners: [
    { people: 31, setups: ["counters"], relearn: [{ program: "Sheet", command: "Keep", before: "F9", after: "F8" }] },
  ],
  solves: [],
  makes: ["Sum in Sheet, F8 (one stroke, one scope)"],
  broken: ["Walking"],
  before: { agree: 1, could: 2, people_agree: 31, people_could: 62 },
  after: { agree: 2, could: 2, people_agree: 62, people_could: 62 },
  worth: NO_WORTH,
};
const ROW = {
  task: "save",
  name: "Save",
  family: [],
  lines: [],
  choices: [
    { kind: "free", shortcut: shortcut("F8"), reasons: ["right hand"], people: 0, programs: [], reach: 9 },
    {
      kind: "pressed",
      shortcut: shortcut("F10"),
      reasons: ["31 people press it today"],
      people: 31,
      programs: ["Mail"],
      reach: null,
    },
  ],
  had: [
    {
      program: "mail",
      program_name: "Mail",
      state: "differs",
      keys: [shortcut("F10")],
      layer: "House",
      why: "",
      setups: ["counters"],
      people: 31,
      clash: null,
    },
  ],
  exceptions: [
    {
      key: "save in mail on windows",
      program: "mail",
      program_name: "Mail",
      platform: "windows",
      layouts: [],
      reason: "Learned",
      owner: "Ines",
      until: "2020-01-01",
      ran_out: true,
    },
  ],
};
const DATA = matrix([
  task("save", { group: "Files", cells: [cell("sheet", "agrees"), cell("mail", "differs", "F10")] }),
  task("next", { group: "Editing", family: "walk", line: null, cells: [cell("sheet", "no_line", "F4")] }),
]);

interface Played {
  data?: Standard;
  address?: string;
  role?: "reader" | "editor";
  answers?: Record<string, unknown>;
}

function show({ data = DATA, address = "/", role = "editor", answers = {} }: Played = {}) {
  return stage(
    <StandardView />,
    {
      ...session(role),
      "GET /api/lenses": [lens()],
      "GET /api/standard": data,
      "GET /api/standard/tasks/save": ROW,
      "GET /api/standard/drafts": [],
      "GET /api/standard/findings": { kinds: [["many_keys", "One task, many keys"]], findings: [] },
      "GET /api/standard/sets": [],
      "GET /api/standard/release": PLAN,
      "POST /api/standard/plan": PLAN,
      "POST /api/standard/lines": { id: 7, title: "Set Save" },
      "POST /api/standard/exceptions": { id: 8, title: "Back again" },
      "POST /api/standard/drafts": {
        id: 3,
        name: "What if: Save",
        by: "Ines",
        mine: true,
        at: "2026-11-25T08:00:00Z",
        lines: 1,
        contradictions: [],
      },
      ...answers,
    },
    address,
  );
}

async function unfolded() {
  fireEvent.click((await screen.findAllByRole("gridcell"))[0] as HTMLElement);
  return screen.findByRole("list", { name: "Who has what for Save" });
}

describe("the standard", () => {
  it("tells how far we are, and each figure chooses what it counts", async () => {
    show();
    const figure = await screen.findByRole("button", { name: /50 % of what could agree does/ });
    expect(screen.getAllByRole("row").length).toBe(5);
    fireEvent.click(screen.getByRole("button", { name: "Departures 3" }));
    await waitFor(() => expect(screen.getAllByRole("row").length).toBe(3));
    expect(screen.getByRole("button", { name: "Departures 3" }).getAttribute("aria-pressed")).toBe("true");
    fireEvent.click(figure);
    await waitFor(() => expect(figure.getAttribute("aria-pressed")).toBe("true"));
  });
  it("draws a cell for each program and says it in words", async () => {
    show();
    expect(await screen.findByRole("gridcell", { name: "Sheet: agrees; 31 people" })).toBeTruthy();
    expect(screen.getByRole("gridcell", { name: "Mail: differs, F10; 31 people" })).toBeTruthy();
    expect(screen.getByRole("gridcell", { name: "Mail: Next is not offered" })).toBeTruthy();
    expect(screen.getByRole("rowheader", { name: /Next/ })).toBeTruthy();
  });
  it("tells who has what, and what a choice would do before it is saved", async () => {
    const sent = show();
    const had = await unfolded();
    expect(within(had).getByText(/differs, House set it/)).toBeTruthy();
    expect(screen.getByText(/which is over: it counts again/)).toBeTruthy();
    fireEvent.click(screen.getByRole("radio", { name: /Easiest that is free/ }));
    const told = await screen.findByRole("status", { name: "What it would do" });
    expect(told.textContent).toContain("Changes 2 entries in Sheet and Mail: 31 people press something new.");
    expect(told.textContent).toContain("Chart won't follow (12 people): House says otherwise.");
    expect(told.textContent).toContain("Walking keeps one shape no longer.");
    expect(told.textContent).toContain(
      "Once released, agreement goes from 50 % to 100 %, by people from 50 % to 100 %.",
    );
    fireEvent.click(screen.getByRole("button", { name: "Save the line" }));
    await screen.findByText("Set Save");
    const [body] = sent.filter((s) => s.path === "/api/standard/lines").map((s) => s.body);
    expect(body).toMatchObject({ seen: "d1", lines: [{ task: "save", platform: "windows", keys: "F8" }] });
  });
  it("asks whose line counts where two made something else of it", async () => {
    const refusal = [
      409,
      {
        title: "Jorun made something else of the same.",
        status: 409,
        by: "Jorun",
        contradictions: [
          {
            section: "lines",
            key: "save on windows",
            base: { keys: "F6" },
            ours: { keys: "F8" },
            theirs: { keys: "F7" },
          },
        ],
      },
    ];
    const sent = show({ answers: { "POST /api/standard/lines": refusal } });
    await unfolded();
    fireEvent.click(screen.getByRole("radio", { name: /Easiest that is free/ }));
    await screen.findByRole("status", { name: "What it would do" });
    fireEvent.click(screen.getByRole("button", { name: "Save the line" }));
    const both = await screen.findByText("Jorun changed the same while you looked at it.");
    expect(both).toBeTruthy();
    fireEvent.click(screen.getByRole("radio", { name: "Yours: F8" }));
    fireEvent.click(screen.getByRole("button", { name: "Save with these" }));
    await waitFor(() => expect(sent.filter((s) => s.path === "/api/standard/lines").length).toBe(2));
    expect(sent.filter((s) => s.path === "/api/standard/lines")[1]?.body).toMatchObject({
      chosen: [{ section: "lines", key: "save on windows", value: { keys: "F8" }, sent: false }],
    });
    // Or neither's: as it was before both.
    fireEvent.click(screen.getByRole("radio", { name: "As it was before both: F6" }));
    fireEvent.click(screen.getByRole("button", { name: "Save with these" }));
    await waitFor(() => expect(sent.filter((s) => s.path === "/api/standard/lines").length).toBe(3));
    expect(sent.filter((s) => s.path === "/api/standard/lines")[2]?.body).toMatchObject({
      chosen: [{ section: "lines", key: "save on windows", value: { keys: "F6" }, sent: false }],
    });
    // Or a fourth thing: what stands in the form then.
    fireEvent.click(screen.getByRole("radio", { name: "Something else: change it above, and that counts" }));
    fireEvent.click(screen.getByRole("radio", { name: "No line for it any more" }));
    fireEvent.click(screen.getByRole("button", { name: "Save with these" }));
    await waitFor(() => expect(sent.filter((s) => s.path === "/api/standard/lines").length).toBe(4));
    expect(sent.filter((s) => s.path === "/api/standard/lines")[3]?.body).toMatchObject({
      lines: [{ task: "save", keys: null }],
      chosen: [{ section: "lines", key: "save on windows", value: null, sent: true }],
    });
  });
  it("keeps a choice in a draft", async () => {
    const sent = show();
    await unfolded();
    fireEvent.click(screen.getByRole("radio", { name: /Easiest that is free/ }));
    fireEvent.click(screen.getByRole("button", { name: "Try it in a draft" }));
    await screen.findByText("Kept in the draft What if: Save");
    expect(sent.find((s) => s.path === "/api/standard/drafts" && s.method === "POST")?.body).toMatchObject({
      name: "What if: Save",
      lines: [{ keys: "F8" }],
    });
  });
  it("lets readers look, and offers them nothing to change", async () => {
    show({ role: "reader" });
    await unfolded();
    expect(screen.queryByRole("button", { name: "Save the line" })).toBeNull();
    expect(screen.queryByRole("radio")).toBeNull();
  });
  it("says what releasing would do, and who may", async () => {
    show({ address: "/?release=1" });
    const panel = await screen.findByRole("region", { name: "Release the standard" });
    expect(panel.textContent).toContain("Revision 3 is saved, revision 1 is released.");
    expect(await within(panel).findByText("A releaser releases the standard.")).toBeTruthy();
  });
  it("says where there is nothing", async () => {
    show({ address: "/?s.words=nothing-like-it" });
    expect(await screen.findByText("No task is like that")).toBeTruthy();
    fireEvent.click(screen.getAllByRole("button", { name: "Ask for all" })[0] as HTMLElement);
    expect(await screen.findByRole("grid", { name: "Tasks by programs" })).toBeTruthy();
    show({ address: "/?show=findings" });
    expect(await screen.findByText("Nothing to look at")).toBeTruthy();
  });
});
