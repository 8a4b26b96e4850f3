import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { useLocation } from "react-router";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { session, shortcut, stage } from "../testing/stage";
import { wishFrom } from "./asked";
import { CardsView } from "./CardsView";

const choices: Schemas["CardChoicesOut"] = {
  roles: [{ id: "clerk", name: "Counter clerk" }],
  departments: [{ id: "pier", name: "Pier" }],
  keyboards: [
    { platform: "windows", layout: "de", name: "Windows, German", people: 47 },
    { platform: "linux", layout: "us", name: "Linux, American", people: 9 },
  ],
  languages: [
    { id: "en", name: "English" },
    { id: "de", name: "German" },
  ],
  papers: ["A4", "A5 across"],
  person: null,
};
const card: Schemas["CardOut"] = {
  ...{ title: "For everybody", organisation: "Merrow Strait Ferries", foot: "Draft", people: 47, desks: ["Desk"] },
  ...{ last: null, pages: 1, beyond: [], why_not: "", text: "", between_presses: "dann" },
  parts: [
    {
      title: "Every day",
      learned: true,
      lines: [
        {
          ...{ id: "find", name: "Find", programs: [], keys: [shortcut("Control+F")], old: [shortcut("F3")] },
          ...{ notes: ["not at Pier 3"], says: "about 11 minutes a week" },
        },
      ],
    },
  ],
  left_out: [
    { id: "x/lock", name: "Lock the counter", why: "another command or program takes its key: decide that first" },
  ],
};
const answers = { "GET /api/cards/choices": choices, "POST /api/cards/draw": card, "GET /api/cards": [] };

function Here() {
  return <output>{useLocation().search}</output>;
}

function put(more = {}, address = "/cards") {
  return stage(
    <>
      <CardsView />
      <Here />
    </>,
    { ...answers, ...session("editor"), ...more },
    address,
  );
}

