import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { stage } from "../testing/stage";
import { Sheets } from "./Sheets";

describe("sheets", () => {
  it("offers each of them in every form, with what is looked through", () => {
    stage(
      <Sheets
        sheets={[
          { name: "Clashes", path: "/api/clashes", query: { setup: "a b", everywhere: true } },
          { name: "Commands", path: "/api/commands" },
        ]}
      />,
      {},
    );
    fireEvent.click(screen.getByRole("button", { name: "As a sheet" }));
    const links = screen.getAllByRole("menuitem").map((l) => l.getAttribute("href"));
    expect(links).toEqual([
      "/api/clashes.ods?setup=a+b&everywhere=true",
      "/api/clashes.xlsx?setup=a+b&everywhere=true",
      "/api/clashes.csv?setup=a+b&everywhere=true",
      "/api/commands.ods",
      "/api/commands.xlsx",
      "/api/commands.csv",
    ]);
  });

  it("takes one back", async () => {
    const came: string[] = [];
    stage(
      <Sheets
        sheets={[{ name: "Clashes", path: "/api/clashes" }]}
        back={{ says: "Hold a sheet against it", onFile: (f) => came.push(f.name) }}
      />,
      {},
    );
    fireEvent.click(screen.getByRole("button", { name: "As a sheet" }));
    fireEvent.click(screen.getByRole("menuitem", { name: "Hold a sheet against it" }));
    const input = document.querySelector("input[type=file]") as HTMLInputElement;
    fireEvent.change(input, { target: { files: [new File(["x"], "standard.csv")] } });
    expect(came).toEqual(["standard.csv"]);
    await waitFor(() => expect(screen.queryByRole("menu")).toBeNull());
  });
});
