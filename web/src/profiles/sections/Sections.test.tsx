import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Sent } from "../../testing/stage";
import { session, shortcut, stage } from "../../testing/stage";
import { Abbreviations } from "./Abbreviations";
import { ChangedKeys } from "./ChangedKeys";
import { Launchers } from "./Launchers";
import { Macros } from "./Macros";
import { Menus } from "./Menus";
import { Preferences } from "./Preferences";
import { idFrom, moved } from "./parts";
import { Sets } from "./Sets";
import { Shelves } from "./Shelves";
import { Translations } from "./Translations";
import { ANSWERS, held, PLAN, place, plan, SAVE } from "./testing";

const SHELF = {
  key: "quick in quaysheet",
  item: { program: "quaysheet", shelf: "quick", commands: ["stamp", "hold", "quote"] },
  program: "quaysheet",
  program_name: "Quaysheet",
  name: "Quick shelf",
  places: [place("stamp", "Stamp the berth", 1), place("hold", "Hold a cabin", 2), place("quote", "Quote the fare", 3)],
  most: 4,
  begin: null,
  begin_chosen: false,
  lost: "",
};

function bodies(sent: Sent[], at: string) {
  return sent.filter((s) => `${s.method} ${s.path}` === at).map((s) => s.body as { items: { item: unknown }[] });
}

async function saved(sent: Sent[]) {
  const button = await screen.findByRole("button", { name: "Save it" });
  await waitFor(() => expect(button).toHaveProperty("disabled", false));
  fireEvent.click(button);
  await waitFor(() => expect(bodies(sent, SAVE)).toHaveLength(1));
  return bodies(sent, SAVE)[0];
}

async function choose(field: string, option: string) {
  fireEvent.mouseDown(await screen.findByRole("combobox", { name: field }));
  fireEvent.click(await screen.findByRole("option", { name: option }));
}

function show(part: React.ReactNode, answers: object = {}) {
  return stage(part, { ...session("editor"), ...ANSWERS, ...answers });
}

describe("a shelf", () => {
  it("is moved by Alt and an arrow, and tells every changed key before it is saved", async () => {
    const shelf = {
      renumbered: [
        {
          ...{ command: "hold", name: "Hold a cabin", uses: 40 },
          ...{ before: shortcut("F9 then 2"), after: shortcut("F9 then 3") },
        },
      ],
      changes: 2,
      people: 38,
      others: [{ says: "Quote the fare at the end", commands: ["stamp", "hold", "quote"], changes: 0, uses: 0 }],
    };
    const sent = show(<Shelves held={held({ shelves: [SHELF] })} />, { [PLAN]: plan({ shelf }) });
    const last = await screen.findByRole("button", { name: /Quote the fare, place 3/ });
    await waitFor(() => expect(last).toHaveProperty("disabled", false));
    fireEvent.keyDown(last, { key: "ArrowLeft", altKey: true });
    expect(await screen.findByText("It changes 2 keys.")).toBeTruthy();
    expect(screen.getByText("pressed 40 times a week")).toBeTruthy();
    const body = await saved(sent);
    expect(body?.items[0]?.item).toMatchObject({ commands: ["stamp", "quote", "hold"] });
    expect(bodies(sent, PLAN).at(-1)).toMatchObject({ about: "quote" });
  });

  it("takes the order that changes fewer, and is left as it was", async () => {
    const shelf = {
      ...{ renumbered: [], changes: 1, people: 1 },
      others: [{ says: "So that fewest keys change", commands: ["quote", "hold", "stamp"], changes: 1, uses: 0 }],
    };
    show(<Shelves held={held({ shelves: [SHELF] })} />, { [PLAN]: plan({ shelf }) });
    const first = await screen.findByRole("button", { name: /Stamp the berth, place 1/ });
    await waitFor(() => expect(first).toHaveProperty("disabled", false));
    fireEvent.keyDown(first, { key: "Delete" });
    fireEvent.click(await screen.findByRole("button", { name: "Take this order" }));
    const names = () => within(screen.getByRole("list", { name: "Places" })).getAllByRole("button");
    expect(names().map((b) => b.textContent)).toEqual(["Quote the fare", "Hold a cabin", "Stamp the berth"]);
    fireEvent.click(screen.getByRole("button", { name: "Leave it as it was" }));
    expect(names()[0]).toHaveProperty("textContent", expect.stringContaining("Stamp the berth"));
    expect(screen.queryByRole("button", { name: "Save it" })).toBeNull();
  });

  it("is begun with commands of a program that has one", async () => {
    const sent = show(<Shelves held={held()} />);
    await choose("Program", "Quaysheet");
    await choose("Shelf", "Quick shelf");
    fireEvent.mouseDown(await screen.findByRole("combobox", { name: "Add a command" }));
    fireEvent.click(await screen.findByRole("option", { name: "Hold a cabin" }));
    const body = await saved(sent);
    expect(body?.items[0]?.item).toEqual({ program: "quaysheet", shelf: "quick", commands: ["hold"] });
  });

  it("is only read by readers", async () => {
    stage(<Shelves held={held({ shelves: [SHELF] })} />, { ...session("reader"), ...ANSWERS });
    expect(await screen.findByRole("button", { name: /Stamp the berth/ })).toHaveProperty("disabled", true);
    expect(screen.queryByRole("button", { name: "Take the shelf out" })).toBeNull();
  });
});

