import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Caps } from "../keyboard/Caps";
import { One } from "../shared/fields";
import type { LensSetup } from "../shared/lens";
import { useRights } from "../shared/useSession";
import type { Lane } from "./address";
import styles from "./Try.module.css";
import type { Tried } from "./useTry";
import { useKeepRecord } from "./useTry";

interface LaneViewProps {
  lane: Lane;
  lenses: LensSetup[];
  tried: Tried | undefined;
  press: string;
  /** Its place among those side by side, from 1. */
  number: number;
  onLane: (lane: Lane) => void;
  onRemove: (() => void) | null;
}

const NOWHERE = "nothing";

/** One place: who sits there, what is in focus, and the way of every press to its effect. */
export function LaneView({ lane, lenses, tried, press, number, onLane, onRemove }: LaneViewProps) {
  const setup = lenses.find((l) => l.setup === lane.setup);
  const focuses = (setup?.focuses ?? []).flatMap((f) =>
    f.scopes.map((s) => ({
      id: `${f.program}/${s.id}`,
      name: `${f.name}, ${s.name}`,
      program: f.program,
      scope: s.id,
    })),
  );
  const at = lane.program && lane.scope ? `${lane.program}/${lane.scope}` : NOWHERE;
  const moveTo = (id: string) => {
    const next = lenses.find((l) => l.setup === id);
    const same = next?.focuses.find((f) => f.program === lane.program);
    const focus = same ?? next?.focuses[0];
    const scope = focus?.scopes.find((s) => s.id === lane.scope) ?? focus?.scopes[0];
    onLane({ setup: id, program: focus?.program ?? null, scope: scope?.id ?? null });
  };
  return (
    <section className={styles.lane} aria-label={`Place ${number}: ${setup?.name ?? ""}, ${tried?.program_name ?? ""}`}>
      <div className={styles.where}>
        <One
          label="Seen by"
          value={setup ? lane.setup : ""}
          choices={lenses.map((l) => ({ id: l.setup, name: l.name }))}
          onChange={moveTo}
        />
        <One
          label="In focus"
          value={focuses.some((f) => f.id === at) || at === NOWHERE ? at : ""}
          choices={[...focuses, { id: NOWHERE, name: "nothing of a program" }]}
          onChange={(id) => {
            const focus = focuses.find((f) => f.id === id);
            onLane({ setup: lane.setup, program: focus?.program ?? null, scope: focus?.scope ?? null });
          }}
        />
        {onRemove && (
          <Button color="inherit" onClick={onRemove} aria-label={`Take this place off: ${tried?.setup_name ?? ""}`}>
            Off
          </Button>
        )}
      </div>
      {tried && (
        <>
          <p className={styles.outcome}>
            <Caps shortcut={tried.shortcut} />
            <b>{capital(tried.outcome)}.</b>
            {tried.before && <span>Without the drafts: {tried.before}.</span>}
            {tried.unreachable && <span>Nobody can press it: {tried.unreachable}.</span>}
            {tried.typed && (
              <span>
                It leaves <kbd className={styles.typed}>{tried.typed}</kbd> behind.
              </span>
            )}
          </p>
          {tried.presses.map((one, n) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: the presses of a sequence have no other identity than their place
            <Way key={n} pressed={one} number={tried.presses.length > 1 ? n + 1 : 0} />
          ))}
          {tried.before ? (
            <p className={styles.seen}>No real machine has the drafts: test it there once they are saved.</p>
          ) : (
            <Seen lane={lane} press={press} expected={tried.outcome} />
          )}
        </>
      )}
    </section>
  );
}

function Way({ pressed, number }: { pressed: Schemas["PressedOut"]; number: number }) {
  return (
    <div className={styles.way}>
      {number > 0 && (
        <h3>
          Press {number}: <Caps shortcut={pressed.shortcut} />
        </h3>
      )}
      <ol aria-label={`The way of ${pressed.shortcut.words}`}>
        {pressed.steps.map((s, n) => (
          <li
            key={`${s.station}${s.scope_name}`}
            className={styles[s.outcome]}
            data-last={n === pressed.steps.length - 1}
          >
            <i aria-hidden="true" />
            <span>
              <b>{s.station_name}</b>
              {s.scope_name && <em>{s.scope_name}</em>}
              <span className={styles.says}>
                <span className="unseen">{s.outcome}: </span>
                {s.program_name && s.outcome !== "unknown" && !s.says.includes(s.program_name) && `${s.program_name}: `}
                {s.says}
                {s.source && s.outcome === "takes" && <small className={styles.source}> Source: {s.source}</small>}
              </span>
            </span>
          </li>
        ))}
        {number > 0 && (
          <li className={styles.effect}>
            <span>{capital(pressed.says)}.</span>
          </li>
        )}
      </ol>
    </div>
  );
}

interface SeenProps {
  lane: Lane;
  press: string;
  expected: string;
}

/** Keeping what was seen on a real machine. */
function Seen({ lane, press, expected }: SeenProps) {
  const rights = useRights();
  const [other, setOther] = useState<string | null>(null);
  const keep = useKeepRecord(() => setOther(null));
  if (!rights.edit) return null;
  return (
    <form
      className={styles.seen}
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate({ lane, text: press, passed: false, seen: other ?? "" });
      }}
    >
      <span>On a real machine</span>
      {other === null ? (
        <>
          <Button
            variant="outlined"
            color="inherit"
            loading={keep.isPending}
            onClick={() => keep.mutate({ lane, text: press, passed: true, seen: "" })}
            aria-label={`It did that: ${expected}`}
          >
            it did that
          </Button>
          <Button variant="outlined" color="inherit" onClick={() => setOther("")}>
            something else happened
          </Button>
        </>
      ) : (
        <>
          <TextField label="What happened" value={other} onChange={(e) => setOther(e.target.value)} autoFocus />
          <Button type="submit" variant="contained" disabled={!other.trim()} loading={keep.isPending}>
            Keep it
          </Button>
          <Button color="inherit" onClick={() => setOther(null)}>
            Leave it
          </Button>
        </>
      )}
    </form>
  );
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
