import { Caps } from "../../keyboard/Caps";
import { someOf } from "../../shared/setupsInWords";
import styles from "../Clashes.module.css";
import type { Way } from "./useWays";

export function Title({ way }: { way: Way }) {
  if (way.kind === "move") {
    return <b>Move to {way.shortcut && <Caps shortcut={way.shortcut} />}</b>;
  }
  if (way.kind === "move_family") {
    return <b>Move the family to {way.shortcut && <Caps shortcut={way.shortcut} />}</b>;
  }
  if (way.kind === "take_over" && way.shortcut) {
    return (
      <b>
        Take it from {way.subject.command_name}, which gets <Caps shortcut={way.shortcut} />
      </b>
    );
  }
  if (way.kind === "take_over") return <b>Take it from {way.subject.command_name}</b>;
  if (way.kind === "narrow") return <b>Narrow to {way.scopes.join(" and ")}</b>;
  if (way.kind === "translate") return <b>Translate it in this window</b>;
  if (way.kind === "tidy") return <b>Take it out</b>;
  if (way.kind === "begin") return <b>Begin the shelf with {way.shortcut && <Caps shortcut={way.shortcut} />}</b>;
  if (way.kind === "on_key") return <b>Set {way.subject.command_name} off on a key</b>;
  if (way.kind === "take_off") return <b>Take {way.subject.command_name} out</b>;
  return <b>Allow</b>;
}

export function sentence(way: Way): string {
  if (way.kind === "allow") {
    return "With a reason and an end. It comes back by itself when the end has passed, or if it gets worse.";
  }
  const parts: string[] = [];
  if (way.kind === "take_over") {
    const rest = way.reasons.join(", ");
    parts.push(`${way.subject.program_name} gives the press up for ${way.subject.command_name}; ${rest}.`);
  }
  if (way.reasons.length > 0 && way.kind !== "take_over") parts.push(`${capital(way.reasons.join(", "))}.`);
  if (way.reach !== null)
    parts.push(`Reach ${way.reach}${way.reach_before === null ? "" : `, was ${way.reach_before}`}.`);
  parts.push(way.people === 0 ? "Nobody relearns." : `${way.people} people in ${someOf(way.setups)} relearn one key.`);
  return parts.join(" ");
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

export function Outcome({ way }: { way: Way }) {
  if (way.kind === "allow") return <span className={styles.outcome}>solves none</span>;
  const solves = `solves ${way.solves.length} ${way.solves.length === 1 ? "clash" : "clashes"}`;
  if (way.makes.length === 0) return <span className={`${styles.outcome} ${styles.good}`}>{solves}, makes none</span>;
  // What was there before, behind the clash that goes, is nothing that the way out brings.
  const told = [false, true].flatMap((uncovered) => {
    const own = way.makes.filter((m) => m.uncovered === uncovered);
    if (own.length === 0) return [];
    return [`${uncovered ? "uncovers" : "makes"} ${own.length}: ${own.map((m) => m.says).join("; ")}`];
  });
  return (
    <span className={`${styles.outcome} ${styles.bad}`}>
      {solves}, {told.join(", ")}
    </span>
  );
}