const GROUP = {
  ...{ hidden: false, built_in: true, can_hide: false, can_move: false, commands: [], key: null, item: null },
};
const LEVEL = {
  program: "quaysheet",
  program_name: "Quaysheet",
  place: "bar",
  name: "Menu bar",
  takes_own: true,
  groups: [
    { ...GROUP, id: "file", name: "File", letter: "F" },
    { ...GROUP, id: "looks", name: "Looks", letter: "L", can_hide: true, can_move: true },
    {
      ...GROUP,
      ...{ id: "own", name: "Counter", letter: "C", built_in: false, can_hide: true, can_move: true },
      commands: [
        { command: "stamp", name: "Stamp", letter: "S", keys: { windows: shortcut("Alt then C then S") }, lost: "" },
      ],
      key: "own in quaysheet",
      item: { program: "quaysheet", id: "own", place: "bar", name: "Counter", commands: ["stamp"] },
    },
  ],
};

describe("menu groups", () => {
  it("shows the letters and the presses in turn", async () => {
    show(<Menus held={held({ levels: [LEVEL] })} />);
    const presses = await screen.findByRole("list", { name: "Presses in turn" });
    expect(presses).toHaveProperty("textContent", expect.stringContaining("Alt then C then S"));
  });

  it("hides a group of the program and puts one behind another", async () => {
    const sent = show(<Menus held={held({ levels: [LEVEL] })} />);
    fireEvent.click(await screen.findByRole("button", { name: "Hide Looks" }));
    await waitFor(() =>
      expect(bodies(sent, PLAN).at(-1)?.items[0]).toEqual({
        key: null,
        item: { program: "quaysheet", id: "looks", place: "bar", hidden: true },
      }),
    );
    fireEvent.click(screen.getByRole("button", { name: "Counter to the left" }));
    const body = await saved(sent);
    expect(body?.items[0]?.item).toMatchObject({ id: "own", after: "file" });
  });

  it("puts all back at once", async () => {
    const sent = show(<Menus held={held({ levels: [LEVEL] })} />);
    fireEvent.click(await screen.findByRole("button", { name: /Put all menus back/ }));
    await waitFor(() => expect(bodies(sent, SAVE)[0]?.items).toEqual([{ key: "own in quaysheet", item: null }]));
  });

  it("makes a group with a name and commands", async () => {
    const sent = show(<Menus held={held()} />);
    await choose("In the menus of", "Quaysheet");
    fireEvent.change(await screen.findByLabelText("Name of the group"), { target: { value: "Für Gäste" } });
    fireEvent.mouseDown(screen.getByRole("combobox", { name: "Add a command" }));
    fireEvent.click(await screen.findByRole("option", { name: "Quote the fare" }));
    const body = await saved(sent);
    expect(body?.items[0]?.item).toMatchObject({
      id: "fur-gaste",
      name: "Für Gäste",
      commands: ["quote"],
      place: "bar",
    });
  });
});

