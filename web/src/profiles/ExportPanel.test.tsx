import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { session, stage } from "../testing/stage";
import { ExportPanel } from "./ExportPanel";
import { testProfile } from "./testing";

const contents: Schemas["TravelOut"] = {
  sections: [
    { id: "entries", name: "shortcuts of commands", count: 5 },
    { id: "launchers", name: "launchers", count: 1 },
    { id: "remaps", name: "changed keys", count: 0 },
  ],
  files: [{ path: "files/house/windows/quaysheet/settings.json", program: "Quaysheet", commands: 5 }],
  needs: ["Quaysheet 7.2, as quaysheet: 5 shortcuts need it."],
  stays: [{ what: "Hewer on Linux", why: "It isn't described." }],
  signed: "Merrow Strait Ferries",
};

function show(given = contents) {
  return stage(<ExportPanel profile={testProfile} onLeave={() => undefined} />, {
    ...session("editor"),
    "GET /api/profiles/training/bundle/contents": given,
  });
}

describe("taking a profile out", () => {
  it("tells what travels, what it needs and what stays before the file is made", async () => {
    show();
    expect(await screen.findByText("Signed by Merrow Strait Ferries.")).toBeTruthy();
    expect(screen.getByText("Hewer on Linux: It isn't described.")).toBeTruthy();
    expect(screen.getByText("Quaysheet 7.2, as quaysheet: 5 shortcuts need it.")).toBeTruthy();
    expect(screen.queryByLabelText(/changed keys/)).toBeNull();
    expect(screen.getByRole("link", { name: "Write the bundle" }).getAttribute("href")).toBe(
      "/api/profiles/training/bundle",
    );
  });
  it("takes only some of it along, but not nothing", async () => {
    const sent = show();
    fireEvent.click(await screen.findByLabelText("1 launchers"));
    expect(screen.getByRole("link", { name: "Write the bundle" }).getAttribute("href")).toBe(
      "/api/profiles/training/bundle?sections=entries",
    );
    await waitFor(() => expect(sent.filter((s) => s.path.includes("/contents"))).toHaveLength(2));
    fireEvent.click(screen.getByLabelText("5 shortcuts of commands"));
    expect(screen.queryByRole("link", { name: "Write the bundle" })).toBeNull();
    expect(screen.getByText("Take one part along at least.")).toBeTruthy();
  });
  it("says that it goes out unsigned", async () => {
    show({ ...contents, signed: "" });
    expect(await screen.findByText(/It goes out unsigned/)).toBeTruthy();
  });
});
