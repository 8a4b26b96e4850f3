import type { Sent } from "./useNightly";

/** What became of a list, in words and as a mark. */
export const STATES: Record<
  Sent["state"],
  { says: string; noun: string; mark: "good" | "still" | "open" | "bad" | "past" }
> = {
  working: { says: "Is being read, sent", noun: "being read", mark: "open" },
  taken: { says: "Taken", noun: "taken", mark: "good" },
  same: { says: "Nothing new", noun: "with nothing new", mark: "still" },
  waiting: { says: "Waits for a yes since", noun: "waiting", mark: "open" },
  refused: { says: "Nothing was taken: somebody said no,", noun: "said no to", mark: "past" },
  replaced: { says: "Replaced by a newer one, sent", noun: "replaced", mark: "past" },
  failed: { says: "Could not be read,", noun: "failed", mark: "bad" },
};
