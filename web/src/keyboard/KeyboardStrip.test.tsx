import { fireEvent, screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { lens, stage } from "../testing/stage";
import { KeyboardStrip } from "./KeyboardStrip";
import { useDraftsOnStrip, useShownOnStrip } from "./strip";

function key(code: string, x: number, parts: Partial<Schemas["KeyOut"]> = {}): Schemas["KeyOut"] {
  const cap = code.replace("Key", "");
  return {
    code,
    x,
    y: 3,
    w: 1,
    below: null,
    cap,
    second: "",
    modifier: null,
    owner: "free",
    says: "",
    short: "",
    sentence: "Nobody takes it.",
    source: "",
    reach: 1,
    ...parts,
  };
}
const keyboard: Schemas["KeyboardOut"] = {
  width: 5,
  rows: 6,
  platform: "windows",
  language: "de",
  held: [],
  after: null,
  waiting: [],
  free: ["KeyJ"],
  modifier_caps: { Control: "Strg", Alt: "Alt", Shift: "Umschalt", Meta: "Win", AltGraph: "AltGr" },
  keys: [
    key("ControlLeft", 0, { cap: "Strg", modifier: "Control", owner: "dead", sentence: "" }),
    key("KeyF", 1),
    key("KeyG", 2, { owner: "program", says: "Go to a cell", short: "Go", sentence: "Quaysheet: Go to a cell." }),
  ],
};
const show = () => stage(<KeyboardStrip />, { "GET /api/lenses": [lens()], "GET /api/keyboard": keyboard });

describe("the keyboard strip", () => {
  it("names who takes each key", async () => {
    show();
    expect(await screen.findByRole("button", { name: "G, Quaysheet: Go to a cell." })).toBeTruthy();
  });
  it("has one key in the tab order and arrows to the others", async () => {
    show();
    const f = await screen.findByRole("button", { name: /^F,/ });
    const inOrder = () => screen.getAllByRole("button").filter((b) => b.dataset.code && b.tabIndex === 0);
    expect(inOrder()).toEqual([f]);
    f.focus();
    fireEvent.keyDown(f, { key: "ArrowRight" });
    expect(document.activeElement).toBe(screen.getByRole("button", { name: /^G,/ }));
    expect(inOrder()).toHaveLength(1);
  });
  it("locks a modifier by a click and asks again who takes what", async () => {
    const sent = show();
    const control = await screen.findByRole("button", { name: "Strg" });
    const before = sent.length;
    fireEvent.click(control);
    await waitFor(() => expect(sent.length).toBeGreaterThan(before));
    expect(control.getAttribute("aria-pressed")).toBe("true");
    fireEvent.click(screen.getByRole("button", { name: "let go" }));
    expect(control.getAttribute("aria-pressed")).toBe("false");
  });
  it("can be hidden and shown", async () => {
    show();
    fireEvent.click(await screen.findByRole("button", { name: "hide the keyboard" }));
    expect(screen.queryByRole("group", { name: "Keys" })).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Show the keyboard" }));
    expect(await screen.findByRole("group", { name: "Keys" })).toBeTruthy();
  });
  it("lays reach over the keys, and remembers it", async () => {
    show();
    fireEvent.click(await screen.findByRole("button", { name: "lay reach over" }));
    expect(await screen.findByRole("button", { name: "F, Nobody takes it. Reach 1." })).toBeTruthy();
    expect(window.localStorage.getItem("amberkey.reach")).toBe("yes");
    fireEvent.click(screen.getByRole("button", { name: "take reach off" }));
    expect(screen.queryByRole("button", { name: /Reach 1/ })).toBeNull();
  });
  it("is printed with who takes each key, or with reach where that is laid over", async () => {
    window.localStorage.removeItem("amberkey.reach");
    show();
    const link = await screen.findByRole("link", { name: "print it" });
    expect(link.getAttribute("href")).toMatch(/^\/api\/cards\/keyboard\.pdf\?setup=.*shows=owners/);
    fireEvent.click(screen.getByRole("button", { name: "lay reach over" }));
    expect(screen.getByRole("link", { name: "print it" }).getAttribute("href")).toMatch(/shows=reach/);
    fireEvent.click(screen.getByRole("button", { name: "take reach off" }));
  });
  it("lists free keys, the easiest first, where modifiers are held", async () => {
    const keys = [...keyboard.keys, key("KeyJ", 3, { reach: 2 })];
    stage(<KeyboardStrip />, {
      "GET /api/lenses": [lens()],
      "GET /api/keyboard": { ...keyboard, keys, free: ["KeyJ", "KeyF"] },
    });
    fireEvent.click(await screen.findByRole("button", { name: "Strg" }));
    const free = await screen.findAllByRole("button", { name: /, reach/ });
    expect(free.map((b) => b.textContent)).toEqual(["J", "F"]);
  });
  it("goes on in a sequence, and begins anew", async () => {
    const waiting = key("KeyK", 3, { owner: "program", says: "waits for more", sentence: "It waits." });
    const begun = { after: { text: "code:KeyK", words: "K", caps: [["K"]] }, waiting: ["K then F: Fold"] };
    const asked: string[] = [];
    stage(<KeyboardStrip />, {
      "GET /api/lenses": [lens()],
      "GET /api/keyboard": (url: URL) => {
        const after = url.searchParams.get("after") ?? "";
        asked.push(after);
        return { ...keyboard, keys: [...keyboard.keys, waiting], ...(after ? begun : {}) };
      },
    });
    fireEvent.focus(await screen.findByRole("button", { name: "K, It waits." }));
    fireEvent.click(await screen.findByRole("button", { name: "and then?" }));
    expect(await screen.findByText(/may become K then F: Fold/)).toBeTruthy();
    expect(asked.at(-1)).toBe("code:KeyK");
    fireEvent.click(screen.getByRole("button", { name: "begin anew" }));
    await waitFor(() => expect(screen.queryByText(/may become/)).toBeNull());
  });
  it("marks the keys that differ from the lens that it is held against", async () => {
    const address = "/?against=harbour&differs=1";
    const theirs = keyboard.keys.map((k) => (k.code === "KeyG" ? { ...k, says: "Sort", sentence: "Sort." } : k));
    stage(
      <KeyboardStrip />,
      {
        "GET /api/lenses": [lens(), lens({ setup: "harbour" })],
        "GET /api/keyboard": (url: URL) =>
          url.searchParams.get("setup") === "harbour" ? { ...keyboard, keys: theirs } : keyboard,
      },
      address,
    );
    expect(await screen.findByRole("button", { name: "G, Quaysheet: Go to a cell. Differs." })).toBeTruthy();
    expect(screen.getByRole("button", { name: "F, Nobody takes it." })).toBeTruthy();
  });
  it("is that of the selection, in its own setup and focus, as long as something is selected", async () => {
    const asked: string[] = [];
    const messages = { program: "mail", name: "Mail", scopes: [{ id: "list", name: "List", takes_text: false }] };
    stage(
      <>
        <KeyboardStrip />
        <Selection />
      </>,
      {
        "GET /api/lenses": [lens(), lens({ setup: "harbour", focuses: [messages] })],
        "GET /api/keyboard": (url: URL) => {
          asked.push(["setup", "program", "scope", "held"].map((n) => url.searchParams.get(n)).join(" "));
          return keyboard;
        },
      },
    );
    await screen.findByRole("button", { name: "F, Nobody takes it." });
    expect(asked).toEqual(["counters quaysheet sheet "]);
    fireEvent.click(screen.getByRole("button", { name: "select" }));
    expect(await screen.findByText("Write")).toBeTruthy();
    await waitFor(() => expect(asked.at(-1)).toBe("harbour mail list Control"));
    fireEvent.click(screen.getByRole("button", { name: "select" }));
    expect(await screen.findByText(/in Quaysheet, Sheet\./)).toBeTruthy();
  });
  it("shows drafts as if they were saved, and what they change", async () => {
    const drawn = keyboard.keys.map((k) =>
      k.code === "KeyF" ? { ...k, says: "Fare", sentence: "Quaysheet: Fare." } : k,
    );
    const played = { "GET /api/lenses": [lens()], "GET /api/keyboard": keyboard };
    const sent = stage(<Drafting />, { ...played, "POST /api/keyboard": { ...keyboard, keys: drawn } });
    expect(await screen.findByRole("button", { name: "F, Quaysheet: Fare. Differs." })).toBeTruthy();
    expect(screen.getByText("with the draft")).toBeTruthy();
    fireEvent.focus(screen.getByRole("button", { name: /^F,/ }));
    expect(await screen.findByText("Without the drafts: Nobody takes it.")).toBeTruthy();
    expect(sent.find((s) => s.method === "POST")?.body).toMatchObject({ program: "quaysheet", drafts: DRAFTS });
  });
  it("is held against nothing when no draft is shown any more", async () => {
    const drawn = keyboard.keys.map((k) =>
      k.code === "KeyF" ? { ...k, says: "Fare", sentence: "Quaysheet: Fare." } : k,
    );
    const held = { ...keyboard, keys: drawn };
    stage(<Drafting />, {
      "GET /api/lenses": [lens()],
      "GET /api/keyboard": (url: URL) => (url.searchParams.get("held") ? held : keyboard),
      "POST /api/keyboard": held,
    });
    await screen.findByRole("button", { name: "F, Quaysheet: Fare. Differs." });
    fireEvent.click(screen.getByRole("button", { name: "drop" }));
    fireEvent.click(await screen.findByRole("button", { name: "Strg" }));
    expect(await screen.findByRole("button", { name: "F, Quaysheet: Fare." })).toBeTruthy();
    expect(screen.queryByText("with the draft")).toBeNull();
  });
  it("stays as it is where a draft can't be", async () => {
    const refused = { title: "It can't.", status: 409, detail: "", cure: "", safe: "" };
    const played = { "GET /api/lenses": [lens()], "GET /api/keyboard": keyboard };
    stage(<Drafting />, { ...played, "POST /api/keyboard": [409, refused] });
    expect(await screen.findByRole("button", { name: "F, Nobody takes it." })).toBeTruthy();
  });
});

const DRAFTS = [{ setup: "counters", program: "quaysheet", command: "fare", shortcuts: ["F"] }];

/** A screen that shows what isn't saved. */
function Drafting() {
  const [drafts, setDrafts] = useState(DRAFTS);
  useDraftsOnStrip(drafts);
  return (
    <>
      <KeyboardStrip />
      <button type="button" onClick={() => setDrafts([])}>
        drop
      </button>
    </>
  );
}

/** A screen that shows a press in another setup, until it does no more. */
function Selection() {
  const [on, setOn] = useState(false);
  const place = { setup: "harbour", program: "mail", scope: "list" };
  useShownOnStrip(on ? ["Control"] : null, "KeyF", "Write", place);
  return (
    <button type="button" onClick={() => setOn(!on)}>
      select
    </button>
  );
}
