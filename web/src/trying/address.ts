import type { Schemas } from "../api/client";

type Party = Pick<Schemas["PartyOut"], "program" | "scope" | "shortcut">;

/** The address parts that try a clash's press where it happens; the lens stays. */
export function tryAddress(search: string, group: { subject: Party; seen_in: string }): string {
  const next = new URLSearchParams();
  for (const [name, value] of new URLSearchParams(search)) {
    if (["setup", "program", "scope", "seen", "against"].includes(name)) next.set(name, value);
  }
  next.set("press", group.subject.shortcut.text);
  next.append("lane", laneText({ setup: group.seen_in, program: group.subject.program, scope: group.subject.scope }));
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
