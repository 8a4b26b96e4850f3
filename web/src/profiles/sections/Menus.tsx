import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Caps } from "../../keyboard/Caps";
import type { Named } from "../../shared/fields";
import { One } from "../../shared/fields";
import { Empty } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import { Draft, WhenReady } from "./Draft";
import { idFrom, moved, usePlatform } from "./parts";
import styles from "./Sections.module.css";
import { AddCommand } from "./Shelves";
import type { Held, Wish } from "./useHeld";
import { useLevels, useOffering, useOffers, useSaveItems } from "./useHeld";

type Level = Schemas["HeldLevelOut"];
type Group = Schemas["HeldGroupOut"];

/** Groups of commands in the menus of programs, with the letters that reach them. */
export function Menus({ held }: { held: Held }) {
  const rights = useRights();
  const save = useSaveItems(held.profile, "menu_groups");
  const own = held.levels.flatMap((l) => l.groups).filter((g) => g.key);
  const may = rights.edit && !held.compiled;
  const [program, setProgram] = useState("");
  const untouched = useLevels(held.profile, held.levels.some((l) => l.program === program) ? "" : program).data;
  const all = untouched && program ? [...held.levels, ...untouched] : held.levels;
  return (
    <>
      {own.length === 0 && (
        <Empty title={`${held.name} arranges no menus yet.`}>
          <p>Make a group of commands that belong together, or hide and move groups of a program.</p>
        </Empty>
      )}
      {all
        .filter((l) => l.groups.length > 0)
        .map((level) => (
          <LevelRow
            key={`${level.program} ${level.place}`}
            held={held}
            level={level}
            places={all.filter((l) => l.program === level.program).map((l) => ({ id: l.place, name: l.name }))}
            may={may}
          />
        ))}
      {held.lost.map((l) => (
        <p key={l.key} className={`${styles.item} ${styles.lost}`}>
          {l.says}{" "}
          {may && (
            <Button color="inherit" onClick={() => save.mutate([{ key: l.key, item: null }])}>
              Take it out
            </Button>
          )}
        </p>
      ))}
      {may && own.length > 0 && (
        <p className={styles.item}>
          <Button
            color="inherit"
            variant="outlined"
            onClick={() => save.mutate(own.map((g) => ({ key: g.key, item: null })))}
          >
            Put all menus back as the programs have them
          </Button>
        </p>
      )}
      {may && <NewGroup held={held} program={program} onProgram={setProgram} />}
    </>
  );
}

interface LevelProps {
  held: Held;
  level: Level;
  places: Named[];
  may: boolean;
}

