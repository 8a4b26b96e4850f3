import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../testing/stage";
import { AgentsView } from "./AgentsView";
import type { Agent, Machine } from "./useAgents";

function agent(id: number, parts: Partial<Agent> = {}): Agent {
  const nobody = { account: "", person: "", whose: "", heard_at: null, doubled_at: null };
  return { id, serves: "home", enrolled: true, ...nobody, ...parts };
}

function machine(state: Machine["state"], parts: Partial<Machine> = {}): Machine {
  const differences = state === "drifted" ? ["Filter has F5 on the machine; F6 is wanted."] : [];
  return {
    id: state.replace(" ", "-"),
    name: `Counter ${state}`,
    setup: "counters",
    setup_name: "Ticket counters",
    enrolled: true,
    heard_at: null,
    state,
    files: [
      {
        program: "quaysheet",
        program_name: "Quaysheet",
        path: "Quaysheet/settings.json",
        id: 7,
        agent: 1,
        backups: 2,
        state,
        says: "",
        differences,
        seen_at: null,
        applied_at: null,
        last_order: "",
      },
    ],
    layers: ["House"],
    unreleased: [],
    by_hand: { done: 1, total: 3 },
    agents: [agent(1)],
    contradicted: [],
    note: "",
    ...parts,
  };
}

function page(machines: Machine[], pages = 1) {
  const states: Record<string, number> = {};
  for (const { state } of machines) states[state] = (states[state] ?? 0) + 1;
  return { total: machines.length, pages, states, machines };
}

/** Notes with what the list was asked for. */
function noting(asked: string[], machines: Machine[], pages = 1) {
  return {
    "GET /api/machines": (url: URL) => {
      asked.push(url.search);
      return page(machines, pages);
    },
  };
}

function show(role: "editor" | "releaser", machines: Machine[], more = {}) {
  return stage(<AgentsView />, { ...session(role), "GET /api/machines": page(machines), ...more });
}

