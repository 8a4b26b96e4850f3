import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { stage } from "../testing/stage";
import { MattersView } from "./MattersView";

const matter = (id: string, parts: Partial<Schemas["MatterOut"]> = {}): Schemas["MatterOut"] => ({
  ...{ id, kind: "drift", says: `${id} needs you.`, to: `/${id}`, people: 0, worse_on: null, until: null },
  ...parts,
});
const today: Schemas["TodayOut"] = {
  matters: [matter("allowance", { worse_on: "2031-12-02", people: 31 }), matter("drift"), matter("lists")],
  aside: [matter("untested", { until: "2031-12-01" })],
  feed: false,
};

describe("what needs somebody", () => {
  it("stands by the day on which it gets worse and leads to where it is decided", async () => {
    stage(<MattersView />, { "GET /api/today": today });
    await screen.findByText("3 things need you");
    expect(screen.getByText("2 December 2031")).toBeTruthy();
    expect(screen.getByText("31 people")).toBeTruthy();
    const links = ["allowance", "drift", "lists"].map((id) => screen.getByRole("link", { name: `${id} needs you.` }));
    expect(links.map((l) => l.getAttribute("href"))).toEqual(["/allowance", "/drift", "/lists"]);
    links[1]?.focus();
    fireEvent.keyDown(links[1] as HTMLElement, { key: "ArrowDown" });
    expect(document.activeElement).toBe(links[2]);
    fireEvent.keyDown(links[2] as HTMLElement, { key: "ArrowUp" });
    expect(document.activeElement).toBe(links[1]);
  });

  it("is put aside with the way back, and brought back", async () => {
    const left = { ...today, matters: today.matters.slice(1), aside: [matter("allowance"), ...today.aside] };
    const sent = stage(<MattersView />, {
      ...{ "GET /api/today": today, "POST /api/today/aside": left, "POST /api/today/back": today },
    });
    fireEvent.click((await screen.findAllByRole("button", { name: "Not mine" }))[0] as HTMLElement);
    await screen.findByText("2 things need you");
    expect(sent.at(-1)?.body).toEqual({ id: "allowance", how: "not mine" });
    fireEvent.click(await screen.findByRole("button", { name: "Undo this" }));
    await screen.findByText("3 things need you");
    fireEvent.click(screen.getByText("Put aside: 1"));
    fireEvent.click(screen.getByRole("button", { name: "Bring back" }));
    await waitFor(() => expect(sent.at(-1)?.body).toEqual({ id: "untested" }));
  });

  it("says so where nothing does", async () => {
    stage(<MattersView />, { "GET /api/today": { matters: [], aside: [], feed: true } });
    await screen.findByText("Nothing needs you today.");
    expect(screen.getByRole("button", { name: "A new address" })).toBeTruthy();
  });

  it("shows the address of a feed once, and ends it", async () => {
    const sent = stage(<MattersView />, {
      ...{ "GET /api/today": today, "POST /api/today/feed": { address: "http://here/api/feed/abc/today.atom" } },
      "POST /api/today/feed/end": today,
    });
    fireEvent.click(await screen.findByRole("button", { name: "Make an address" }));
    await screen.findByText("http://here/api/feed/abc/today.atom");
    fireEvent.click(screen.getByRole("button", { name: "End it" }));
    await waitFor(() => expect(screen.queryByText("http://here/api/feed/abc/today.atom")).toBe(null));
    expect(sent.at(-1)?.path).toBe("/api/today/feed/end");
  });
});
