import type { Schemas } from "../api/client";

export type Wish = Schemas["CardWish"];
type Choices = Schemas["CardChoicesOut"];

export const PACES = [0, 3, 4, 5] as const;

/** The person whose card an address asks for, by id; "" where it asks for no person's. */
export function personIn(params: URLSearchParams): string {
  const [of, who = ""] = (params.get("whom") ?? "").split(" ");
  return of === "person" ? who : "";
}

/** The card that an address asks for: for everybody on the keyboard of most people where it says nothing. */
export function wishFrom(params: URLSearchParams, choices: Choices): Wish | null {
  const [first] = choices.keyboards;
  if (!first) return null;
  const [platform = "", layout = ""] = (params.get("keyboard") ?? "").split(" ");
  const keyboard = choices.keyboards.find((k) => k.platform === platform && k.layout === layout) ?? first;
  const [of = "everybody", who = ""] = (params.get("whom") ?? "").split(" ");
  const people = choices.person ? [choices.person] : [];
  const known = { role: choices.roles, department: choices.departments, person: people };
  const group = of === "role" || of === "department" || of === "person" ? of : null;
  const found = group && known[group].find((w) => w.id === who);
  const without = (params.get("without") ?? "").split(",");
  const whole = params.get("whole");
  return {
    ...(group && found ? { of: group, who: found.id } : { of: "everybody", who: null }),
    ...{ platform: keyboard.platform, layout: keyboard.layout },
    language: (choices.languages.find((l) => l.id === params.get("language"))?.id ?? "en") as Wish["language"],
    paper: choices.papers.find((p) => p === params.get("paper")) ?? "A5 across",
    most: Math.min(60, Math.max(0, Number.parseInt(params.get("most") ?? "8", 10) || 0)),
    pace: PACES.find((p) => String(p) === params.get("pace")) ?? 0,
    changed: !without.includes("changed"),
    hurry: !without.includes("hurry"),
    whole: whole === "by program" || whole === "by task" ? whole : "",
    left_out: params.getAll("leave"),
  };
}
