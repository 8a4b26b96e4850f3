import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../../testing/stage";
import { KeysView } from "./KeysView";
import type { Keys } from "./useKeys";

const harbour = {
  key: "AAAA",
  name: "The harbour",
  fingerprint: "4740 1644 2e0c 2cf2 ac69 1eb5 f55d 091e",
  at: "2026-11-24T10:00:00Z",
  by: "Arvid",
  withdrawn: false,
};
const keys: Keys = {
  own: { name: "Merrow Strait Ferries", fingerprint: "0ef5 5cfd", kept: "file", older: 1 },
  trusted: [harbour],
};

function show(role: "reader" | "administrator", given: Keys = keys) {
  return stage(<KeysView />, {
    ...session(role),
    "GET /api/keys": given,
    "POST /api/keys": given,
    "POST /api/keys/withdrawn": { ...given, trusted: [{ ...harbour, withdrawn: true }] },
    "POST /api/keys/next": { ...given, own: { ...given.own, fingerprint: "ffff 0000", older: 2 } },
  });
}

describe("who signs", () => {
  it("tells the own key and whose keys are known", async () => {
    show("reader");
    expect(await screen.findByText("0ef5 5cfd")).toBeTruthy();
    expect(screen.getByText(/which followed an older one/)).toBeTruthy();
    expect(screen.getByText("The harbour")).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Trust no longer/ })).toBeNull();
    expect(screen.queryByRole("button", { name: "Make a new key" })).toBeNull();
  });
  it("trusts no longer, and again with undo", async () => {
    const sent = show("administrator");
    fireEvent.click(await screen.findByRole("button", { name: /Trust no longer/ }));
    expect(await screen.findByText("The harbour is not trusted any more.")).toBeTruthy();
    expect(screen.getByRole("heading", { name: "Not trusted any more" })).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Undo this" }));
    await waitFor(() => expect(sent.filter((s) => s.path === "/api/keys/withdrawn")).toHaveLength(2));
  });
  it("makes a new key only when told so twice", async () => {
    const sent = show("administrator");
    fireEvent.click(await screen.findByRole("button", { name: "Make a new key" }));
    fireEvent.click(screen.getByRole("button", { name: "Keep this one" }));
    expect(sent.some((s) => s.path === "/api/keys/next")).toBe(false);
    fireEvent.click(screen.getByRole("button", { name: "Make a new key" }));
    fireEvent.click(screen.getByRole("button", { name: "Make it" }));
    expect(await screen.findByText("ffff 0000")).toBeTruthy();
    expect(screen.getByText(/followed 2 older ones/)).toBeTruthy();
  });
  it("says what to do where there is no key and nobody is known", async () => {
    show("administrator", { own: { name: "Ours", fingerprint: "", kept: "", older: 0 }, trusted: [] });
    expect(await screen.findByText(/has no key here, so bundles go out unsigned/)).toBeTruthy();
    expect(screen.getByText("No other organisation is known yet.")).toBeTruthy();
  });
  it("trusts a key under a name", async () => {
    const sent = show("administrator");
    fireEvent.change(await screen.findByLabelText("What you call them"), { target: { value: "The pilots" } });
    const input = document.querySelector<HTMLInputElement>("input[type=file]");
    fireEvent.change(input as HTMLInputElement, { target: { files: [new File(["{}"], "key.json")] } });
    expect(await screen.findByText(/The key is trusted/)).toBeTruthy();
    expect(sent.some((s) => s.method === "POST" && s.path === "/api/keys")).toBe(true);
  });
});
