import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../testing/stage";
import { standing } from "./AccountsList";
import { AccountView } from "./AccountView";
import type { Account } from "./useAccounts";
import { ANYTHING, askedOf } from "./useAccounts";

const odd: Account = {
  id: 7,
  signs_in_as: "odd",
  name: "Odd",
  role: "editor",
  active: true,
  has_password: false,
  waits: null,
  last: null,
  sessions: [],
  me: false,
};

describe("accounts", () => {
  it("shows the link of somebody new once, and hands it over", async () => {
    const sent = stage(<AccountView />, {
      ...session("administrator"),
      "GET /api/accounts": [odd],
      "POST /api/accounts": { account: odd, link: { secret: "s3cret", hours: 48 } },
    });
    fireEvent.change(await screen.findByLabelText(/Name to sign in with/), { target: { value: "odd" } });
    fireEvent.click(screen.getByRole("button", { name: "Add" }));
    expect(await screen.findByText(/\/link#s3cret$/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "It is handed over" }));
    expect(screen.queryByText(/s3cret/)).toBeNull();
    expect(sent.find((s) => s.method === "POST")?.body).toEqual({ name: "", signs_in_as: "odd", role: "editor" });
  });

  it("lets everybody else change only their own password", async () => {
    const sent = stage(<AccountView />, {
      ...session("reader"),
      "GET /api/session/open": [{ at: "2026-11-29T08:00:00Z", address: "192.0.2.1", this: true }],
      "PUT /api/session/password": { me: null, csrf: "" },
    });
    expect(await screen.findByRole("button", { name: "Nowhere else" })).toHaveProperty("disabled", true);
    expect(screen.queryByText("Who may sign in")).toBeNull();
    fireEvent.change(screen.getByLabelText(/Present password/), { target: { value: "old" } });
    fireEvent.change(screen.getByLabelText(/New password/), { target: { value: "new" } });
    fireEvent.click(screen.getByRole("button", { name: "Change it" }));
    await waitFor(() => expect(sent.find((s) => s.method === "PUT")?.body).toEqual({ now: "old", after: "new" }));
  });

  it("tells how an account stands", () => {
    expect(standing(odd)).toBe("has no password yet, and no link");
    expect(standing({ ...odd, active: false })).toBe("may not sign in");
    expect(standing({ ...odd, has_password: true })).toBe("never here yet");
    expect(standing({ ...odd, waits: "2026-12-01T08:00:00Z" })).toMatch(/^a link waits until /);
  });

  it("asks only for what is looked for", () => {
    expect(askedOf({ ...ANYTHING, words: "house", since: "2026-11-01" })).toEqual({
      words: "house",
      since: "2026-11-01",
      page: "1",
    });
  });
});
