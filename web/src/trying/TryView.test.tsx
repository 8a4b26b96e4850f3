import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { lens, session, shortcut, stage } from "../testing/stage";
import { laneFrom, laneText, tryAddress } from "./address";
import { TryView } from "./TryView";

type Tried = Schemas["TriedOut"];

function step(
  station: Schemas["StepOut"]["station"],
  outcome: Schemas["StepOut"]["outcome"],
  says: string,
): Schemas["StepOut"] {
  return { station, station_name: station, outcome, says, scope_name: "", program_name: "", source: "" };
}

function tried(parts: Partial<Tried> = {}): Tried {
  const one: Schemas["PressedOut"] = {
    shortcut: shortcut("F8"),
    stroke: { code: "F8", modifiers: [] },
    steps: [step("remap", "unknown", "no key"), step("program", "takes", "Fare")],
    effect: "command",
    says: "Quaysheet does Fare",
    taken_at: "program",
  };
  return {
    setup: "counters",
    setup_name: "Ticket counters",
    program_name: "Quaysheet",
    scope_name: "Sheet",
    shortcut: shortcut("F8"),
    unreachable: "",
    presses: [one],
    outcome: "Quaysheet does Fare",
    typed: "",
    before: "",
    ...parts,
  };
}

const record: Schemas["RecordOut"] = {
  id: 3,
  at: "2026-11-24T08:00:00Z",
  by: "Ines",
  setup: "counters",
  setup_name: "Ticket counters",
  program: "quaysheet",
  program_name: "Quaysheet",
  scope: "sheet",
  scope_name: "Sheet",
  shortcut: "F8",
  pressed: "F8",
  expected: "Quaysheet does Fare",
  seen: "the page closed",
  passed: false,
};

function show(
  address: string,
  lanes: Tried[] = [tried()],
  more: Record<string, unknown> = {},
  role: "reader" | "editor" = "editor",
) {
  return stage(
    <TryView />,
    {
      ...session(role),
      "GET /api/lenses": [lens()],
      "GET /api/programs": [
        { id: "quaysheet", name: "Quaysheet", commands: [{ id: "fare", name: "Fare", scope: "sheet", shortcuts: [] }] },
      ],
      "POST /api/try": { stations: [], lanes, drafts: null },
      "GET /api/records": { total: 1, failed: 1, page: 1, pages: 1, records: [record] },
      "GET /api/records/untested": [],
      "POST /api/records": record,
      "POST /api/records/3/removal": record,
      "POST /api/try/drafts": { id: 8, title: "Gave Fare F9" },
      ...more,
    },
    address,
  );
}

beforeEach(() => window.sessionStorage.clear());

describe("trying a press", () => {
  it("says what to do before anything is pressed", async () => {
    show("/try");
    expect(await screen.findByText("Nothing is pressed yet.")).toBeTruthy();
  });
  it("draws its way and says what comes of it", async () => {
    show("/try?press=F8", [tried({ typed: "é", before: "nothing happens" })]);
    const way = await screen.findByRole("list", { name: "The way of F8" });
    expect(
      within(way)
        .getAllByRole("listitem")
        .map((l) => l.className.match(/unknown|passes|takes/)?.[0]),
    ).toEqual(["unknown", "takes"]);
    expect(screen.getByText("Quaysheet does Fare.")).toBeTruthy();
    expect(screen.getByText("é")).toBeTruthy();
    expect(screen.getByText("Without the drafts: nothing happens.")).toBeTruthy();
    // What would be seen on a real machine is the answer without the drafts.
    expect(screen.queryByRole("button", { name: /It did that/ })).toBeNull();
    expect(screen.getByText(/test it there once they are saved/)).toBeTruthy();
  });
  it("goes press by press through a sequence", async () => {
    const one = tried().presses[0] as Tried["presses"][number];
    show("/try?press=F8 then F9", [tried({ presses: [{ ...one, says: "it waits" }, one] })]);
    expect(await screen.findByText("Press 2:")).toBeTruthy();
    expect(screen.getByText("It waits.")).toBeTruthy();
  });
  it("puts up to three places side by side, each in the address", async () => {
    const sent = show("/try?press=F8", [tried(), tried(), tried()]);
    fireEvent.click(await screen.findByRole("button", { name: "Another place beside it" }));
    fireEvent.click(await screen.findByRole("button", { name: "Another place beside it" }));
    await waitFor(() => expect(screen.getAllByRole("region", { name: /Ticket counters/ })).toHaveLength(3));
    expect(screen.queryByRole("button", { name: "Another place beside it" })).toBeNull();
    const last = sent.filter((s) => s.path === "/api/try").at(-1)?.body as { lanes: unknown[] };
    expect(last.lanes).toHaveLength(3);
  });
  it("keeps what was seen, as expected or not", async () => {
    const sent = show("/try?press=F8");
    fireEvent.click(await screen.findByRole("button", { name: /It did that/ }));
    expect(await screen.findByText("Kept what was seen for F8.")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "something else happened" }));
    fireEvent.change(screen.getByLabelText("What happened"), { target: { value: "the page closed" } });
    fireEvent.click(screen.getByRole("button", { name: "Keep it" }));
    await waitFor(() => expect(sent.filter((s) => s.path === "/api/records" && s.method === "POST")).toHaveLength(2));
    const kept = sent.filter((s) => s.path === "/api/records" && s.method === "POST").map((s) => s.body);
    expect(kept).toEqual([
      expect.objectContaining({ passed: true, text: "F8" }),
      expect.objectContaining({ passed: false, seen: "the page closed" }),
    ]);
  });
  it("lets readers try and keep nothing", async () => {
    show("/try?press=F8", [tried()], {}, "reader");
    expect(await screen.findByText("Quaysheet does Fare.")).toBeTruthy();
    expect(screen.queryByRole("button", { name: /It did that/ })).toBeNull();
  });
  it("shows a refusal where the press can't be read", async () => {
    const problem = { title: "Controll is no key.", status: 400, detail: "", cure: "", safe: "" };
    show("/try?press=Controll", [tried()], { "POST /api/try": [400, problem] });
    expect(await screen.findByText("Controll is no key.")).toBeTruthy();
  });
});

