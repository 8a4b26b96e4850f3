import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { useLocation } from "react-router";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { shortcut, stage } from "../testing/stage";
import { LookUp } from "./LookUp";

function thing(name: string, to: string): Schemas["FoundThingOut"] {
  return { name, marks: [{ begin: 0, end: 2 }], says: "Quaysheet, Sheet", also: "", keys: [shortcut("F2")], to };
}

const found: Schemas["FoundGroupOut"][] = [
  {
    kind: "command",
    title: "Commands",
    count: 12,
    things: [thing("Save", "/programs?at=save"), thing("Save a copy", "/programs?at=copy")],
  },
  { kind: "to do", title: "Things to do", count: 1, things: [thing("Sail", "/try")] },
];

function Here() {
  const { pathname, search } = useLocation();
  return <output>{`${pathname}${search}`}</output>;
}

function put(answers = {}) {
  return stage(
    <>
      <LookUp />
      <Here />
    </>,
    { "GET /api/lookup": found, ...answers },
  );
}

describe("the look-up", () => {
  it("opens help beside the screen that is there", async () => {
    put({
      "GET /api/lookup": [{ kind: "guide", title: "Guide", count: 1, things: [thing("Save", "?guide=clashes.save")] }],
    });
    const field = screen.getByRole("combobox", { name: "Look up" });
    field.focus();
    fireEvent.change(field, { target: { value: "sa" } });
    await screen.findByRole("option");
    fireEvent.keyDown(field, { key: "Enter" });
    await waitFor(() => expect(document.querySelector("output")?.textContent).toBe("/?guide=clashes.save"));
  });

  it("walks by arrows over all kinds and goes there", async () => {
    put();
    const field = screen.getByRole("combobox", { name: "Look up" });
    field.focus();
    fireEvent.change(field, { target: { value: "sa" } });
    const options = await screen.findAllByRole("option");
    expect(options.map((o) => o.getAttribute("aria-selected"))).toEqual(["true", "false", "false"]);
    expect(within(screen.getByRole("group", { name: "Commands" })).getByText("12 in all")).toBeTruthy();
    fireEvent.keyDown(field, { key: "ArrowUp" });
    expect(field.getAttribute("aria-activedescendant")).toBe(options[2]?.id);
    fireEvent.keyDown(field, { key: "Enter" });
    await waitFor(() => expect(document.querySelector("output")?.textContent).toBe("/try"));
    expect((field as HTMLInputElement).value).toBe("");
  });

  it("asks once fingers rest", async () => {
    const sent = put();
    const field = screen.getByRole("combobox", { name: "Look up" });
    field.focus();
    for (const value of ["s", "sa", "sav"]) fireEvent.change(field, { target: { value } });
    await screen.findAllByRole("option");
    expect(sent.filter((s) => s.path === "/api/lookup")).toHaveLength(1);
  });

  it("says where nothing is called that, and Escape empties it", async () => {
    put({ "GET /api/lookup": [] });
    const field = screen.getByRole("combobox", { name: "Look up" }) as HTMLInputElement;
    field.focus();
    fireEvent.change(field, { target: { value: "zzz" } });
    await screen.findByText("Nothing here is called that.");
    fireEvent.keyDown(field, { key: "Escape" });
    expect(field.value).toBe("");
    expect(screen.queryByRole("listbox")).toBe(null);
  });
});
