import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../../testing/stage";
import { SurveyView } from "./SurveyView";
import type { OwnChange, Survey } from "./useSurvey";

function own(id: string, parts: Partial<OwnChange> = {}): OwnChange {
  return {
    id,
    program: "quaysheet",
    program_name: "Quaysheet",
    platform: "windows",
    command: id,
    command_name: `Command ${id}`,
    keys: ["F9"],
    default: ["F5"],
    people: 3,
    names: ["Ada", "Bo", "Cy"],
    layers: [
      { profile: "house", name: "House", having: 3, seen: 8 },
      { profile: "control", name: "Control room", having: 3, seen: 4 },
    ],
    proposed: "control",
    dropped: false,
    ...parts,
  };
}

function survey(parts: Partial<Survey> = {}): Survey {
  return {
    id: "s1",
    of: "people.zip",
    made_by: "Jorun",
    at: "2026-10-01T08:00:00Z",
    state: "ready",
    says: "",
    files: 12,
    people: 8,
    left: 0,
    unread: [],
    changes: [own("a"), own("b", { proposed: "own", people: 1, names: ["Di"] })],
    profiles: [],
    ...parts,
  };
}

function show(found: Survey | null, role: "reader" | "editor" = "editor") {
  return stage(<SurveyView />, {
    ...session(role),
    "GET /api/surveys/newest": { survey: found },
    "POST /api/surveys": survey({ state: "working" }),
    "POST /api/surveys/s1/plan": { solves: [], makes: [], solved: 2, made: 0, people: 4 },
    "POST /api/surveys/s1/take": { id: 5, title: "Took 1 own change that people had set" },
    "POST /api/surveys/s1/dropped": survey({ changes: [own("a", { dropped: true })] }),
  });
}

const target = (name: string) => screen.findByLabelText(`What becomes of Command ${name}`);

describe("what people have now", () => {
  it("says who has it, and takes it where it was chosen to go", async () => {
    const sent = show(survey());
    expect((await screen.findByRole("status")).textContent).toContain("12 files of 8 people");
    fireEvent.change(await target("a"), { target: { value: "control" } });
    expect(await screen.findByText(/Solves 2 clashes, makes none. It reaches 4 people/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Take 1" }));
    await waitFor(() => expect(sent.find((s) => s.path.endsWith("/take"))?.body).toEqual({ into: { a: "control" } }));
  });
  it("is chosen as proposed all at once", async () => {
    const sent = show(survey());
    fireEvent.click(await screen.findByRole("button", { name: "as proposed" }));
    fireEvent.click(screen.getByRole("button", { name: "Take 2" }));
    await waitFor(() =>
      expect(sent.find((s) => s.path.endsWith("/take"))?.body).toEqual({ into: { a: "control", b: "own" } }),
    );
  });
  it("can be nobody's, and be looked at again", async () => {
    const sent = show(survey());
    fireEvent.change(await target("a"), { target: { value: "nobody" } });
    expect(await screen.findByText(/1 are to be nobody's|1 is to be nobody's/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Look at them again" }));
    await waitFor(() =>
      expect(sent.filter((s) => s.path.endsWith("/dropped")).map((s) => s.body)).toEqual([
        { changes: ["a"], dropped: true },
        { changes: ["a"], dropped: false },
      ]),
    );
  });
  it("says why files say nothing", async () => {
    show(survey({ left: 2, unread: [{ path: "who/keys.ini", says: "Nobody is called who." }] }));
    expect((await screen.findByText("Nobody is called who.", { exact: false })).textContent).toContain("who/keys.ini");
    expect(screen.getByText("and 1 more")).toBeTruthy();
  });
  it("says what went wrong, and offers to look again", async () => {
    show(survey({ state: "failed", says: "This is not a zip file.", changes: [] }));
    expect((await screen.findByRole("status")).textContent).toContain("This is not a zip file.");
    expect(screen.getByRole("button", { name: "Look at what agents have seen" })).toBeTruthy();
  });
  it("is begun where nobody has looked yet", async () => {
    const sent = show(null);
    expect(await screen.findByText("Nobody has looked yet.")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Look at what agents have seen" }));
    await waitFor(() => expect(sent.some((s) => s.method === "POST")).toBe(true));
  });
  it("says when there was nothing to look at, and when nobody has anything of their own", async () => {
    show(survey({ people: 0, files: 1, changes: [] }));
    expect(await screen.findByText("There was no file of anybody to look at.")).toBeTruthy();
    cleanup();
    show(survey({ changes: [] }));
    expect(await screen.findByText("Nobody has set anything of their own.")).toBeTruthy();
  });
  it("is no reader's", async () => {
    show(null, "reader");
    expect(await screen.findByText("What people have set for themselves is for editors.")).toBeTruthy();
  });
});
