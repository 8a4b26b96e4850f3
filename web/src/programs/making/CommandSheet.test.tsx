import { act, fireEvent } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { stage } from "../../testing/stage";
import { CommandSheet } from "./CommandSheet";
import { draftOf } from "./draft";
import { program } from "./testing";

const before = draftOf(program);
const [first] = before.rows;
const draft = {
  ...before,
  rows: Array.from({ length: 231 }, (_, n) => ({
    ...first,
    row: n,
    id: n < 230 ? `c-${n}` : null,
    name: `Command ${n}`,
  })),
} as typeof before;

// Looked for by selectors: by role or label takes a minute in a sheet of that length.
const rows = () => document.querySelectorAll("[data-row]").length;
const button = () => document.querySelector<HTMLButtonElement>("button");

describe("a long sheet", () => {
  it("is shown piece by piece, found by words, and always shows what is new", async () => {
    const chosen = vi.fn();
    stage(
      <CommandSheet
        draft={draft}
        faults={new Map()}
        chosen={new Set()}
        tasks={[]}
        disabled={false}
        onRow={() => undefined}
        onChoose={() => undefined}
        onAll={chosen}
      />,
      {},
    );
    expect(rows()).toBe(201);
    expect(button()?.textContent).toBe("Show more: 201 of 231 are here");
    const words = document.querySelector<HTMLInputElement>('input[placeholder="name, group or keys"]');
    if (!words) throw new Error("no field for words");
    await act(async () => fireEvent.change(words, { target: { value: "command 22" } }));
    expect(rows()).toBe(12);
    const all = document.querySelector<HTMLInputElement>('label input[type="checkbox"]');
    if (all) fireEvent.click(all);
    expect(chosen.mock.calls[0]?.[0]).toHaveLength(12);
  });
});
