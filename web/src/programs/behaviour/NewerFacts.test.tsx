import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../../testing/stage";
import { NewerFacts } from "./NewerFacts";

const facts = {
  key: "program/tidal@2",
  program: "tidal",
  version: "2",
  name: "Tidal",
  changes: 3,
  says: ["Adds the entry lock: Meta+L.", "Takes out the entry run."],
  stays: ["search"],
};
const TAKE = "POST /api/facts/tidal/2";

describe("newer facts of a system", () => {
  it("say what they change and what stays as it was corrected, and are taken in", async () => {
    const sent = stage(<NewerFacts program="tidal" version="2" />, {
      "GET /api/facts": [facts],
      [TAKE]: { id: 4, title: "Newer facts of Tidal 2" },
      ...session("editor"),
    });
    expect(await screen.findByText(/3 changes\..*What you corrected yourselves stays: search\./)).toBeTruthy();
    expect(screen.getByText("Adds the entry lock: Meta+L.")).toBeTruthy();
    expect(screen.getByText("And 1 more.")).toBeTruthy();
    fireEvent.click(await screen.findByRole("button", { name: "Take them in" }));
    await waitFor(() => expect(sent.some((s) => `${s.method} ${s.path}` === TAKE)).toBe(true));
    expect(await screen.findByText("Newer facts of Tidal 2")).toBeTruthy();
  });

  it("are nothing where none are newer, and readers only read them", async () => {
    const sent = stage(
      <>
        <NewerFacts program="tidal" version="2" />
        <NewerFacts program="tidal" version="3" />
      </>,
      { "GET /api/facts": [facts], ...session("reader") },
    );
    expect(await screen.findAllByText(/Newer facts of Tidal/)).toHaveLength(1);
    await waitFor(() => expect(sent.some((s) => s.path === "/api/session")).toBe(true));
    expect(screen.queryByRole("button", { name: "Take them in" })).toBeNull();
  });
});
