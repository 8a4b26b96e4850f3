import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../testing/stage";
import { ImportPanel } from "./ImportPanel";
import { testProfile as profile } from "./testing";
import type { Preview } from "./useExchange";

const preview: Preview = {
  how: "add",
  made_from: 0,
  signer: { state: "known", says: "Signed by The harbour.", fingerprint: "4740 1644" },
  ways: [],
  way: null,
  unread: [],
  part: "house",
  profiles: [{ id: "house", name: "House" }],
  sections: [],
  needs: [],
  stays: [],
  files: 0,
  bundle: "House, 2026-11-24",
  made_by: "Ines",
  made_at: "",
  profile: "House",
  into: "Training centre",
  unchanged: 2,
  differences: [
    {
      key: "a",
      does: "adds",
      says: "Quote the fare gets Ctrl E.",
      refused: "",
      means: "new",
      title: "New",
      nothing: "",
      against: "",
    },
    {
      key: "b",
      does: "changes",
      says: "Filter moves from F5 to F6.",
      refused: "",
      means: "moves",
      title: "Moves a key that people know",
      nothing: "",
      against: "",
    },
    {
      key: "c",
      does: "adds",
      says: "Ghost gets F7.",
      refused: "There is no program ghost here.",
      means: "new",
      title: "New",
      nothing: "",
      against: "",
    },
  ],
};
const PREVIEW = "POST /api/profiles/training/import/preview";

function show(role: "reader" | "editor", answer: unknown = preview) {
  const sent = stage(<ImportPanel profile={profile} />, {
    ...session(role),
    [PREVIEW]: answer,
    "POST /api/profiles/training/import/plan": { solves: ["A"], makes: [], solved: 2, made: 0, people: 6 },
    "POST /api/profiles/training/import": { id: 1, title: "Brought in 1 entry" },
  });
  const input = document.querySelector<HTMLInputElement>("input[type=file]");
  fireEvent.change(input as HTMLInputElement, { target: { files: [new File(["x"], "house.zip")] } });
  return sent;
}

describe("bringing a bundle in", () => {
  it("counts and tells what it would do, and takes nothing by itself", async () => {
    const sent = show("editor");
    expect(
      await screen.findByText(/adds 1, changes 1, removes 0, leaves 2 as they are, 1 can't be taken/),
    ).toBeTruthy();
    expect(screen.getByText("There is no program ghost here.")).toBeTruthy();
    expect(await screen.findByText("Solves 2 clashes, makes none. It reaches 6 people.")).toBeTruthy();
    expect(sent.some((s) => s.path === "/api/profiles/training/import")).toBe(false);
  });
  it("groups by what it means, and looks again where it is brought in another way", async () => {
    const sent = show("editor");
    expect(await screen.findByRole("heading", { name: "Moves a key that people know" })).toBeTruthy();
    fireEvent.mouseDown(screen.getByRole("combobox", { name: "How" }));
    fireEvent.click(screen.getByRole("option", { name: "add only what is missing here" }));
    await waitFor(() => expect(sent.filter((s) => s.path.endsWith("/preview"))).toHaveLength(2));
  });
  it("takes what is chosen", async () => {
    const sent = show("editor");
    fireEvent.click(await screen.findByLabelText("Filter moves from F5 to F6."));
    fireEvent.click(screen.getByRole("button", { name: "Bring in 1 of 3" }));
    expect(await screen.findByText("Brought in 1 entry")).toBeTruthy();
    expect(sent.some((s) => s.path === "/api/profiles/training/import")).toBe(true);
    await waitFor(() => expect(screen.queryByText("Quote the fare gets Ctrl E.")).toBeNull());
  });
  it("leaves it, and all is as before", async () => {
    show("editor");
    fireEvent.click(await screen.findByRole("button", { name: "Leave it" }));
    await waitFor(() => expect(screen.queryByText("Quote the fare gets Ctrl E.")).toBeNull());
  });
  it("says why a bundle can't be taken", async () => {
    show("editor", [
      400,
      {
        title: "This bundle can't be taken.",
        status: 400,
        detail: "Its digest is wrong.",
        cure: "Ask again.",
        safe: "",
      },
    ]);
    expect((await screen.findByRole("alert")).textContent).toBe(
      "This bundle can't be taken. Its digest is wrong. Ask again.",
    );
  });
  it("lets readers look", async () => {
    show("reader");
    expect(await screen.findByText("Readers look; an editor brings it in.")).toBeTruthy();
  });

  it("merges what comes back, and takes what goes against work done here only when told to", async () => {
    const both = { ...preview.differences[1], against: "Filter moves from F5 to F8." };
    const sent = show("editor", {
      ...preview,
      how: "merge",
      made_from: 2,
      differences: [preview.differences[0], both],
    });
    expect(
      await screen.findByText(/from what Training centre was at revision 2\. What was done here since stays/),
    ).toBeTruthy();
    expect(screen.getByText("Here, since: Filter moves from F5 to F8. Taking it gives that up.")).toBeTruthy();
    const [ours] = screen.getAllByRole("switch", { name: "Filter moves from F5 to F6." }) as HTMLInputElement[];
    expect(ours?.checked).toBe(false);
    expect(screen.getByRole("combobox", { name: "How" }).textContent).toBe("only what was done there since");
    fireEvent.click(await screen.findByRole("button", { name: "Bring in 1 of 2" }));
    await waitFor(() => expect(sent.some((s) => s.path === "/api/profiles/training/import")).toBe(true));
  });

  it("tells who signed, and doubts a key that nobody knows", async () => {
    show("editor", {
      ...preview,
      signer: { state: "unknown", says: "Signed with a key that nobody here knows.", fingerprint: "4740 1644" },
      needs: ["Quaysheet 7.2"],
    });
    expect(await screen.findByText("4740 1644")).toBeTruthy();
    expect(screen.getByText("Quaysheet 7.2")).toBeTruthy();
  });

  it("reads a settings file as that of another program when told so", async () => {
    const way = {
      program: "quaysheet@7.2",
      name: "Quaysheet 7.2 on Windows",
      platform: "windows",
      number: 0,
      path: "",
      commands: 2,
    };
    const mac = { ...way, name: "Quaysheet 7.2 on macOS", platform: "macos" };
    const sent = show("editor", { ...preview, signer: null, way, ways: [way, mac], unread: ["Line 5 can't be read."] });
    expect(await screen.findByText(/read as the file of Quaysheet 7\.2 on Windows/)).toBeTruthy();
    expect(screen.getByText("Line 5 can't be read.")).toBeTruthy();
    fireEvent.mouseDown(screen.getByRole("combobox", { name: "Read as the file of" }));
    fireEvent.click(screen.getByRole("option", { name: "Quaysheet 7.2 on macOS" }));
    await waitFor(() => expect(sent.filter((s) => s.path.endsWith("/preview"))).toHaveLength(2));
  });
});
