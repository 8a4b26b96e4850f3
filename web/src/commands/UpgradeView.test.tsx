import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { session, shortcut, stage } from "../testing/stage";
import { UpgradeView } from "./UpgradeView";

const waits = [{ program: "tally", name: "Tally", old: "1", new: "2", people: 9, machines: 4 }];
const told: Schemas["UpgradeOut"] = {
  ...{ program: "tally", name: "Tally", old: "1", new: "2", versions: ["1", "2"], people: 9, setups: 2, machines: 4 },
  came: ["Weigh"],
  gone: ["Paint"],
  renamed: [
    { old: "keep", old_name: "Keep", new: "save", new_name: "Save", known: false, reasons: ["the names are alike"] },
  ],
  ...{ called: [], scoped: [], behaves: ["It refuses F1 now."], again: ["Switch on: Own keys (Settings)."] },
  moved: [{ command: "sum", name: "Sum", platform: "Windows", before: [shortcut("F6")], after: [shortcut("F7")] }],
  surprises: [
    { keys: "F2", was: "Keep", now: "", people: 9, setups: ["Desk"] },
    { keys: "F4", was: "Weigh", now: "Count", people: 1, setups: ["Desk"] },
  ],
  orphans: [],
  spare: [
    ...[
      {
        profile: "house",
        profile_name: "House",
        key: "k",
        command: "Sum",
        keys: [shortcut("F7")],
        platform: "Windows",
      },
    ],
  ],
  ...{ follow: [], lost: [], solves: [], makes: ["Sum in Tally, F7"] },
};
const answers = {
  "GET /api/upgrades": waits,
  "GET /api/upgrades/tally": told,
  "POST /api/upgrades/tally": { id: 3, title: "Took 1 renamings" },
};

describe("an upgrade check", () => {
  it("tells whose presses mean something else", async () => {
    stage(<UpgradeView />, { ...answers, ...session("reader") });
    const list = await screen.findByRole("region", { name: "Presses that mean something else" });
    expect(list.textContent).toContain("F2Keep does nothing any more9 people");
    expect(list.textContent).toContain("F4Weigh is Count now1 person");
    expect(screen.getByText("9 people in 2 setups would get it; 4 machines have 1 now.")).toBeTruthy();
    expect(screen.queryByRole("checkbox")).toBe(null);
  });

  it("asks again with a renaming taken as true, and takes what is switched on", async () => {
    const asked: string[] = [];
    const played = (url: URL) => {
      asked.push(url.searchParams.get("taken") ?? "");
      return told;
    };
    const sent = stage(<UpgradeView />, { ...answers, "GET /api/upgrades/tally": played, ...session("editor") });
    fireEvent.click(await screen.findByRole("checkbox", { name: "Keep is Save now" }));
    await waitFor(() => expect(asked.at(-1)).toBe("keep"));
    fireEvent.click(screen.getByRole("checkbox", { name: "Take Sum out of House" }));
    fireEvent.click(screen.getByRole("button", { name: "Take these 2" }));
    await waitFor(() => expect(sent.some((s) => s.method === "POST")).toBe(true));
    expect(sent.find((s) => s.method === "POST")?.body).toEqual({
      ...{ old: "1", new: "2", renamed: ["keep"], spare: [["house", "k"]] },
    });
  });

  it("says so where nobody has an older version", async () => {
    stage(<UpgradeView />, { ...answers, "GET /api/upgrades": [], ...session("editor") });
    await screen.findByText("Nobody has an older version than there is.");
  });
});