/** One menu: its groups in their order, what can be done with each, and the presses that result. `places`: all of the program. */
function LevelRow({ held, level, places, may }: LevelProps) {
  const [open, setOpen] = useState<string | null>(null);
  const [wishes, setWishes] = useState<Wish[]>([]);
  const shown = level.groups.filter((g) => !g.hidden);
  const wish = (group: Group, changes: Record<string, unknown>) => {
    const base = group.item ?? { program: level.program, id: group.id, place: level.place };
    setWishes([{ key: group.key, item: { ...base, ...changes } }]);
  };
  /** Behind the group that stands before its new place. */
  const move = (group: Group, by: number) => {
    const at = shown.indexOf(group);
    if (at + by < 0 || at + by >= shown.length) return;
    const order = moved(shown, at, at + by);
    wish(group, { after: order[at + by - 1]?.id ?? "top" });
  };
  const leave = () => setWishes([]);
  const editing = level.groups.find((g) => g.id === open);
  const changes = (g: Group) => !g.built_in || (g.can_move && !g.hidden && places.length > 1);
  return (
    <section className={styles.item} aria-label={`${level.name} of ${level.program_name}`}>
      <h3>
        {level.name} of {level.program_name}
      </h3>
      <ol className={styles.level} aria-label={`Groups in ${level.name}`}>
        {level.groups.map((g) => (
          <li key={g.id} className={`${g.built_in ? "" : styles.own} ${g.hidden ? styles.hidden : ""}`}>
            <b>
              <Lettered name={g.name} letter={g.letter} />
            </b>
            {g.hidden && <span className={styles.quiet}>hidden</span>}
            <ol>
              {g.commands.map((c) => (
                <li key={c.command} className={c.lost ? styles.lost : undefined}>
                  <Lettered name={c.name} letter={c.letter} />
                </li>
              ))}
            </ol>
            {may && (
              <span className={styles.buttons}>
                {g.can_move && !g.hidden && (
                  <>
                    <Button
                      size="small"
                      color="inherit"
                      aria-label={`${g.name} to the left`}
                      onClick={() => move(g, -1)}
                    >
                      ←
                    </Button>
                    <Button
                      size="small"
                      color="inherit"
                      aria-label={`${g.name} to the right`}
                      onClick={() => move(g, 1)}
                    >
                      →
                    </Button>
                  </>
                )}
                {g.can_hide && (
                  <Button
                    size="small"
                    color="inherit"
                    aria-label={`${g.hidden ? "Show" : "Hide"} ${g.name}`}
                    onClick={() => wish(g, { hidden: !g.hidden })}
                  >
                    {g.hidden ? "Show" : "Hide"}
                  </Button>
                )}
                {changes(g) && (
                  <Button
                    size="small"
                    color="inherit"
                    aria-expanded={open === g.id}
                    onClick={() => setOpen(open === g.id ? null : g.id)}
                  >
                    Change<span className="unseen"> {g.name}</span>
                  </Button>
                )}
                {g.key && (
                  <Button size="small" color="inherit" onClick={() => setWishes([{ key: g.key, item: null }])}>
                    {g.built_in ? "Put back" : "Take out"}
                    <span className="unseen"> {g.name}</span>
                  </Button>
                )}
              </span>
            )}
          </li>
        ))}
      </ol>
      {editing?.built_in && (
        <span className={styles.field}>
          <One
            label={`${editing.name} stands in`}
            value={level.place}
            choices={places}
            onChange={(place) => wish(editing, { place, after: null })}
          />
        </span>
      )}
      {editing?.item && !editing.built_in && (
        <GroupForm
          key={editing.id}
          held={held}
          program={level.program}
          of={{ key: editing.key, item: editing.item }}
          onLeave={() => setOpen(null)}
        />
      )}
      {wishes.length > 0 && (
        <Draft profile={held.profile} section="menu_groups" wishes={wishes} onLeave={leave} onSaved={leave} />
      )}
      <Presses level={level} />
    </section>
  );
}

/** A name with its letter underlined; behind the name where it isn't in it. */
function Lettered({ name, letter }: { name: string; letter: string }) {
  const plain = name.normalize("NFD").replace(/\p{M}/gu, "").toUpperCase();
  const at = letter && plain.length === name.length ? plain.indexOf(letter) : -1;
  if (!letter) return <>{name}</>;
  if (at < 0) {
    return (
      <>
        {name} (<span className={styles.letter}>{letter}</span>)
      </>
    );
  }
  return (
    <>
      {name.slice(0, at)}
      <span className={styles.letter}>{name.slice(at, at + 1)}</span>
      {name.slice(at + 1)}
    </>
  );
}

/** The presses in turn that run the commands of own groups. */
function Presses({ level }: { level: Level }) {
  const own = level.groups.filter((g) => !g.hidden).flatMap((g) => g.commands);
  const platform = usePlatform(Object.keys(own.find((c) => Object.keys(c.keys).length > 0)?.keys ?? {}));
  const reached = own.filter((c) => c.keys[platform]);
  if (reached.length === 0) return null;
  return (
    <ul className={styles.lines} aria-label="Presses in turn">
      {reached.map((c) => (
        <li key={c.command}>
          <span>{c.name}</span>
          <span>{c.keys[platform] && <Caps shortcut={c.keys[platform]} />}</span>
        </li>
      ))}
    </ul>
  );
}

