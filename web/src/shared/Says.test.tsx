import { act, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { SaysProvider, useSays } from "./Says";

function Two() {
  const says = useSays();
  return (
    <>
      <button type="button" onClick={() => says.done("The first is done")}>
        first
      </button>
      <button type="button" onClick={() => says.done("The second is done")}>
        second
      </button>
    </>
  );
}

/** A second at a time: what a second brings is drawn before the next. */
function wait(seconds: number) {
  for (let s = 0; s < seconds; s++) act(() => void vi.advanceTimersByTime(1000));
}

beforeEach(() => {
  vi.useFakeTimers();
});

afterEach(() => {
  vi.useRealTimers();
});

test("a message that comes while another stands is there for its whole time", () => {
  render(
    <SaysProvider>
      <Two />
    </SaysProvider>,
  );
  fireEvent.click(screen.getByText("first"));
  wait(7);
  fireEvent.click(screen.getByText("second"));
  wait(7);
  expect(screen.getByRole("status").textContent).toContain("The second is done");
  wait(3);
  expect(screen.queryByText("The second is done")).toBeNull();
});