describe("abbreviations", () => {
  const short = {
    ...{ key: "mfg", short: "mfg", text: "Mit freundlichen Grüßen\n{name}", programs: [], set_off: "at once" },
    ...{ filled: ["name"], item: { id: "mfg", short: "mfg", text: "Mit freundlichen Grüßen\n{name}" } },
  };

  it("tells what would go wrong before it is saved", async () => {
    const would = { solves: [], makes: ["und: it is a word in German"], solved: 0, made: 1, people: 3 };
    const sent = show(<Abbreviations held={held({ abbreviations: [short] })} />, { [PLAN]: plan({ would }) });
    fireEvent.click(await screen.findByRole("button", { name: "Add an abbreviation" }));
    fireEvent.change(screen.getByLabelText("Short form"), { target: { value: "und" } });
    fireEvent.change(screen.getByLabelText("Becomes"), { target: { value: "und so weiter" } });
    expect(await screen.findAllByText("und: it is a word in German")).not.toHaveLength(0);
    const body = await saved(sent);
    expect(body?.items[0]?.item).toMatchObject({ id: "und", short: "und", set_off: "after a space or sign" });
  });

  it("tells why one can't be, and keeps what was typed", async () => {
    const faults = [{ place: "abbreviations[0].short", says: "A short form has no blanks.", cure: "" }];
    const refusal = [
      400,
      { title: "This document can't be taken.", status: 400, detail: "", cure: "", safe: "", faults },
    ];
    show(<Abbreviations held={held()} />, { [PLAN]: refusal });
    fireEvent.click(await screen.findByRole("button", { name: "Add an abbreviation" }));
    fireEvent.change(screen.getByLabelText("Short form"), { target: { value: " " } });
    fireEvent.change(screen.getByLabelText("Becomes"), { target: { value: "x" } });
    expect(await screen.findByRole("alert")).toHaveProperty(
      "textContent",
      expect.stringContaining("A short form has no blanks."),
    );
    expect(screen.getByRole("button", { name: "Save it" })).toHaveProperty("disabled", true);
    expect(screen.getByLabelText("Becomes")).toHaveProperty("value", "x");
  });
});

describe("macros", () => {
  it("is made of steps in their order", async () => {
    const sent = show(<Macros held={held()} />);
    fireEvent.click(await screen.findByRole("button", { name: "Add a macro" }));
    await choose("Program", "Quaysheet");
    fireEvent.change(await screen.findByLabelText("Name"), { target: { value: "Twice" } });
    fireEvent.mouseDown(await screen.findByRole("combobox", { name: "Add a command" }));
    fireEvent.click(await screen.findByRole("option", { name: "Stamp the berth" }));
    const text = screen.getByLabelText("Or type a text");
    fireEvent.change(text, { target: { value: "done" } });
    fireEvent.keyDown(text, { key: "Enter" });
    fireEvent.click(screen.getByRole("button", { name: "Step 2 up" }));
    const steps = within(screen.getByRole("list", { name: "Steps" })).getAllByRole("listitem");
    expect(steps.map((s) => s.textContent)).toEqual([
      expect.stringContaining("1. Type “done”"),
      expect.stringContaining("2. Run Stamp the berth"),
    ]);
    const body = await saved(sent);
    expect(body?.items[0]?.item).toMatchObject({
      id: "twice",
      steps: [{ types: "done" }, { runs: "stamp" }],
      kept: "person",
    });
  });

  it("says what waits for a releaser", async () => {
    const one = {
      ...{ key: "m", item: {}, program_name: "Quaysheet", name: "Twice", steps: ["Run Stamp"], keys: {} },
      ...{ kept: "with the person", replay: "from the caret", approved: false, lost: "" },
    };
    show(<Macros held={held({ macros: [one] })} />);
    expect(await screen.findByText("A releaser approves it before it reaches anybody.")).toBeTruthy();
  });
});

