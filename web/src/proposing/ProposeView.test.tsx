import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../testing/stage";
import { ProposeView } from "./ProposeView";
import type { Line, Point, Proposal } from "./useProposals";

const keys = (text: string) => ({ text, words: text.replaceAll("+", " "), caps: [text.split("+")] });
const line = (task: string, now: string, before: string | null, more: Partial<Line> = {}): Line => ({
  tasks: [{ task, name: task, keys: keys(now), before: before === null ? null : keys(before) }],
  layouts: [],
  people: 40,
  relearned: 0,
  follow: ["Till"],
  keep: [],
  why: ["As people have it."],
  second: null,
  pinned: false,
  ...more,
});
const figures = (total: number, agree: number) => ({
  points: {
    relearned: 0,
    first: 0,
    not_agreeing: 0,
    lost: 0,
    cleared: 0,
    lines: 0,
    moved: 0,
    clashes: 0,
    meanings: 0,
    shapes: 0,
    total,
  },
  relearned: 0,
  agree,
  could: 100,
  worst: 0,
});
const point = (more: Partial<Point> = {}): Point => ({
  platform: "windows",
  platforms: ["windows"],
  status: "optimal",
  gap: 0,
  over_all: true,
  relearned: 300,
  today: figures(9000, 40),
  judged: figures(2000, 88),
  lines: [
    line("Quote the fare", "Control+K", "Control+E", {
      relearned: 300,
      second: 1200,
      why: ["Ctrl J would be better by itself, but Bold has it in Folio, for 9 people."],
    }),
    line("Save", "Control+S", "Control+S"),
  ],
  changes: [
    {
      program: "folio",
      program_name: "Folio",
      command: "link",
      name: "Insert a link",
      does: "moves",
      keys: keys("Control+L"),
      people: 9,
      why: "It makes room for Quote the fare.",
    },
  ],
  makes: [],
  split: [],
  worth: { says: ["About 40 minutes a week saved."], weighed: [] },
  ...more,
});
const proposal = (more: Partial<Proposal> = {}): Proposal => ({
  id: "p1",
  state: "done",
  asked: {
    platform: "windows",
    together: [],
    pins: [],
    kept: [],
    bans: ["F9"],
    spared: [],
    departments: [],
    without: [],
    elsewhere: {},
    budget: null,
    seconds: 60,
    curve: true,
  },
  doing: "",
  best: null,
  bound: null,
  says: "",
  by: "Ines",
  at: "2026-11-28T09:00:00Z",
  points: [
    { id: 1, relearned: 100, worth: 5000 },
    { id: 2, relearned: 300, worth: 7000 },
  ],
  ...more,
});
const small = point({
  relearned: 100,
  over_all: false,
  judged: figures(4000, 70),
  lines: [line("Quote the fare", "Control+E", "Control+E"), line("Save", "Control+S", "Control+S")],
});
const answers = {
  ...session("editor"),
  "GET /api/proposals": [proposal()],
  "GET /api/proposals/p1": proposal(),
  "GET /api/proposals/p1/points/2": point(),
  "GET /api/proposals/p1/points/1": small,
  "GET /api/tasks": { tasks: [{ id: "save", name: "Save" }], families: [], without_task: 0 },
  "GET /api/catalogue": { programs: [] },
  "GET /api/organisation": { departments: [{ id: "pier", name: "Pier" }] },
};

