import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { lens, session, shortcut, stage } from "../../testing/stage";
import { group } from "../testing";
import type { Asked, Way } from "./useWays";
import { WaysPanel } from "./WaysPanel";

const clash = group("Quote the fare", { identity: "abc" });
const { subject } = clash;
const way = (parts: Partial<Way>): Way => ({
  key: "move:Control+E",
  kind: "move",
  shortcut: shortcut("Control+E"),
  subject,
  reach: 7,
  reach_before: 14,
  reasons: ["same key as before"],
  profile: "House",
  entries: 1,
  people: 31,
  setups: ["Ticket counters"],
  solves: [{ kind: "swallows_text", says: "one", uncovered: false }],
  makes: [],
  remains: [],
  scopes: [],
  worth: { says: ["Saves about 11 minutes a week."], weighed: [] },
  ...parts,
});
const ways = [
  way({}),
  way({
    key: "move:F9",
    shortcut: shortcut("F9"),
    makes: [
      { kind: "same_scope", says: "Calculate again, F9", uncovered: false },
      { kind: "shadow", says: "Go on, F8", uncovered: true },
    ],
  }),
  way({ key: "allow", kind: "allow", shortcut: null, solves: [], entries: 0 }),
];
const answers = {
  "GET /api/lenses": [lens()],
  "GET /api/clashes/abc/ways": ways,
  "GET /api/clashes/abc/standard": { seen: "", asked: [] },
  "POST /api/clashes/abc/decision": { id: 7, title: "Moved Quote the fare" },
};

function show(role: "reader" | "editor", more = {}) {
  const onDecided = vi.fn();
  const sent = stage(<WaysPanel group={clash} onDecided={onDecided} />, { ...answers, ...session(role), ...more });
  return { sent, onDecided, decisions: () => sent.filter((s) => s.method === "POST").map((s) => s.body) };
}

