import { fireEvent, screen, waitFor } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import { session, stage } from "../testing/stage";
import { Landing, TodayView } from "./TodayView";
import { type Step, useBeginning } from "./useBeginning";

const step = (id: Step["id"], state: Step["state"]): Step => ({
  id,
  title: `Title of ${id}`,
  state,
  says: "",
  unlocks: "",
  count: "",
});
const steps = [step("organisation", "done"), step("programs", "next"), step("tasks", "later")];

describe("landing", () => {
  const answer = { organisation: "", named: false, missing: true, steps, neutral_tasks: 179 };
  const routes = (
    <Routes>
      <Route path="/" element={<Landing />} />
      <Route path="/today" element={<p>The line</p>} />
    </Routes>
  );

  it("leads on to what there is", async () => {
    stage(routes, { "GET /api/beginning": answer });
    expect(await screen.findByText("The line")).toBeTruthy();
  });

  it("takes nobody back who has gone elsewhere while it waited", async () => {
    window.history.replaceState(null, "", "/account");
    const Probe = () => <p>{useBeginning().isSuccess ? "Answered" : "Asked"}</p>;
    stage(
      <>
        {routes}
        <Probe />
      </>,
      { "GET /api/beginning": answer },
    );
    await screen.findByText("Answered");
    window.history.replaceState(null, "", "/");
    expect(screen.queryByText("The line")).toBeNull();
  });
});

describe("the line of the work", () => {
  it("leads to what comes next, which has the focus", async () => {
    const answer = { organisation: "Northgate", named: true, missing: true, steps, neutral_tasks: 179 };
    stage(<TodayView />, { ...session("editor"), "GET /api/beginning": answer });
    expect(await screen.findByRole("heading", { name: "Northgate: 1 of 3 steps are done" })).toBeTruthy();
    const next = screen.getByRole("link", { name: "Bring in a list of commands" });
    expect(document.activeElement).toBe(next);
    expect(next.getAttribute("href")).toBe("/programs/list");
    expect(screen.getAllByRole("listitem")[1]?.getAttribute("aria-current")).toBe("step");
    expect(screen.getByText(/179 common tasks/)).toBeTruthy();
  });

  it("begins with the name, for those who may edit", async () => {
    const answer = {
      organisation: "",
      named: false,
      missing: true,
      steps: [step("organisation", "next"), step("programs", "later")],
      neutral_tasks: 179,
    };
    const sent = stage(<TodayView />, {
      ...session("editor"),
      "GET /api/beginning": answer,
      "POST /api/beginning/organisation": { id: 1, title: "Called it" },
    });
    fireEvent.change(await screen.findByLabelText(/What it is called/), { target: { value: "Northgate" } });
    fireEvent.click(screen.getByRole("button", { name: "Call it that" }));
    await waitFor(() => expect(sent.some((s) => s.path === "/api/beginning/organisation")).toBe(true));
  });
});
