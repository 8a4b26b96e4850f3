import { fireEvent, screen, waitFor } from "@testing-library/react";
import { useSearchParams } from "react-router";
import { describe, expect, it } from "vitest";
import { lens, stage } from "../testing/stage";
import { LensBar } from "./LensBar";

const setups = [
  lens(),
  lens({ setup: "harbour", name: "Harbour control", layout: "us", layout_name: "US" }),
  lens({
    setup: "web",
    name: "Web team",
    short: "Web team",
    platform: "macos",
    system: "macOS",
    layout: "us(mac)",
    layout_name: "US (Mac)",
  }),
];

function Address() {
  return <output>{useSearchParams()[0].toString()}</output>;
}

const show = (address = "/") =>
  stage(
    <>
      <LensBar />
      <Address />
    </>,
    { "GET /api/lenses": setups },
    address,
  );
const choices = () => screen.getAllByRole("menuitem").map((m) => m.textContent);

describe("the lens", () => {
  it("is a sentence of choices", async () => {
    show();
    expect(await screen.findByRole("button", { name: "Setup: Ticket counters" })).toBeTruthy();
    expect(screen.getByRole("button", { name: "Keyboard: German keyboard" })).toBeTruthy();
    expect(screen.getByRole("button", { name: "Focus: Quaysheet, Sheet" })).toBeTruthy();
  });
  it("puts a choice into the address, and closes what was open there", async () => {
    show("/?clash=abc");
    fireEvent.click(await screen.findByRole("button", { name: "System: Windows" }));
    expect(choices()).toEqual(["Windows", "macOS"]);
    fireEvent.click(screen.getByRole("menuitem", { name: "macOS" }));
    await waitFor(() => expect(screen.getByRole("status").textContent).toBe("setup=web"));
    expect(screen.getByRole("button", { name: "Setup: Web team" })).toBeTruthy();
  });
  it("offers keyboards of the platform only", async () => {
    show();
    fireEvent.click(await screen.findByRole("button", { name: /^Keyboard:/ }));
    expect(choices()).toEqual(["German keyboardISO", "US keyboardISO"]);
  });
  it("offers the systems by their editions", async () => {
    const desktop = { platform: "linux", layout: "pl" } as const;
    stage(<LensBar />, {
      "GET /api/lenses": [
        lens({ ...desktop, setup: "a", system: "GNOME 48" }),
        lens({ ...desktop, setup: "b", system: "KDE Plasma 6.3" }),
        lens({ ...desktop, setup: "c", system: "GNOME 48" }),
      ],
    });
    fireEvent.click(await screen.findByRole("button", { name: "System: GNOME 48" }));
    expect(choices()).toEqual(["GNOME 48", "KDE Plasma 6.3"]);
  });
});
