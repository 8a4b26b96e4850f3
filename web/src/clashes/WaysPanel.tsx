import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import type { KeyboardEvent } from "react";
import { useCallback, useEffect, useId, useRef, useState } from "react";
import { Link, useLocation } from "react-router";
import type { Schemas } from "../api/client";
import { lensParts } from "../app/lens";
import { someOf } from "../app/setupsInWords";
import { Trouble, Waiting } from "../app/states";
import { useRights } from "../app/useSession";
import { Caps } from "../keyboard/Caps";
import type { Judgement } from "../keyboard/PressField";
import { PressField } from "../keyboard/PressField";
import styles from "./Clashes.module.css";
import type { Group, Way } from "./useClashes";
import { useDecide, useLandings, useTaskMove, useWays } from "./useClashes";

const OWN = "own";

/** The ways out of one clash with their consequences; digits choose, the button decides. */
export function WaysPanel({ group, onDecided }: { group: Group; onDecided: () => void }) {
  const setup = group.seen_in;
  const [layer, setLayer] = useState("");
  const ways = useWays(setup, group.identity, null, layer || null);
  const [own, setOwn] = useState<string | null>(null);
  const ownWays = useWays(setup, group.identity, own, layer || null, own !== null);
  const [chosen, setChosen] = useState<string | null>(null);
  const [withTask, setWithTask] = useState(false);
  const [reason, setReason] = useState("");
  const [until, setUntil] = useState("");
  const rights = useRights();
  const decide = useDecide(group.identity, onDecided);
  const name = useId();
  const foot = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (chosen) foot.current?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  const onJudged = useCallback(
    (j: Judgement | null) => setOwn(j && j.verdict !== "impossible" ? j.shortcut.text : null),
    [],
  );
  const offered = ways.data?.filter((w) => w.kind !== "allow" || group.allowed === null) ?? [];
  const ownWay = own ? ownWays.data?.find((w) => w.kind === "move") : undefined;
  const key = chosen ?? offered[0]?.key ?? "";
  const picked = key === OWN ? ownWay : offered.find((w) => w.key === key);
  const task = useTaskMove(
    setup,
    group.identity,
    picked?.kind === "move" ? (picked.shortcut?.text ?? null) : null,
    layer || null,
  );
  if (ways.isError) return <Trouble error={ways.error} again={() => ways.refetch()} />;
  if (!ways.data) return <Waiting what="the ways out" />;
  const along = picked?.kind === "move" ? (task.data ?? null) : null;
  const way = withTask && along ? along.way : picked;
  const ready = way !== undefined && (way.kind !== "allow" || reason.trim().length >= 3);
  const onDigit = (event: KeyboardEvent) => {
    if (event.target instanceof HTMLInputElement && event.target.type !== "radio") return;
    const choice = [...offered.map((w) => w.key), OWN][Number(event.key) - 1];
    if (/^[1-9]$/.test(event.key) && choice && !event.ctrlKey && !event.altKey && !event.metaKey) {
      event.preventDefault();
      setChosen(choice);
    }
  };
  return (
    <form
      onKeyDown={onDigit}
      onSubmit={(event) => {
        event.preventDefault();
        if (ready && way) {
          decide.mutate({ setup, way: way.key, reason, until: until || null, target: layer || null });
        }
      }}
    >
      <fieldset className={styles.ways} aria-label="Ways out">
        {offered.map((w, n) => (
          <label key={w.key} className={`${styles.way} ${w.key === key ? styles.chosen : ""}`}>
            <span className={styles.wayTitle}>
              <input type="radio" name={name} value={w.key} checked={w.key === key} onChange={() => setChosen(w.key)} />
              <Title way={w} />
              <span className={styles.digit} aria-hidden="true">
                {n + 1}
              </span>
            </span>
            <small>{sentence(w)}</small>
            <Outcome way={w} />
          </label>
        ))}
        <div className={`${styles.way} ${styles.ownWay} ${key === OWN ? styles.chosen : ""}`}>
          <label className={styles.wayTitle}>
            <input type="radio" name={name} value={OWN} checked={key === OWN} onChange={() => setChosen(OWN)} />
            <b>Move to a shortcut of your own</b>
            <span className={styles.digit} aria-hidden="true">
              {offered.length + 1}
            </span>
          </label>
          {key === OWN && (
            <PressField
              label="New shortcut"
              setup={setup}
              program={group.subject.program}
              scope={group.subject.scope}
              onJudged={onJudged}
            />
          )}
          {key === OWN && ownWay && (
            <>
              <small>{sentence(ownWay)}</small>
              <Outcome way={ownWay} />
            </>
          )}
        </div>
      </fieldset>
      {along && <TaskChoice move={along} chosen={withTask} onChange={setWithTask} />}
      <div className={styles.why} ref={foot}>
        {rights.edit && way?.kind !== "allow" && <Landings group={group} value={layer} onChange={setLayer} />}
        {rights.edit && (
          <TextField
            label={way?.kind === "allow" ? "Why it may stay" : "Why (kept with it)"}
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            required={way?.kind === "allow"}
            sx={{ width: 240 }}
          />
        )}
        {rights.edit && way?.kind === "allow" && (
          <TextField
            label="Until"
            type="date"
            value={until}
            onChange={(e) => setUntil(e.target.value)}
            slotProps={{ inputLabel: { shrink: true } }}
          />
        )}
        {rights.edit ? (
          <Button type="submit" variant="contained" disabled={!ready} loading={decide.isPending}>
            {way?.kind === "allow" ? "Allow it" : "Decide"}
          </Button>
        ) : (
          <span>Readers look; an editor decides.</span>
        )}
        {way && way.kind !== "allow" && (
          <span>
            {way.entries} {way.entries === 1 ? "entry" : "entries"} in {way.profile}.{" "}
            {way.remains.length > 0 &&
              `${someOf(way.remains)} ${way.remains.length === 1 ? "keeps" : "keep"} the clash.`}
          </span>
        )}
      </div>
    </form>
  );
}