describe("machines", () => {
  it("offer to apply only where something is to be written", async () => {
    show(
      "releaser",
      (["new", "behind", "in step", "waiting", "problem", "unseen"] as const).map((s) => machine(s)),
    );
    expect(await screen.findAllByRole("button", { name: "Apply the profile" })).toHaveLength(2);
    expect(screen.getByRole("status").textContent).toContain("1 of 6 machines in step");
  });
  it("name what would be lost before drift is put right", async () => {
    const sent = show("releaser", [machine("drifted")], { "POST /api/machines/drifted/apply": { orders: 1 } });
    fireEvent.click(await screen.findByRole("button", { name: "Put it right" }));
    expect(screen.getByRole("dialog").textContent).toContain("Filter has F5 on the machine; F6 is wanted.");
    expect(sent.filter((s) => s.method === "POST")).toEqual([]);
    fireEvent.click(screen.getByRole("button", { name: "Overwrite it" }));
    await waitFor(() => expect(sent.find((s) => s.method === "POST")?.body).toEqual({ over_drift: true }));
  });
  it("are left as they are when that is chosen", async () => {
    const sent = show("releaser", [machine("drifted")]);
    fireEvent.click(await screen.findByRole("button", { name: "Put it right" }));
    fireEvent.click(screen.getByRole("button", { name: "Leave it as it is" }));
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    expect(sent.filter((s) => s.method === "POST")).toEqual([]);
  });
  it("are not for editors to write to", async () => {
    show("editor", [machine("new")]);
    expect(await screen.findByText("not applied yet")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Apply the profile" })).toBeNull();
  });
  it("get a code once where no agent is", async () => {
    const bare = machine("unseen", { enrolled: false, files: [] });
    show("releaser", [bare], { "POST /api/machines/unseen/code": { code: "once-only", fingerprint: "ab12 cd34" } });
    fireEvent.click(await screen.findByRole("button", { name: "Make a code" }));
    expect(await screen.findByText("once-only")).toBeTruthy();
    expect(screen.getByText("ab12 cd34")).toBeTruthy();
  });
  it("tell byte for byte what would change, when somebody looks", async () => {
    const seen = machine("drifted");
    const file = { ...seen.files[0], seen_at: "2026-10-01T08:00:00Z" } as Machine["files"][number];
    show("editor", [{ ...seen, files: [file] }], {
      "GET /api/machines/files/7/difference": [{ line: 6, before: "f5", after: "f6" }],
    });
    fireEvent.click(await screen.findByRole("button", { name: /Byte for byte/ }));
    expect((await screen.findByRole("list", { name: /Byte for byte/ })).textContent).toBe("line 6: f5 becomes f6");
    expect(screen.getByText(/2 backups there/)).toBeTruthy();
  });
  it("are shown beside what the list says of them, and one is taken", async () => {
    const contradicted = [
      { part: "edition", listed: "GNOME 48", said: "GNOME 43", known: true },
      { part: "layouts", listed: "us", said: "emoji", known: false },
    ] satisfies Machine["contradicted"];
    const sent = show("editor", [machine("in step", { contradicted })], {
      "POST /api/machines/in-step/facts": { id: 3, title: "It has what it says itself: GNOME 43" },
    });
    expect((await screen.findByText("GNOME 43")).parentElement?.textContent).toContain("the list says GNOME 48.");
    fireEvent.click(await screen.findByRole("button", { name: /Take what it says.*of its edition/ }));
    await waitFor(() => expect(sent.find((s) => s.method === "POST")?.body).toEqual({ part: "edition" }));
    expect(screen.getAllByRole("button", { name: /Take what it says/ })).toHaveLength(1);
  });
  it("say when their token is used elsewhere", async () => {
    show("releaser", [machine("in step", { agents: [agent(1, { doubled_at: "2026-10-01T08:00:00Z" })] })]);
    expect(await screen.findByText(/Its token was used on another machine, last 1 October/)).toBeTruthy();
  });
  it("show each home with what is in it, and a releaser says whose it is", async () => {
    const agents = [agent(1, { account: "al17", person: "ada", whose: "Ada" }), agent(2, { account: "desk" })];
    const sent = show("releaser", [machine("in step", { agents })], {
      "GET /api/agents/2/people": [
        { id: "ada", name: "Ada" },
        { id: "bo", name: "Bo" },
      ],
      "POST /api/agents/2/home": agent(2, { whose: "Bo" }),
    });
    const first = await screen.findByRole("region", { name: "Ada's home on Counter in step" });
    expect(first.textContent).toContain("Quaysheet/settings.json");
    const second = screen.getByRole("region", { name: "The home of desk on Counter in step" });
    expect(second.textContent).not.toContain("Quaysheet/settings.json");
    fireEvent.click(screen.getByRole("button", { name: "Whose it is: The home of desk" }));
    fireEvent.click(await screen.findByLabelText("Bo"));
    fireEvent.click(screen.getByRole("button", { name: "It is theirs" }));
    await waitFor(() => expect(sent.find((s) => s.method === "POST")?.body).toEqual({ person: "bo" }));
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  });
  it("are looked through by how they stand and by words", async () => {
    const asked: string[] = [];
    show("releaser", [], noting(asked, [machine("in step"), machine("drifted")]));
    fireEvent.click(await screen.findByRole("button", { name: "drifted 1" }));
    await waitFor(() => expect(asked.some((a) => a.includes("state=drifted"))).toBe(true));
    fireEvent.change(screen.getByLabelText("Words in the name"), { target: { value: "gate" } });
    await waitFor(() => expect(asked.some((a) => a.includes("words=gate"))).toBe(true));
  });
  it("come page by page where there are many", async () => {
    const asked: string[] = [];
    show("releaser", [], noting(asked, [machine("in step"), machine("new")], 3));
    fireEvent.click(await screen.findByRole("button", { name: "The next ones" }));
    await waitFor(() => expect(asked.some((a) => a.includes("page=2"))).toBe(true));
    expect(screen.getByText("page 2 of 3")).toBeTruthy();
  });
  it("say when there are none", async () => {
    show("releaser", []);
    expect(await screen.findByText("No machine has an agent yet.")).toBeTruthy();
  });
});