describe("cards", () => {
  it("are for everybody on the keyboard of most people until something else is chosen", async () => {
    const sent = put();
    await screen.findByText(/47 people get this one; they had none before/);
    expect(sent.find((s) => s.path === "/api/cards/draw")?.body).toMatchObject({
      ...{ of: "everybody", platform: "windows", layout: "de", language: "en", paper: "A5 across", most: 8 },
    });
    fireEvent.click(screen.getByRole("button", { name: "For whom: everybody" }));
    fireEvent.click(await screen.findByRole("menuitem", { name: /Counter clerk/ }));
    await waitFor(() => expect(sent.filter((s) => s.path === "/api/cards/draw").length).toBe(2));
    expect(sent.filter((s) => s.path === "/api/cards/draw").at(-1)?.body).toMatchObject({ of: "role", who: "clerk" });
    expect(document.querySelector("output")?.textContent).toBe("?whom=role+clerk");
  });

  it("say what saves how much, what is left out and why, and what has to be known of a key", async () => {
    put();
    const sheet = await screen.findByRole("article", { name: "The card" });
    expect(within(sheet).getByText("not at Pier 3")).toBeTruthy();
    expect(within(sheet).getByText("F3").tagName).toBe("S");
    expect(screen.getByText("about 11 minutes a week")).toBeTruthy();
    expect(screen.getByText("another command or program takes its key: decide that first")).toBeTruthy();
    const leave = screen.getByRole("link", { name: /^leave it out\s?: Find$/ });
    expect(leave.getAttribute("href")).toBe("?leave=find");
    expect(screen.getByRole("link", { name: "PDF" }).getAttribute("href")).toMatch(/^\/api\/cards\/card\.pdf\?wish=/);
  });

  it("are handed out, and taken back by the undo of that", async () => {
    const given = { number: 3, title: "For everybody", people: 47, by: "Ines", at: "2026-11-30T08:00:00Z", wish: {} };
    const sent = put({ "POST /api/cards": given, "POST /api/cards/3/back": [] });
    fireEvent.click(await screen.findByRole("button", { name: "Hand it out" }));
    fireEvent.click(await screen.findByRole("button", { name: "Undo this" }));
    await waitFor(() => expect(sent.some((s) => s.path === "/api/cards/3/back")).toBe(true));
  });

  it("have a page at an address that is told once, until it is closed", async () => {
    const given = {
      ...{
        number: 3,
        title: "For everybody",
        people: 47,
        by: "Ines",
        at: "2026-11-30T08:00:00Z",
        open_until: "2031-02-28",
      },
      wish: { platform: "windows", layout: "de" },
    };
    const sent = put({
      "GET /api/cards": [given],
      "POST /api/cards/3/page": { address: "http://here/c/abc/", until: "2031-02-28" },
      "POST /api/cards/3/page/end": [],
    });
    fireEvent.click(await screen.findByRole("button", { name: /^another address/ }));
    await screen.findByText("http://here/c/abc/");
    fireEvent.click(screen.getByRole("button", { name: /^close its page/ }));
    await waitFor(() => expect(screen.queryByText("http://here/c/abc/")).toBe(null));
    expect(sent.at(-2)?.path === "/api/cards/3/page/end" || sent.at(-1)?.path === "/api/cards/3/page/end").toBe(true);
  });

  it("are made for every role by a worker that says how far it is", async () => {
    const batch = { id: "7", file: "cards.pdf", state: "working", done: 1, of: 38, says: "" };
    let asked = 0;
    const later = () => {
      asked += 1;
      if (asked < 3) return { ...batch, done: asked === 1 ? 20 : 38 };
      return { ...batch, state: "done", done: 38, says: "1 was left out." };
    };
    const sent = put({ "POST /api/cards/many": batch, "GET /api/cards/many/7": later });
    fireEvent.click(await screen.findByRole("button", { name: "Languages of all cards: English" }));
    fireEvent.click(await screen.findByRole("menuitem", { name: "every language" }));
    fireEvent.click(screen.getByRole("button", { name: "Files of all cards: a zip of PDFs" }));
    fireEvent.click(await screen.findByRole("menuitem", { name: "one PDF to print" }));
    fireEvent.click(screen.getByRole("button", { name: "Make a card for every role" }));
    await screen.findByText(/20 of 38 cards are made/);
    await screen.findByText(/All 38 cards are laid out; the file is being written/);
    const link = await screen.findByRole("link", { name: "Fetch the 38 cards" });
    expect(link.getAttribute("href")).toBe("/api/cards/many/7/cards.pdf");
    expect(screen.getByText(/1 was left out/)).toBeTruthy();
    expect(sent.find((s) => s.path === "/api/cards/many")?.body).toMatchObject({
      ...{ languages: ["en", "de"], paper: "A5 across", form: "print" },
    });
  });

  it("say what doesn't fit, and what can't be printed here", async () => {
    put({
      "POST /api/cards/draw": {
        ...card,
        pages: 2,
        beyond: ["Save", "Find", "Undo", "Redo"].map((name) => ({ id: name, name })),
      },
    });
    await screen.findByText(
      "It needs 2 pages of A5 across: take a larger paper, or fewer keys. To fit, Save, Find, Undo and 1 more would have to go.",
    );
  });

  it("are for one person who is looked for by name, on that person's keyboards", async () => {
    const merete = { id: "p-1", name: "Merete" };
    const theirs = { ...choices, keyboards: choices.keyboards.slice(1), person: merete };
    const sent = put({
      "GET /api/cards/choices": ({ search }: { search: string }) => (search.includes("p-1") ? theirs : choices),
      "GET /api/organisation/table/people": { total: 1, start: 0, rows: [{ id: "p-1", cells: { name: "Merete" } }] },
    });
    fireEvent.click(await screen.findByRole("button", { name: "For whom: everybody" }));
    fireEvent.click(await screen.findByRole("menuitem", { name: "one person" }));
    fireEvent.change(await screen.findByLabelText("Which person"), { target: { value: "Mere" } });
    fireEvent.click(await screen.findByRole("option", { name: "Merete" }));
    await screen.findByRole("button", { name: "For whom: one person" });
    await screen.findByRole("button", { name: "Keyboard: Linux, American" });
    expect(document.querySelector("output")?.textContent).toBe("?whom=person+p-1");
    const drawn = sent.filter((s) => s.path === "/api/cards/draw").map((s) => s.body as Schemas["CardWish"]);
    // Never somebody's card on a keyboard that isn't theirs.
    expect(drawn.filter((w) => w.of === "person")).toMatchObject([{ who: "p-1", platform: "linux", layout: "us" }]);
    fireEvent.click(screen.getByRole("button", { name: "For whom: one person" }));
    fireEvent.click(await screen.findByRole("menuitem", { name: "everybody" }));
    await screen.findByRole("button", { name: "Keyboard: Windows, German" });
  });

  it("say of a person who sits nowhere that there is no keyboard", async () => {
    put(
      { "GET /api/cards/choices": { ...choices, keyboards: [], person: { id: "p-1", name: "Merete" } } },
      "/cards?whom=person+p-1",
    );
    await screen.findByRole("heading", { name: "There is no keyboard yet to make a card for: Merete has none." });
    fireEvent.click(screen.getByRole("button", { name: "A card for everybody instead" }));
    expect(document.querySelector("output")?.textContent).toBe("");
  });

  it("are looked at only by readers, and need a keyboard", async () => {
    put(session("reader"));
    await screen.findByText(/47 people/);
    expect(screen.queryByRole("button", { name: "Hand it out" })).toBe(null);
    expect(wishFrom(new URLSearchParams("most=99&paper=A9&whom=role+cook&whole=x"), choices)).toMatchObject({
      ...{ of: "everybody", most: 60, paper: "A5 across", whole: "" },
    });
    expect(wishFrom(new URLSearchParams(), { ...choices, keyboards: [] })).toBe(null);
  });
});
