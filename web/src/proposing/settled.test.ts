import { describe, expect, it } from "vitest";
import { asAsked, askFirstFor, platformsOf, settle, settledOn } from "./settled";
import type { AskedOf } from "./useProposals";

const PIN = { task: "save", keys: "F9" };
const ASKED = {
  platform: "windows",
  together: ["linux", "windows"],
  pins: [PIN],
  bans: ["F2"],
  without: [],
  elsewhere: {},
};
const asked = ASKED as unknown as AskedOf;

describe("what is settled beforehand", () => {
  it("stays with its platform when another one comes first, and comes back with it", () => {
    const linux = askFirstFor(settle(asked, "linux", { bans: ["F7"] }), "linux");
    expect(platformsOf(linux)).toEqual(["linux", "windows"]);
    expect([linux.pins, linux.bans]).toEqual([[], ["F7"]]);
    expect(settledOn(linux, "windows")).toEqual({ pins: [PIN], bans: ["F2"], without: [] });
    const back = askFirstFor(linux, "windows");
    expect([back.pins, back.bans, settledOn(back, "linux").bans]).toEqual([[PIN], ["F2"], ["F7"]]);
  });

  it("isn't asked where no keys are chosen", () => {
    const mac = askFirstFor({ ...asked, together: [] }, "macos");
    expect(settledOn(mac, "windows").pins).toEqual([PIN]);
    expect(asAsked(mac)).toMatchObject({ pins: [], bans: [], elsewhere: {} });
    expect(asAsked({ ...mac, together: ["windows"] }).elsewhere).toEqual({
      windows: { pins: [PIN], bans: ["F2"], without: [] },
    });
  });
});
