import type { Schemas } from "../api/client";
import { Consequences } from "../shared/Consequences";

interface ForetoldProps {
  plan: Pick<Schemas["ResetPlanOut"], "stays" | "surprises" | "would">;
}

/** What changing several commands would do: what stays and why, whom it surprises, the clashes that go and come. */
export function Foretold({ plan }: ForetoldProps) {
  return (
    <>
      {plan.stays.map((s) => (
        <p key={s.name}>
          {s.name} stays: {s.why}.
        </p>
      ))}
      {plan.surprises.map((s) => (
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
      ))}
      <Consequences plan={{ ...plan.would, told: [] }} error={null} />
    </>
  );
}