interface GroupFormProps {
  held: Held;
  program: string;
  of: Wish;
  onLeave: () => void;
}

/** The name and commands of an own group. */
function GroupForm({ held, program, of, onLeave }: GroupFormProps) {
  const offering = useOffering(program).data;
  const [name, setName] = useState(String(of.item?.name ?? ""));
  const [commands, setCommands] = useState<string[]>((of.item?.commands as string[] | undefined) ?? []);
  const [place, setPlace] = useState(String(of.item?.place ?? ""));
  const nameOf = (id: string) => offering?.commands.find((c) => c.id === id)?.name ?? id;
  const places = offering?.menus.filter((m) => m.takes_own) ?? [];
  const taken = held.levels.flatMap((l) => l.groups).map((g) => g.id);
  const item = { ...of.item, name, commands, place, id: of.item?.id ?? idFrom(name, taken) };
  const ready =
    name.trim() !== "" && place !== "" && (of.key === null || JSON.stringify(item) !== JSON.stringify(of.item));
  const move = (command: string, by: number) => {
    const at = commands.indexOf(command);
    if (at + by >= 0 && at + by < commands.length) setCommands(moved(commands, at, at + by));
  };
  return (
    <div className={styles.draft}>
      <div className={styles.line}>
        <TextField label="Name of the group" value={name} onChange={(e) => setName(e.target.value)} autoFocus />
        <span className={styles.field}>
          <One label="Stands in" value={place} choices={places} onChange={setPlace} />
        </span>
        {offering && (
          <AddCommand
            commands={offering.commands.filter((c) => !commands.includes(c.id))}
            onAdd={(command) => setCommands([...commands, command])}
          />
        )}
      </div>
      <ul className={styles.lines} aria-label="Commands of the group">
        {commands.map((c) => (
          <li key={c}>
            <span>{nameOf(c)}</span>
            <span className={styles.buttons}>
              <Button size="small" color="inherit" aria-label={`${nameOf(c)} up`} onClick={() => move(c, -1)}>
                ↑
              </Button>
              <Button size="small" color="inherit" aria-label={`${nameOf(c)} down`} onClick={() => move(c, 1)}>
                ↓
              </Button>
              <Button size="small" color="inherit" onClick={() => setCommands(commands.filter((o) => o !== c))}>
                Take off<span className="unseen"> {nameOf(c)}</span>
              </Button>
            </span>
          </li>
        ))}
      </ul>
      <WhenReady
        ready={ready}
        profile={held.profile}
        section="menu_groups"
        wishes={[{ key: of.key, item }]}
        onLeave={onLeave}
        onSaved={onLeave}
      />
    </div>
  );
}

interface NewGroupProps {
  held: Held;
  program: string;
  onProgram: (id: string) => void;
}

/** A program of choice: its menus are shown above, and a group can be made for it. */
function NewGroup({ held, program, onProgram }: NewGroupProps) {
  const offers = useOffers().data?.filter((o) => o.has.includes("menu_groups")) ?? [];
  const offering = useOffering(program).data;
  const place = offering?.menus.find((m) => m.takes_own);
  if (offers.length === 0) return <p className={styles.quiet}>No program here has menus that can be arranged.</p>;
  return (
    <section className={styles.item} aria-label="Other menus">
      <h3>Menus of a program</h3>
      <span className={styles.field}>
        <One label="In the menus of" value={program} none="no program yet" choices={offers} onChange={onProgram} />
      </span>
      {offering && place && (
        <GroupForm
          key={program}
          held={held}
          program={program}
          of={{ key: null, item: { program, place: place.id } }}
          onLeave={() => onProgram("")}
        />
      )}
    </section>
  );
}