describe("preferences", () => {
  it("sets a number within its limits", async () => {
    const sent = show(<Preferences held={held()} />);
    await choose("Program", "Quaysheet");
    await choose("Preference", "Text size");
    expect(await screen.findByText(/The maker ships 100 percent; it stands in the settings file/)).toBeTruthy();
    fireEvent.change(screen.getByRole("spinbutton", { name: "Text size" }), { target: { value: "120" } });
    const body = await saved(sent);
    expect(body?.items[0]?.item).toEqual({ program: "quaysheet", preference: "size", value: 120 });
  });

  it("is locked and let go", async () => {
    const size = {
      ...{ key: "size in quaysheet", program_name: "Quaysheet", name: "Text size", value: "120 percent", lost: "" },
      ...{ default: "100 percent", platform_name: "", locked: false },
      item: { program: "quaysheet", preference: "size", value: 120 },
    };
    const sent = show(<Preferences held={held({ preferences: [size] })} />);
    fireEvent.click(await screen.findByRole("switch", { name: "Nearer layers can't change Text size in Quaysheet" }));
    await waitFor(() => expect(bodies(sent, SAVE)[0]?.items[0]?.item).toMatchObject({ locked: true, value: 120 }));
  });
});

describe("what is known to the engine", () => {
  it("changes a key", async () => {
    const sent = show(<ChangedKeys held={held()} />, { [PLAN]: plan({ told: ["Nothing makes CapsLock any more."] }) });
    await choose("The key", "Caps Lock");
    await choose("acts as", "Control, left");
    expect(await screen.findByText("Nothing makes CapsLock any more.")).toBeTruthy();
    const body = await saved(sent);
    expect(body?.items[0]?.item).toEqual({ key: "CapsLock", becomes: "ControlLeft" });
  });

  it("translates a press in a window", async () => {
    const sent = show(<Translations held={held()} />);
    await choose("In the window of", "Quaysheet");
    fireEvent.change(await screen.findByLabelText("This press"), { target: { value: "F4" } });
    fireEvent.change(screen.getByLabelText("becomes"), { target: { value: "F5" } });
    const body = await saved(sent);
    expect(body?.items[0]?.item).toEqual({ program: "quaysheet", platform: "windows", keys: "F4", becomes: "F5" });
  });

  it("ends a press in its window", async () => {
    const launcher = { key: "tides", item: {}, name: "Tides", runs: "tides", keys: {}, approved: true };
    const sent = show(<Translations held={held({ launchers: [launcher] })} />);
    await choose("In the window of", "Quaysheet");
    fireEvent.change(await screen.findByLabelText("This press"), { target: { value: "F4" } });
    await choose("It", "starts a launcher");
    await choose("starts", "Tides");
    const body = await saved(sent);
    expect(body?.items[0]?.item).toEqual({ program: "quaysheet", platform: "windows", keys: "F4", starts: "tides" });
  });

  it("adds a launcher with a key for each platform", async () => {
    const sent = show(<Launchers held={held()} />);
    fireEvent.click(await screen.findByRole("button", { name: "Add a launcher" }));
    fireEvent.change(screen.getByLabelText("Name"), { target: { value: "Tides" } });
    fireEvent.change(screen.getByLabelText("Command line"), { target: { value: "tides --now" } });
    fireEvent.change(screen.getByLabelText("Key on macOS"), { target: { value: "ctrl t" } });
    const body = await saved(sent);
    expect(body?.items[0]?.item).toEqual({
      ...{ id: "tides", name: "Tides", runs: "tides --now" },
      shortcuts: { macos: ["ctrl t"] },
    });
  });

  it("takes a set off as a whole", async () => {
    const sent = show(<Sets held={held({ sets: [{ key: "lent", name: "Lent", entries: 12 }] })} />);
    fireEvent.click(await screen.findByRole("button", { name: "Take it off: Lent" }));
    const body = await saved(sent);
    expect(body?.items).toEqual([{ key: "lent", item: null }]);
  });
});

describe("parts", () => {
  it("moves within a list", () => {
    expect(moved(["a", "b", "c"], 2, 0)).toEqual(["c", "a", "b"]);
    expect(moved(["a"], 5, 0)).toEqual(["a"]);
  });

  it("makes ids of names", () => {
    expect(idFrom("Für Gäste!", [])).toBe("fur-gaste");
    expect(idFrom("Tides", ["tides", "tides-2"])).toBe("tides-3");
    expect(idFrom("日本", [])).toBe("item");
  });
});
