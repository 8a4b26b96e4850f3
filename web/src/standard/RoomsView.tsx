import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useCallback, useMemo, useState } from "react";
import type { Schemas } from "../api/client";
import { Caps } from "../keyboard/Caps";
import type { Judgement } from "../keyboard/PressField";
import { PressField } from "../keyboard/PressField";
import { BothMade, contradictionsIn } from "../shared/BothMade";
import { One } from "../shared/fields";
import type { Lens } from "../shared/lens";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import { many, PlanTold } from "./PlanTold";
import styles from "./Rooms.module.css";
import type { Room, RoomIn } from "./useRooms";
import { useKeepRooms, useOwnKeys, useRooms, useRoomsPlan, useSaveRooms } from "./useRooms";
import type { Standard } from "./useStandard";
import { useDrafts } from "./useStandard";

type Keys = Schemas["ShortcutOut"];
/** What is being changed: a command, with its own keys and those that it has instead. */
type Changing = Pick<Room, "program" | "program_name" | "command" | "command_name" | "had" | "keys" | "reason">;

interface RoomsViewProps {
  data: Standard;
  lens: Lens;
  draft: number | null;
  /** Opens a task's row in the matrix. */
  onTask: (task: string) => void;
}

/** The commands that gave a key up so that a line holds in their program: for which lines, and what they have instead. */
export function RoomsView({ data, lens, draft, onTask }: RoomsViewProps) {
  const rights = useRights();
  const found = useRooms(draft);
  const drafts = useDrafts().data ?? [];
  const [open, setOpen] = useState<string | null>(null);
  const [adding, setAdding] = useState(false);
  if (found.isError) return <Trouble error={found.error} again={() => found.refetch()} />;
  if (!found.data) return <Waiting what="who makes room" />;
  const here = found.data.rooms.filter((r) => r.platform === data.platform);
  const elsewhere = found.data.rooms.length - here.length;
  const vain = here.filter((r) => r.lines.length === 0).length;
  const name = drafts.find((d) => d.id === draft)?.name;
  const panel = (of: Changing, isNew: boolean, close: () => void) => (
    <ChangePanel of={of} isNew={isNew} data={data} lens={lens} draft={draft} seen={found.data.seen} onClose={close} />
  );
  return (
    <div className={styles.rooms}>
      <p className={styles.said}>
        {name !== undefined && <b>In the draft {name}: </b>}
        {here.length > 0 &&
          `${many(here.length, "command")} of these programs ${here.length === 1 ? "makes" : "make"} room`}
        {vain > 0 && `, ${vain} for no line`}
        {here.length > 0 && ". "}
        {elsewhere > 0 && `${elsewhere} more on other platforms. `}
        {rights.edit && !adding && (
          <Button color="inherit" variant="outlined" onClick={() => setAdding(true)}>
            Have a command make room
          </Button>
        )}
      </p>
      {adding && <Adding data={data} known={here} panel={panel} onClose={() => setAdding(false)} />}
      {here.length === 0 && !adding && (
        <Empty title="No command makes room">
          <p>
            Where a line's key is another command's own, that command can have another key or none, so that the line
            holds in its program. Proposals do that by themselves.
          </p>
        </Empty>
      )}
      <ul aria-label="Commands that make room">
        {here.map((r) => {
          const id = `${r.program}/${r.command}`;
          return (
            <li key={id}>
              <div className={styles.row}>
                <span>
                  <b>{r.command_name}</b>
                  <small>{r.program_name}</small>
                </span>
                <span className={styles.keys}>
                  {r.had.some((k) => !has(r.keys, k)) && <span>gave up</span>}
                  {r.had.map((k) => !has(r.keys, k) && <Caps key={k.text} shortcut={k} />)}
                  <span>{r.keys.length > 0 ? "and has" : "and has no key"}</span>
                  {r.keys.map((k) => (
                    <Caps key={k.text} shortcut={k} />
                  ))}
                </span>
                <span>
                  {r.lines.map((v) => (
                    <Button key={`${v.task}${v.layouts}`} color="inherit" onClick={() => onTask(v.task)}>
                      for {v.name}
                      {v.layouts.length > 0 && ` (${v.layouts.join(", ")})`}
                    </Button>
                  ))}
                  {r.lines.length === 0 && <em>{r.known ? "for no line" : "nobody has it any more"}</em>}
                  {r.reason && <small>{r.reason}</small>}
                </span>
                <span className={styles.people}>{many(r.people, "person", "people")}</span>
                {rights.edit && (
                  <Button
                    color="inherit"
                    aria-expanded={open === id}
                    aria-label={`Change ${r.command_name} in ${r.program_name}`}
                    onClick={() => setOpen(open === id ? null : id)}
                  >
                    Change
                  </Button>
                )}
              </div>
              {open === id && panel(r, false, () => setOpen(null))}
            </li>
          );
        })}
      </ul>
    </div>
  );
}

interface AddingProps {
  data: Standard;
  known: Room[];
  panel: (of: Changing, isNew: boolean, close: () => void) => React.ReactNode;
  onClose: () => void;
}