describe("a proposal for the standard", () => {
  it("is walked along its curve by keys, its rows told with why", async () => {
    stage(<ProposeView />, answers);
    expect(await screen.findByText("Quote the fare")).toBeTruthy();
    expect(screen.queryByText("Save")).toBeNull();
    expect(screen.getByText(/Control E before\. Ctrl J would be better/)).toBeTruthy();
    expect(screen.getByText(/Any other key costs about 1,200 points more/)).toBeTruthy();
    expect(screen.getByText("Proven: none for so much relearning is better.")).toBeTruthy();
    expect(screen.getByText("About 40 minutes a week saved.")).toBeTruthy();
    const curve = screen.getByRole("slider");
    expect(curve.getAttribute("aria-valuetext")).toBe(
      "300 relearned, worth 7,000 points; 88 % of what could agree does",
    );
    fireEvent.keyDown(curve, { key: "ArrowLeft" });
    await waitFor(() => expect(curve.getAttribute("aria-valuenow")).toBe("100"));
    expect(await screen.findByText("Nothing differs.")).toBeTruthy();
    expect(screen.getByText("Proven among the cheapest keys of each task.")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Keep theirs, make room 1" }));
    expect(await screen.findByText("It makes room for Quote the fare.")).toBeTruthy();
  });

  it("says what is known of the next point while the rest of it is under way, and nothing is done meanwhile", async () => {
    let come: (point: Point) => void = () => undefined;
    const under = new Promise<Point>((done) => {
      come = done;
    });
    stage(<ProposeView />, { ...answers, "GET /api/proposals/p1/points/1": () => under });
    await screen.findByText("Quote the fare");
    const curve = screen.getByRole("slider");
    fireEvent.keyDown(curve, { key: "ArrowLeft" });
    await waitFor(() => expect(curve.getAttribute("aria-valuetext")).toBe("100 relearned, worth 5,000 points"));
    expect(screen.getByText("Quote the fare").closest("[inert]")).toBeTruthy();
    expect(screen.getByText("Make it a draft of the standard").closest("[inert]")).toBeTruthy();
    // Which rows are looked at is nobody's point: that can be chosen meanwhile.
    const all = screen.getByRole("button", { name: /^All tasks/ });
    expect(all.closest("[inert]")).toBeNull();
    fireEvent.click(all);
    await waitFor(() => expect(all.getAttribute("aria-pressed")).toBe("true"));
    come(small);
    await screen.findByText("Proven among the cheapest keys of each task.");
    expect(document.querySelector("[inert]")).toBeNull();
  });

  it("is held against another point", async () => {
    stage(<ProposeView />, answers, "/?at=2&beside=1");
    expect(await screen.findByText(/the plan with 100 relearned/)).toBeTruthy();
    expect(await screen.findByText(/Control E before/)).toBeTruthy();
  });

  it("is asked what it would come to without a key, and held against the plan that has it", async () => {
    const beside = { proposal: "p1", point: 2 };
    const without = [{ task: "Quote the fare", keys: "Control+K" }];
    const next = proposal({
      id: "p2",
      asked: { ...proposal().asked, without, beside, curve: false },
      points: [{ id: 5, relearned: 280, worth: 6500 }],
    });
    const other = point({
      judged: figures(2500, 80),
      lines: [line("Quote the fare", "F8", "Control+E"), line("Save", "F7", null)],
    });
    const sent = stage(<ProposeView />, {
      ...answers,
      "POST /api/proposals": next,
      "GET /api/proposals/p2": next,
      "GET /api/proposals/p2/points/5": other,
    });
    fireEvent.click(await screen.findByRole("button", { name: "Do without it: Control K for Quote the fare" }));
    expect(await screen.findByText("Doing without the key costs 500 points.")).toBeTruthy();
    expect(sent.find((s) => s.method === "POST")?.body).toMatchObject({ without, beside, budget: null, curve: false });
    expect(screen.getByText(/Control K before/)).toBeTruthy();
    expect(screen.getByText(/Control S before/)).toBeTruthy();
    expect(screen.getByText(/the plan that has the key/)).toBeTruthy();
  });

  it("is of several platforms in one go, whose rows are looked at one platform after the other", async () => {
    const both = proposal({ asked: { ...proposal().asked, together: ["macos"] } });
    const plan = point({
      platforms: ["windows", "macos"],
      lines: [
        line("Quote the fare", "Control+K", "Control+E", { platform: "windows", relearned: 300 }),
        line("Quote the fare", "Meta+K", "Meta+E", { platform: "macos", relearned: 20 }),
      ],
      changes: [],
    });
    const sent = stage(<ProposeView />, {
      ...answers,
      "GET /api/proposals/p1": both,
      "GET /api/proposals/p1/points/2": plan,
    });
    expect(await screen.findByText(/^Windows and macOS/)).toBeTruthy();
    expect(await screen.findByText("300 relearn it")).toBeTruthy();
    expect(screen.queryByText("20 relearn it")).toBeNull();
    expect(screen.getByRole("button", { name: "Pin Quote the fare" })).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: /^Platform/ }));
    fireEvent.click(await screen.findByRole("menuitem", { name: "macOS" }));
    expect(await screen.findByText("20 relearn it")).toBeTruthy();
    expect(screen.queryByText("300 relearn it")).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Do without it: Meta K for Quote the fare" }));
    const there = [{ task: "Quote the fare", keys: "Meta+K" }];
    await waitFor(() =>
      expect(sent.find((s) => s.method === "POST")?.body).toMatchObject({
        without: [],
        elsewhere: { macos: { pins: [], bans: [], without: there } },
      }),
    );
    fireEvent.click(await screen.findByRole("button", { name: "Pin Quote the fare" }));
    expect(await screen.findByRole("button", { name: "Unpin Quote the fare on macOS" })).toBeTruthy();
  });

  it("lies on a keyboard, whose keys say their tasks", async () => {
    const cap = (code: string, x: number, more: object) => ({
      ...{ code, x, y: 1, w: 1, below: null, cap: code.at(-1), second: "", modifier: null, owner: "free" },
      ...{ says: "", short: "", sentence: "No task.", source: "", reach: 0, ...more },
    });
    const LENS = {
      ...{ setup: "counters", name: "Counters", platform: "windows", layout: "us", people: 3 },
      focuses: [{ program: "till", name: "Till", scopes: [{ id: "window", name: "Window", takes_text: false }] }],
    };
    const drawn = {
      setup: "counters",
      setup_name: "Counters",
      choices: [
        { held: "Control", caps: ["Ctrl"], tasks: 2 },
        { held: "alone", caps: [], tasks: 1 },
      ],
      held: ["Control"],
      width: 15,
      rows: 5,
      keys: [
        cap("KeyK", 1, {
          owner: "program",
          says: "Quote the fare",
          short: "Quote",
          sentence: "Quote the fare. New here.",
        }),
        cap("KeyE", 2, { sentence: "No task. Quote the fare until now." }),
      ],
      differs: ["KeyK", "KeyE"],
    };
    const sent = stage(
      <ProposeView />,
      {
        ...answers,
        "GET /api/lenses": [LENS],
        "GET /api/proposals/p1/points/2/keyboard": drawn,
      },
      "/?rows=keyboard",
    );
    const key = await screen.findByRole("button", { name: /^K, Quote the fare/ });
    fireEvent.focus(key);
    expect(screen.getByText("K: Quote the fare. New here.")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "alone 1" }));
    await waitFor(() => expect(sent.filter((s) => s.path.endsWith("/keyboard")).length).toBeGreaterThan(1));
  });

  it("is made a draft, and its keys are pinned for the next one", async () => {
    const sent = stage(<ProposeView />, {
      ...answers,
      "POST /api/proposals/p1/points/2/draft": { id: 7, name: "Proposal" },
      "POST /api/proposals": proposal({ id: "p2" }),
      "GET /api/proposals/p2": proposal({ id: "p2" }),
      "GET /api/proposals/p2/points/2": point(),
    });
    fireEvent.click(await screen.findByRole("button", { name: "Make it a draft of the standard" }));
    await waitFor(() =>
      expect(sent.find((s) => s.path.endsWith("/draft"))?.body).toEqual({
        name: "Proposal for Windows, 300 keys relearned",
      }),
    );
    fireEvent.click(screen.getByRole("button", { name: "Pin Quote the fare" }));
    fireEvent.click(await screen.findByRole("button", { name: "Find the best keys" }));
    await waitFor(() =>
      expect(sent.find((s) => s.method === "POST" && s.path === "/api/proposals")?.body).toMatchObject({
        pins: [{ task: "Quote the fare", keys: "Control+K", family: false }],
        bans: ["F9"],
      }),
    );
  });

  it("says how far it is and is stopped, and why it failed", async () => {
    const sent = stage(<ProposeView />, {
      ...answers,
      "GET /api/proposals/p1": proposal({
        state: "working",
        points: [],
        doing: "Choosing among all keys",
        best: 2400,
        bound: 2000,
      }),
      "POST /api/proposals/p1/stop": proposal(),
    });
    expect(
      await screen.findByText("Choosing among all keys: 2,400 points so far, none below 2,000 points"),
    ).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Stop with the best so far" }));
    await waitFor(() => expect(sent.some((s) => s.path.endsWith("/stop"))).toBe(true));
  });

  it("is gone on with where it was stopped", async () => {
    const sent = stage(<ProposeView />, {
      ...answers,
      "GET /api/proposals/p1": proposal({ state: "stopped" }),
      "POST /api/proposals/p1/on": proposal({ state: "working" }),
    });
    await screen.findByText("It was stopped with what there was.");
    fireEvent.click(screen.getByRole("button", { name: "Go on from there" }));
    await waitFor(() => expect(sent.some((s) => s.path.endsWith("/on"))).toBe(true));
  });

  it("is asked for where there is none, with pins and bans", async () => {
    const sent = stage(<ProposeView />, {
      ...answers,
      "GET /api/proposals": [],
      "POST /api/proposals": [400, { title: "There is no task attic.", cure: "Pin a task that there is." }],
    });
    fireEvent.change(await screen.findByLabelText("Keys to ban"), { target: { value: "F9" } });
    fireEvent.click(screen.getByRole("button", { name: "Ban" }));
    fireEvent.change(screen.getByLabelText("Keys relearned at most"), { target: { value: "250" } });
    fireEvent.mouseDown(screen.getByLabelText("Together with"));
    fireEvent.click(await screen.findByRole("option", { name: "Linux" }));
    fireEvent.mouseDown(await screen.findByLabelText("Pin and ban on"));
    fireEvent.click(await screen.findByRole("option", { name: "Linux" }));
    fireEvent.change(screen.getByLabelText("Keys to ban"), { target: { value: "F7" } });
    fireEvent.click(screen.getByRole("button", { name: "Ban" }));
    expect(screen.getByRole("button", { name: "Allow F9 on Windows" })).toBeTruthy();
    expect(screen.getByRole("button", { name: "Allow F7 on Linux" })).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Find the best keys" }));
    expect(await screen.findByText(/There is no task attic/)).toBeTruthy();
    expect(sent.find((s) => s.method === "POST")?.body).toMatchObject({
      bans: ["F9"],
      budget: 250,
      together: ["linux"],
      elsewhere: { linux: { pins: [], bans: ["F7"], without: [] } },
    });
  });

  it("leaves departments alone, and pins a task with its family", async () => {
    const sent = stage(<ProposeView />, {
      ...answers,
      "GET /api/proposals": [],
      "GET /api/tasks": {
        tasks: [
          { id: "next", name: "Next" },
          { id: "back", name: "Back" },
        ],
        families: [{ id: "walk", name: "Walk", step: "shift", members: ["next", "back"] }],
        without_task: 0,
      },
      "POST /api/proposals": [400, { title: "The family of next can't keep its shape with Shift+F3.", cure: "" }],
    });
    fireEvent.mouseDown(await screen.findByLabelText("Departments left alone"));
    fireEvent.click(await screen.findByRole("option", { name: "Pier" }));
    expect(screen.getByText("Their people press everything as before.")).toBeTruthy();
    fireEvent.change(screen.getByRole("combobox", { name: "Task" }), { target: { value: "Next" } });
    fireEvent.click(await screen.findByRole("option", { name: "Next" }));
    fireEvent.click(screen.getByLabelText("The whole family, Back too"));
    fireEvent.change(screen.getByLabelText("Its keys"), { target: { value: "Shift+F3" } });
    fireEvent.click(screen.getByRole("button", { name: "Pin" }));
    expect(screen.getByText(/with its family/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Find the best keys" }));
    expect(await screen.findByText(/can't keep its shape/)).toBeTruthy();
    expect(sent.find((s) => s.method === "POST")?.body).toMatchObject({
      departments: ["pier"],
      pins: [{ task: "next", keys: "Shift+F3", family: true }],
    });
  });
});
