import type { Schemas } from "../api/client";

export type State = Schemas["CommandRowOut"]["states"][number];
export type Order = Schemas["CommandsOut"]["order"];

/** What rows are asked for, as the address has it; "" for what doesn't matter. */
export interface Asked {
  words: string;
  program: string;
  state: string;
  scope: string;
  kind: string;
  group: string;
  task: string;
  layer: string;
  keys: string;
  order: string;
  by_groups: string;
  closed: string;
}

/** The names in the address: the lens has some of the plain ones already. */
const IN_ADDRESS: Record<keyof Asked, string> = {
  words: "words",
  program: "show",
  state: "state",
  scope: "where",
  kind: "kind",
  group: "group",
  task: "task",
  layer: "layer",
  keys: "keys",
  order: "order",
  by_groups: "folded",
  closed: "closed",
};
const NAMES = Object.keys(IN_ADDRESS) as (keyof Asked)[];

export function askedIn(params: URLSearchParams): Asked {
  return Object.fromEntries(NAMES.map((name) => [name, params.get(IN_ADDRESS[name]) ?? ""])) as unknown as Asked;
}

/** Some parts of what is asked for, as parts of an address. */
export function inAddress(parts: Partial<Asked>): Record<string, string | null> {
  return Object.fromEntries(
    Object.entries(parts).map(([name, value]) => [IN_ADDRESS[name as keyof Asked], value || null]),
  );
}

export const NOTHING: Asked = Object.fromEntries(NAMES.map((name) => [name, ""])) as unknown as Asked;

/** Whether anything narrows the rows down. */
export function narrows({ words, program, state, scope, kind, group, task, layer, keys }: Asked): boolean {
  return [words, program, state, scope, kind, group, task, layer, keys].some(Boolean);
}

/** Of longer questions the rest says nothing more. */
const LONGEST = 400;

/** The query of a request: only what is asked for. */
export function queryOf(asked: Asked, setup: string) {
  const said = Object.entries({ ...asked, words: asked.words.slice(0, LONGEST) }).filter(([, value]) => value !== "");
  return {
    setup,
    ...Object.fromEntries(said.map(([name, value]) => [name, name === "by_groups" ? true : value])),
  } as { setup: string };
}
