/** When an answer is asked for again after documents were changed.
 *
 * `first`: at once, as the screen is made of it; `around`: beside it, as it stands around the screen; `last`: when the screen's
 * own are here, as nobody looks at it in that moment; `kept`: never, as no document makes it another one. */
export type Refresh = "first" | "around" | "last" | "kept";

/** Every kind of answer that is kept, by the first word of its key. */
export const KEYS = {
  session: "kept",
  link: "kept",
  accounts: "kept",
  audit: "last",
  own: "kept",
  unseen: "kept",
  guide: "kept",
  clashes: "first",
  meant: "first",
  standard: "first",
  proposals: "kept",
  programs: "first",
  commands: "first",
  commandChoices: "last",
  upgrades: "first",
  lookup: "last",
  life: "last",
  behaviour: "first",
  facts: "first",
  line: "first",
  profiles: "first",
  catalogue: "first",
  tasks: "first",
  beginning: "first",
  cards: "first",
  cardBatch: "kept",
  today: "last",
  releases: "first",
  organisation: "first",
  assumed: "last",
  worth: "last",
  import: "first",
  commandList: "last",
  nightly: "last",
  keys: "last",
  enrolling: "last",
  survey: "first",
  worklist: "last",
  try: "first",
  records: "first",
  untested: "first",
  decided: "around",
  lenses: "around",
  keyboard: "around",
  machines: "around",
  rollouts: "around",
  drift: "around",
  press: "around",
  ways: "last",
  plan: "last",
  history: "last",
} as const satisfies Record<string, Refresh>;

export type KeyName = keyof typeof KEYS;

/** The key of an answer: its kind, and what it depends on. */
export function key<const Parts extends readonly unknown[]>(name: KeyName, ...parts: Parts) {
  return [name, ...parts] as const;
}

/** Those of the kept answers that are asked for again at one moment. */
export function refreshedAt(moment: Refresh) {
  return {
    predicate: ({ queryKey }: { queryKey: readonly unknown[] }) => KEYS[queryKey[0] as KeyName] === moment,
  };
}
