import type { Schemas } from "../api/client";

type Tried = Pick<Schemas["GroupOut"], "seen_in" | "focus"> & { subject: Pick<Schemas["PartyOut"], "shortcut"> };

/** The address parts that try a clash's press where it happens; the lens stays. */
export function tryAddress(search: string, group: Tried): string {
  const next = new URLSearchParams();
  for (const [name, value] of new URLSearchParams(search)) {
    if (["setup", "program", "scope", "seen", "against"].includes(name)) next.set(name, value);
  }
  next.set("press", group.subject.shortcut.text);
  next.append(
    "lane",
    laneText({ setup: group.seen_in, program: group.focus?.program ?? null, scope: group.focus?.scope ?? null }),
  );
  return `?${next}`;
}

export interface Lane {
  setup: string;
  program: string | null;
  scope: string | null;
}

/** A lane as one part of the address: its setup, program and scope. */
export function laneText(lane: Lane): string {
  return [lane.setup, lane.program ?? "", lane.scope ?? ""].join("~");
}

export function laneFrom(text: string): Lane {
  const [setup = "", program = "", scope = ""] = text.split("~");
  return { setup, program: program || null, scope: scope || null };
}
