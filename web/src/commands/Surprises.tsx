import type { Schemas } from "../api/client";

/** How many people would find which commands on other keys. */
export function Surprises({ of }: { of: Schemas["SurprisedOut"][] }) {
  return of.map((s) => (
    <details key={s.says.join()}>
      <summary>
        {s.people === 1 ? "1 person finds" : `${s.people} people find`} {s.says.length}{" "}
        {s.says.length === 1 ? "command" : "commands"} on other keys
      </summary>
      <ul>
        {s.says.map((one) => (
          <li key={one}>{one}</li>
        ))}
      </ul>
    </details>
  ));
}
