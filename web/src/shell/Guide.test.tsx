import { fireEvent, screen, waitFor } from "@testing-library/react";
import { useLocation } from "react-router";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { stage } from "../testing/stage";
import { Guide } from "./Guide";

const page: Schemas["GuidePageOut"] = {
  id: "clashes",
  title: "Clashes",
  part: "ways-out",
  parts: [
    { id: "where", title: "Where presses stop", text: "Choose the [lens](#word-lens), see [how](#page-keyboard)." },
    { id: "ways-out", title: "Ways out", text: "- **Move** it\n- take it over" },
  ],
  words: [{ id: "lens", word: "Lens", meaning: "What a screen looks through." }],
  pages: [
    { id: "clashes", name: "Clashes" },
    { id: "keyboard", name: "Keys" },
  ],
};

function Here() {
  return <output>{useLocation().search}</output>;
}

function put(address: string, asked: string[] = []) {
  const answer = (url: URL) => {
    asked.push(url.search);
    return url.searchParams.get("page") === "nothing" ? [404, { title: "There is no such page.", status: 404 }] : page;
  };
  stage(
    <>
      <Guide />
      <Here />
    </>,
    { "GET /api/guide": answer },
    address,
  );
}

describe("the guide", () => {
  it("tells of the screen that is there, explains words and leads to other pages", async () => {
    const asked: string[] = [];
    put("/clashes?setup=counters&guide=on", asked);
    await screen.findByRole("heading", { name: "Ways out" });
    expect(asked[0]).toBe("?screen=%2Fclashes");
    expect(document.activeElement).toBe(screen.getByRole("complementary", { name: "Guide" }));
    fireEvent.mouseOver(screen.getByRole("button", { name: "lens" }));
    expect((await screen.findByRole("tooltip")).textContent).toBe("Lens: What a screen looks through.");
    expect(screen.getByRole("link", { name: "Clashes" }).getAttribute("aria-current")).toBe("page");
    fireEvent.click(screen.getByRole("link", { name: "how" }));
    await waitFor(() => expect(asked.at(-1)).toBe("?page=keyboard&part="));
    expect(document.querySelector("output")?.textContent).toBe("?setup=counters&guide=keyboard");
  });

  it("closes by Escape and leaves the rest of the address", async () => {
    put("/clashes?setup=counters&guide=clashes.ways-out");
    await screen.findByRole("heading", { name: "Ways out" });
    fireEvent.keyDown(screen.getByRole("complementary", { name: "Guide" }), { key: "Escape" });
    expect(document.querySelector("output")?.textContent).toBe("?setup=counters");
  });

  it("says so where there is no such page", async () => {
    put("/clashes?guide=nothing");
    await screen.findByText(/There is no such page/);
    expect(screen.getByRole("button", { name: "Close the guide" })).toBeTruthy();
  });
});