describe("ways out", () => {
  it("tell what each solves and makes before anything is decided", async () => {
    const { decisions } = show("editor");
    expect(await screen.findByText("solves 1 clash, makes none")).toBeTruthy();
    expect(screen.getByText("solves 1 clash, makes 1: Calculate again, F9, uncovers 1: Go on, F8")).toBeTruthy();
    expect(screen.getAllByText(/Reach 7, was 14. 31 people in Ticket counters relearn one key./)).toHaveLength(2);
    expect(decisions()).toEqual([]);
  });
  it("are chosen by digits and decided with one press", async () => {
    const { decisions, onDecided } = show("editor");
    const first = (await screen.findAllByRole("radio"))[0] as HTMLElement;
    fireEvent.keyDown(first, { key: "2" });
    expect(screen.getAllByRole<HTMLInputElement>("radio")[1]?.checked).toBe(true);
    fireEvent.click(await screen.findByRole("button", { name: "Decide" }));
    await waitFor(() => expect(onDecided).toHaveBeenCalled());
    expect(decisions()).toEqual([{ setup: "counters", way: "move:F9", reason: "", until: null, target: null }]);
    expect(await screen.findByText("Moved Quote the fare")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Undo this" })).toBeTruthy();
  });
  it("take a reason before a clash is allowed", async () => {
    const { decisions } = show("editor");
    fireEvent.click(await screen.findByRole("radio", { name: /^Allow/ }));
    const allow = await screen.findByRole<HTMLButtonElement>("button", { name: "Allow it" });
    expect(allow.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/Why it may stay/), { target: { value: "Nobody types it" } });
    expect(allow.disabled).toBe(false);
    fireEvent.click(allow);
    await waitFor(() => expect(decisions()).toHaveLength(1));
    expect(decisions()[0]).toMatchObject({ way: "allow", reason: "Nobody types it" });
  });
  it("close and say who was faster", async () => {
    const conflict = {
      title: "Jorun decided this clash already.",
      status: 409,
      detail: "Moved it.",
      cure: "",
      safe: "Nothing lost.",
    };
    const { onDecided } = show("editor", { "POST /api/clashes/abc/decision": [409, conflict] });
    fireEvent.click(await screen.findByRole("button", { name: "Decide" }));
    expect((await screen.findByRole("alert")).textContent).toContain("Jorun decided this clash already.");
    expect(onDecided).toHaveBeenCalled();
  });
  it("say what else can be done than moving", async () => {
    const others = [
      way({ key: "family:F3", kind: "move_family", reasons: ["2 commands of walking keep one shape"] }),
      way({ key: "take_over", kind: "take_over", shortcut: null, reasons: ["it keeps F9"] }),
      way({ key: "narrow", kind: "narrow", scopes: ["Panel", "List"], reasons: ["Panel and List take no text"] }),
      way({ key: "translate", kind: "translate", reasons: ["Quaysheet hears F9 instead"] }),
      way({ key: "tidy", kind: "tidy", shortcut: null, reasons: ["the entry means nothing here"] }),
    ];
    const { decisions } = show("editor", { "GET /api/clashes/abc/ways": others });
    const names = (await screen.findAllByRole("radio")).map((r) => r.closest("label")?.textContent ?? "");
    const titles = [/^Move the family to/, /^Take it from Quote the fare/, /^Narrow to Panel and List/];
    [...titles, /^Translate it in this window/, /^Take it out/].forEach((title, n) => {
      expect(names[n]).toMatch(title);
    });
    expect(screen.getByText(/Panel and List take no text\./)).toBeTruthy();
    fireEvent.click(screen.getByRole("radio", { name: /^Narrow/ }));
    fireEvent.click(await screen.findByRole("button", { name: "Decide" }));
    await waitFor(() => expect(decisions()).toHaveLength(1));
    expect(decisions()[0]).toMatchObject({ way: "narrow" });
  });
  const asked = (parts: Partial<Asked>): Asked => ({
    task: "fare",
    name: "Quote the fare",
    program_name: "Quaysheet",
    says: shortcut("F9"),
    gets: shortcut("Control+E"),
    state: "differs",
    line: { task: "fare", platform: "windows", layouts: [], keys: "Control+E", reason: "" },
    could_be_let_off: true,
    ...parts,
  });
  const THE_STANDARD = "GET /api/clashes/abc/standard";

  it("leave the standard alone unless it is asked for", async () => {
    const { decisions } = show("editor", { [THE_STANDARD]: { seen: "abc", asked: [asked({})] } });
    const choice = within(await screen.findByRole("group", { name: "The standard" }));
    expect(choice.getByText(/The standard has/).textContent).toMatch(/^The standard has F9.* for Quote the fare\./);
    expect(choice.getByRole<HTMLInputElement>("radio", { name: "Leave it; Quaysheet differs from it" }).checked).toBe(
      true,
    );
    fireEvent.click(screen.getByRole("button", { name: "Decide" }));
    await waitFor(() => expect(decisions()).toHaveLength(1));
    expect(decisions()[0]).not.toHaveProperty("standard");
  });
  it("let a program off the standard only with a reason", async () => {
    const posted = { "POST /api/clashes/abc/standard": { id: 8, title: "Moved and let off" } };
    const { decisions } = show("editor", { [THE_STANDARD]: { seen: "abc", asked: [asked({})] }, ...posted });
    fireEvent.click(await screen.findByRole("radio", { name: "Let Quaysheet off, with the reason" }));
    const decide = screen.getByRole<HTMLButtonElement>("button", { name: "Decide" });
    expect(decide.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/Why it is let off/), { target: { value: "They know it so" } });
    fireEvent.change(screen.getByLabelText("Until"), { target: { value: "2027-01-31" } });
    fireEvent.click(decide);
    await waitFor(() => expect(decisions()).toHaveLength(1));
    expect(decisions()[0]).toMatchObject({
      standard: "exception",
      reason: "They know it so",
      until: "2027-01-31",
      seen: "abc",
    });
  });
  it("set the standard's line, and tell before what that would do", async () => {
    const refused = { title: "No such key.", status: 400, detail: "", cure: "", safe: "" };
    const { sent } = show("editor", {
      [THE_STANDARD]: { seen: "abc", asked: [asked({})] },
      "POST /api/standard/plan": [400, refused],
    });
    fireEvent.click(await screen.findByRole("radio", { name: /^Set it to/ }));
    expect((await screen.findByText("No such key.")).closest("fieldset")).toBeTruthy();
    const plan = sent.find((s) => s.path === "/api/standard/plan");
    expect(plan?.body).toMatchObject({ lines: [{ task: "fare", keys: "Control+E" }], family: false });
  });
  it("are not decided while it is unknown what the standard is to say of them", async () => {
    const later = (url: URL) =>
      url.searchParams.get("way") === "move:F9" ? undefined : { seen: "abc", asked: [asked({})] };
    const { decisions } = show("editor", { [THE_STANDARD]: later, "POST /api/standard/plan": [400, { title: "No." }] });
    fireEvent.click(await screen.findByRole("radio", { name: /^Set it to/ }));
    fireEvent.click(screen.getAllByRole("radio")[1] as HTMLElement);
    const decide = screen.getByRole<HTMLButtonElement>("button", { name: "Decide" });
    await waitFor(() => expect(decide.disabled).toBe(true));
    expect(await screen.findByRole("button", { name: "Try again" })).toBeTruthy();
    fireEvent.submit(decide.closest("form") as HTMLElement);
    expect(decisions().filter((d) => d && "way" in (d as object))).toEqual([]);
  });
  it("ask nothing where the standard says the same, can't be followed, or lets off already", async () => {
    const silent = { line: null, could_be_let_off: false };
    const told = [
      asked({ ...silent, state: "agrees" }),
      asked({ ...silent, state: "cannot", task: "two" }),
      asked({ ...silent, state: "excepted", task: "three" }),
    ];
    show("editor", { [THE_STANDARD]: { seen: "abc", asked: told } });
    const choice = within(await screen.findByRole("group", { name: "The standard" }));
    expect(choice.queryAllByRole("radio")).toHaveLength(0);
    const text = (await screen.findByRole("group", { name: "The standard" })).textContent ?? "";
    expect(text).toContain("and so has Quaysheet then");
    expect(text).toContain("which Quaysheet can't take");
    expect(text).toContain("Quaysheet is let off");
    expect(choice.getAllByRole("link", { name: "Its line" })).toHaveLength(3);
  });
  it("are for readers to look at", async () => {
    show("reader");
    expect(await screen.findByText("Readers look; an editor decides.")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Decide" })).toBeNull();
  });
});
