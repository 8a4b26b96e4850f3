import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../testing/stage";
import { AboutProfile } from "./MakeProfile";
import type { Profile } from "./useProfiles";

const PEOPLE = [
  { id: "odd", cells: { name: "Odd" }, item: {}, seats: [] },
  { id: "oddny", cells: { name: "Oddny" }, item: {}, seats: [] },
];

describe("a profile's own page", () => {
  it("gives the profile to one person, looked for by words", async () => {
    const asked: string[] = [];
    const sent = stage(<AboutProfile profile={{ id: "weir", name: "Weir", description: "" } as unknown as Profile} />, {
      ...session("editor"),
      "GET /api/organisation": { departments: [], roles: [] },
      "GET /api/profiles/weir/holders": [],
      "GET /api/organisation/table/people": (url: URL) => {
        asked.push(url.searchParams.get("words") ?? "");
        return {
          start: 0,
          total: 2,
          rows: PEOPLE.filter((p) => p.cells.name.includes(url.searchParams.get("words") ?? "")),
        };
      },
      "POST /api/profiles/weir/holders": { id: 1, title: "Gave" },
    });
    fireEvent.click(await screen.findByRole("button", { name: "Name, and whom it is given to" }));
    fireEvent.mouseDown(await screen.findByRole("combobox", { name: "Give it to" }));
    fireEvent.click(await screen.findByRole("option", { name: "a person" }));
    const field = await screen.findByRole("combobox", { name: "Which one" });
    fireEvent.change(field, { target: { value: "Oddn" } });
    await waitFor(() => expect(asked).toContain("Oddn"));
    fireEvent.click(await screen.findByRole("option", { name: "Oddny" }));
    fireEvent.click(screen.getByRole("button", { name: "Give it" }));
    const body = { whom: "people", id: "oddny", given: true };
    await waitFor(() => expect(sent.find((s) => s.method === "POST")?.body).toEqual(body));
  });
});