/** Another command that is to make room: chosen by its program and its own keys. */
function Adding({ data, known, panel, onClose }: AddingProps) {
  const [program, setProgram] = useState("");
  const [command, setCommand] = useState("");
  const own = useOwnKeys(program, data.platform);
  const free = (own.data ?? []).filter((c) => known.every((r) => r.program !== program || r.command !== c.id));
  const chosen = free.find((c) => c.id === command);
  const of: Changing | null = chosen
    ? {
        program,
        program_name: data.programs.find((p) => p.id === program)?.name ?? program,
        command,
        command_name: chosen.name,
        had: chosen.keys,
        keys: [],
        reason: "",
      }
    : null;
  return (
    <section className={styles.adding} aria-label="Another command">
      <div className={styles.how}>
        <div className={styles.select}>
          <One
            label="Program"
            value={program}
            choices={data.programs}
            onChange={(id) => {
              setProgram(id);
              setCommand("");
            }}
          />
        </div>
        <div className={styles.wide}>
          <One
            label="Command"
            value={chosen ? command : ""}
            disabled={free.length === 0}
            choices={free.map((c) => ({ id: c.id, name: `${c.name}, ${c.keys.map((k) => k.words).join(", ")}` }))}
            onChange={setCommand}
          />
        </div>
        {own.data && free.length === 0 && <span>None of its other commands has a key of its own.</span>}
        <Button color="inherit" onClick={onClose}>
          Leave it
        </Button>
      </div>
      {of && panel(of, true, onClose)}
    </section>
  );
}

interface ChangePanelProps {
  of: Changing;
  isNew: boolean;
  data: Standard;
  lens: Lens;
  draft: number | null;
  seen: string;
  onClose: () => void;
}

/** What a command has instead of its own keys: some of these, others, none, or all of its own again. Told before it is saved. */
function ChangePanel({ of, isNew, data, lens, draft, seen, onClose }: ChangePanelProps) {
  const [keys, setKeys] = useState<Keys[]>(of.keys);
  const [back, setBack] = useState(false);
  const [reason, setReason] = useState(of.reason);
  const [heard, setHeard] = useState<Judgement["shortcut"] | null>(null);
  const [fields, setFields] = useState(0);
  const onJudged = useCallback((j: Judgement | null) => setHeard(j?.shortcut ?? null), []);
  const save = useSaveRooms(onClose);
  const keep = useKeepRooms(draft ?? 0, onClose);
  const same = keys.length === of.keys.length && keys.every((k, n) => k.text === of.keys[n]?.text);
  const isChanged = isNew || back || !same;
  const { program, command } = of;
  const wanted = useMemo<RoomIn[]>(
    () => [{ program, command, platform: data.platform, keys: back ? null : keys.map((k) => k.text), reason: "" }],
    [program, command, data.platform, back, keys],
  );
  const plan = useRoomsPlan(isChanged ? wanted : [], draft, seen);
  const rooms = wanted.map((r) => ({ ...r, reason }));
  const both = contradictionsIn(save.error);
  const offered = of.had.filter((k) => !has(keys, k));
  return (
    <form
      className={styles.panel}
      aria-label={`${of.command_name} in ${of.program_name}`}
      onSubmit={(event) => {
        event.preventDefault();
        if (draft !== null) keep.mutate(rooms);
        else save.mutate({ rooms, seen, draft: null, chosen: [] });
      }}
    >
      {!back && (
        <div className={styles.how}>
          <span>It has</span>
          {keys.length === 0 && <b>no key of its own</b>}
          {keys.map((k) => (
            <span key={k.text} className={styles.kept}>
              <Caps shortcut={k} />
              <Button
                color="inherit"
                aria-label={`Without ${k.words}`}
                onClick={() => setKeys(keys.filter((other) => other.text !== k.text))}
              >
                without
              </Button>
            </span>
          ))}
          {offered.map((k) => (
            <Button key={k.text} color="inherit" variant="outlined" onClick={() => setKeys([...keys, k])}>
              and its own {k.words}
            </Button>
          ))}
        </div>
      )}
      {!back && (
        <div className={styles.press}>
          <PressField
            key={fields}
            label="Another key"
            setup={lens.setup.setup}
            program={null}
            scope={null}
            onJudged={onJudged}
          />
          <Button
            color="inherit"
            variant="outlined"
            disabled={!heard || has(keys, heard)}
            onClick={() => {
              if (!heard) return;
              setKeys([...keys, heard]);
              setFields(fields + 1);
            }}
          >
            Give it this one
          </Button>
        </div>
      )}
      {!isNew && (
        <label className={styles.back}>
          <input type="checkbox" checked={back} onChange={(e) => setBack(e.target.checked)} />
          Its own keys again: it makes no room any more
        </label>
      )}
      {!back && (
        <TextField
          label="Why (kept with it)"
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          sx={{ width: 320 }}
        />
      )}
      {isChanged && <PlanTold plan={plan.data} error={plan.error} />}
      {both.length > 0 && (
        <BothMade
          by={save.error}
          found={both}
          onChosen={(chosen) => save.mutate({ rooms, seen, draft: null, chosen })}
        />
      )}
      <div className={styles.how}>
        <Button
          type="submit"
          variant="contained"
          disabled={(!isChanged && reason === of.reason) || (isChanged && !plan.data)}
          loading={save.isPending || keep.isPending}
        >
          {draft !== null ? "Keep it in the draft" : "Save it"}
        </Button>
        <Button color="inherit" onClick={onClose}>
          Leave it
        </Button>
      </div>
    </form>
  );
}

function has(keys: Keys[], one: Keys): boolean {
  return keys.some((k) => k.text === one.text);
}
