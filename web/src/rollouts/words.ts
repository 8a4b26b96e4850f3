import type { Draft, DraftWave, Stand } from "./useRollouts";

/** What the marks of machines stand for, in the order in which the legend has them. */
export const STANDS: Record<Stand, string> = {
  "in step": "in step",
  stopped: "stopped",
  silent: "silent",
  "own change": "own change",
  asked: "asked",
  "to come": "to come",
  "taken back": "taken back",
  "left out": "left out",
};

export const RELEASE_STATES = {
  running: "under way",
  paused: "paused",
  done: "done",
  "going back": "going back",
  "taken back": "taken back",
} as const;

export const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"] as const;

export function counted(many: number, one: string, several = `${one}s`): string {
  return `${many.toLocaleString("en")} ${many === 1 ? one : several}`;
}

/** A wave as it begins on the drawing board. */
export function newWave(name: string, by: DraftWave["chosen"]["by"] = "rest", share?: number): DraftWave {
  return {
    name,
    chosen: { by, machines: [], department: null, share: share ?? null },
    gate: { quiet_hours: 2, most_stopped: 10, drift: false },
    window: { days: [0, 1, 2, 3, 4, 5, 6], begins: 0, ends: 24, not_before: null },
  };
}

/** One of every setup first, then a tenth, then everybody else. */
export function firstDraft(): Draft {
  return {
    of: [],
    plan: {
      waves: [newWave("Pilot", "setups"), newWave("A tenth", "share", 10), newWave("Everybody else")],
      overlap_days: 0,
    },
  };
}

/** How a wave chooses, changed: what the other ways would have needed goes. */
export function chosenBy(wave: DraftWave, by: DraftWave["chosen"]["by"], departments: { id: string }[]): DraftWave {
  const department = by === "department" ? (departments[0]?.id ?? null) : null;
  return { ...wave, chosen: { by, machines: [], department, share: by === "share" ? 10 : null } };
}

/** Whether a draft says all that its waves need, so that the server can be asked what it would do. */
export function isWhole(draft: Draft): boolean {
  return draft.plan.waves.every(
    ({ name, chosen }) =>
      name.trim() !== "" &&
      (chosen.by !== "machines" || (chosen.machines ?? []).length > 0) &&
      (chosen.by !== "department" || !!chosen.department) &&
      (chosen.by !== "share" || !!chosen.share),
  );
}
