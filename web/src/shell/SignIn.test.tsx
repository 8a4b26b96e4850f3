import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { stage } from "../testing/stage";
import { SignIn } from "./SignIn";

function fill() {
  fireEvent.change(screen.getByLabelText(/Name/), { target: { value: "ines" } });
  fireEvent.change(screen.getByLabelText(/Password/), { target: { value: "secret" } });
  fireEvent.click(screen.getByRole("button", { name: "Sign in" }));
}

describe("signing in", () => {
  it("sends name and password", async () => {
    const sent = stage(<SignIn />, { "POST /api/session": { me: null, csrf: "" } });
    fill();
    await waitFor(() => expect(sent[0]?.body).toEqual({ name: "ines", password: "secret" }));
  });
  it("says in the server's words why not", async () => {
    const refusal = { title: "Too many wrong tries.", status: 429, detail: "Wait.", cure: "", safe: "" };
    stage(<SignIn />, { "POST /api/session": [429, refusal] });
    fill();
    expect((await screen.findByRole("alert")).textContent).toBe("Too many wrong tries. Wait.");
  });
  it("says when the server can't be reached", async () => {
    stage(<SignIn />, {});
    globalThis.fetch = async () => {
      throw new TypeError("gone");
    };
    fill();
    expect((await screen.findByRole("alert")).textContent).toContain("The server can't be reached.");
  });
});
