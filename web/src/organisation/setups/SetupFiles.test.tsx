import { fireEvent, screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { session, stage } from "../../testing/stage";
import { SetupFilesView } from "./SetupFiles";

const setup = {
  id: "counters",
  name: "Counters on Windows",
  people: 3,
  machines: 2,
  layers: ["House"],
  clashes: {},
  platform: "windows",
  edition: "11",
  layout: "German",
  body: "ISO",
  programs: [],
  unknown: [],
};
const file = {
  program: "quaysheet",
  program_name: "Quaysheet",
  file: 0,
  path: "Quaysheet/settings.json",
  commands: 2,
  left_out: ["Fly: the file can't say it."],
  text: '{"keyboard": {}}',
  put: "dconf load /",
};
const none = {
  ...file,
  program: "hewer",
  program_name: "Hewer",
  path: "",
  commands: 0,
  text: "",
  left_out: ["Where it keeps its keys isn't described."],
};

function show(files: unknown = [file, none]) {
  return stage(<SetupFilesView />, {
    ...session("editor"),
    "GET /api/organisation/setups": [setup],
    "GET /api/setups/counters/files": files,
    "POST /api/setups/counters/files/quaysheet/0": [
      400,
      { title: "The file can't be written into.", status: 400, detail: "It is no JSON.", cure: "", safe: "" },
    ],
  });
}

describe("settings files of a setup", () => {
  it("are told with what they leave out, and looked at", async () => {
    show();
    expect(await screen.findByText("Quaysheet/settings.json")).toBeTruthy();
    expect(screen.getByText("Left out: Fly: the file can't say it.")).toBeTruthy();
    expect(screen.getByText("Where it keeps its keys isn't described.")).toBeTruthy();
    expect(screen.getAllByText("dconf load /")).toHaveLength(2);
    fireEvent.click(screen.getByRole("button", { name: /Look at it/ }));
    expect(screen.getByText('{"keyboard": {}}')).toBeTruthy();
    expect(screen.getByRole("link", { name: /As a new file/ }).getAttribute("href")).toBe(
      "/api/setups/counters/files/quaysheet/0",
    );
    expect(screen.getByRole("link", { name: "Take it out with its folder" })).toBeTruthy();
  });
  it("say why somebody's file can't be written into", async () => {
    show();
    await screen.findByText("Quaysheet/settings.json");
    const input = document.querySelector<HTMLInputElement>("input[type=file]");
    fireEvent.change(input as HTMLInputElement, { target: { files: [new File(["x"], "mine.json")] } });
    expect(await screen.findByText(/It is no JSON/)).toBeTruthy();
  });
  it("are none where nothing is set", async () => {
    show([]);
    expect(await screen.findByText("The layers of this setup set nothing.")).toBeTruthy();
    expect(screen.queryByRole("link", { name: /with its folder/ })).toBeNull();
  });
});