describe("drafts", () => {
  const held = [{ setup: "counters", program: "quaysheet", command: "fare", shortcuts: ["F9"], target: null }];
  it("are tried before they are saved, and outlive a reload", async () => {
    window.sessionStorage.setItem("amberkey.drafts", JSON.stringify(held));
    const told = {
      entries: 1,
      people: 31,
      solves: [],
      makes: ["Sum, F9"],
      worth: { says: ["About 3 minutes a week saved."], weighed: [] },
    };
    const sent = show("/try?press=F8", [], { "POST /api/try": { stations: [], lanes: [tried()], drafts: told } });
    expect(await screen.findByText("Fare in Quaysheet")).toBeTruthy();
    expect(await screen.findByText("Sum, F9")).toBeTruthy();
    expect(screen.getByText("About 3 minutes a week saved.")).toBeTruthy();
    expect(sent.find((s) => s.path === "/api/try")?.body).toMatchObject({ drafts: held });
    fireEvent.click(screen.getByRole("button", { name: "Save this draft" }));
    expect(await screen.findByText("Gave Fare F9")).toBeTruthy();
    expect(window.sessionStorage.getItem("amberkey.drafts")).toBe("[]");
  });
  it("are dropped without a trace", async () => {
    window.sessionStorage.setItem("amberkey.drafts", JSON.stringify(held));
    const sent = show("/try?press=F8");
    fireEvent.click(await screen.findByRole("button", { name: "Drop: Fare in Quaysheet" }));
    await waitFor(() => expect(window.sessionStorage.getItem("amberkey.drafts")).toBe("[]"));
    expect(sent.some((s) => s.path === "/api/try/drafts")).toBe(false);
  });
});

describe("test records", () => {
  it("say who saw what, and lead back to trying", async () => {
    show("/try?show=records");
    expect(await screen.findByText(/Expected: Quaysheet does Fare. Seen: the page closed. Ines/)).toBeTruthy();
    const link = screen.getByRole("link", { name: /Try again/ });
    expect(link.getAttribute("href")).toContain("press=F8&lane=counters%7Equaysheet%7Esheet");
    expect(screen.getByRole("link", { name: "Take them as CSV" }).getAttribute("href")).toContain("/api/records.csv");
  });
  it("are taken out with a way back", async () => {
    const sent = show("/try?show=records");
    fireEvent.click(await screen.findByRole("button", { name: "Take out: F8" }));
    fireEvent.click(await screen.findByRole("button", { name: "Undo this" }));
    await waitFor(() =>
      expect(sent.filter((s) => s.path.endsWith("/removal")).map((s) => s.body)).toEqual([
        { removed: true },
        { removed: false },
      ]),
    );
  });
  it("say what is untested and why", async () => {
    const untested = {
      ...{ why: "other now", says: "Another answer is expected.", setup: "counters", setup_name: "Ticket counters" },
      ...{
        program: "quaysheet",
        program_name: "Quaysheet",
        scope: "sheet",
        scope_name: "Sheet",
        shortcut: shortcut("F8"),
      },
      ...{ expects: "Quaysheet does Sort", was: "Quaysheet does Fare", by: "Ines", at: record.at },
    };
    show("/try?show=untested", [], { "GET /api/records/untested": [untested] });
    expect(await screen.findByText("Quaysheet does Sort")).toBeTruthy();
    expect(screen.getByText(/It was: Quaysheet does Fare/)).toBeTruthy();
  });
});

describe("the address of a place", () => {
  it.each([
    { setup: "a.b", program: "p", scope: "s" },
    { setup: "a", program: null, scope: null },
  ])("holds %o", (lane) => {
    expect(laneFrom(laneText(lane))).toEqual(lane);
  });
  it("keeps the lens and drops what belongs to other screens", () => {
    const group = { seen_in: "harbour", focus: { program: "p", scope: "s" }, subject: { shortcut: shortcut("F8") } };
    expect(tryAddress("?setup=counters&clash=x&f.words=y", group)).toBe(
      "?setup=counters&press=F8&lane=harbour%7Ep%7Es",
    );
  });
});