interface LandingsProps {
  group: Group;
  value: string;
  onChange: (layer: string) => void;
}

/** For whom it is decided: all copies of the clash, some of them, or this setup; each layer with what it reaches. */
function Landings({ group, value, onChange }: LandingsProps) {
  const found = useLandings(group.seen_in, group.identity).data;
  if (!found || found.length < 2) return null;
  const all = group.setups.length;
  return (
    <TextField
      select
      label="Decide for"
      value={value}
      onChange={(e) => onChange(e.target.value)}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      sx={{ width: 330 }}
    >
      <MenuItem value="">where the key is set, or the house</MenuItem>
      {found.map((l) => (
        <MenuItem key={l.profile} value={l.profile}>
          {reached(l.copies, all)}
          {l.others > 0 && ` and ${l.others} without it`}, kept in {l.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

function reached(copies: number, all: number): string {
  if (copies === all) return all === 1 ? "this setup" : `all ${all} setups`;
  return copies === 1 ? "this setup only" : `${copies} of the ${all} setups`;
}

interface TaskChoiceProps {
  move: Schemas["TaskMoveOut"];
  chosen: boolean;
  onChange: (withTask: boolean) => void;
}

/** Whether the task moves along in the other programs, so that it keeps one shortcut everywhere. */
function TaskChoice({ move, chosen, onChange }: TaskChoiceProps) {
  const name = useId();
  const line = new URLSearchParams(lensParts(useLocation().search));
  line.set("task", move.task_id);
  return (
    <fieldset className={styles.task} aria-label={`The task ${move.task}`}>
      <legend>
        <b>{move.task}</b> is a task that other programs have too.
      </legend>
      <label>
        <input type="radio" name={name} checked={!chosen} onChange={() => onChange(false)} />
        Only here
      </label>
      <label>
        <input
          type="radio"
          name={name}
          checked={chosen}
          disabled={move.moves.length === 0}
          onChange={() => onChange(true)}
        />
        {move.moves.length === 0 ? (
          "Nowhere else has it the old key."
        ) : (
          <>
            Move it in {new Intl.ListFormat("en-GB").format(move.moves.map((f) => f.program_name))} too
            <Outcome way={move.way} />
          </>
        )}
      </label>
      <span>
        {move.standard ? (
          <>
            The standard has <Caps shortcut={move.standard} /> for it.{" "}
          </>
        ) : (
          "The standard says nothing of it. "
        )}
        <Link to={{ pathname: "/standard", search: `?${line}` }}>Its line, and who is let off</Link>
      </span>
      {move.stays.length > 0 && (
        <small>Stays: {move.stays.map((f) => `${f.program_name} ${f.why_not}`).join("; ")}.</small>
      )}
    </fieldset>
  );
}

function Title({ way }: { way: Way }) {
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
  return <b>Allow</b>;
}

function sentence(way: Way): string {
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

function Outcome({ way }: { way: Way }) {
  if (way.kind === "allow") return <span className={styles.outcome}>solves none</span>;
  const solves = `solves ${way.solves.length} ${way.solves.length === 1 ? "clash" : "clashes"}`;
  if (way.makes.length === 0) return <span className={`${styles.outcome} ${styles.good}`}>{solves}, makes none</span>;
  return (
    <span className={`${styles.outcome} ${styles.bad}`}>
      {solves}, makes {way.makes.length}: {way.makes.map((m) => m.says).join("; ")}
    </span>
  );
}
