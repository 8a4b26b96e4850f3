import Button from "@mui/material/Button";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Caps } from "../../keyboard/Caps";
import { One, OneFound } from "../../shared/fields";
import { Empty } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import { Draft } from "./Draft";
import { KeyField } from "./KeyField";
import { moved, usePlatform } from "./parts";
import styles from "./Sections.module.css";
import type { Held, Plan } from "./useHeld";
import { useOffering, useOffers } from "./useHeld";

type Shelf = Schemas["HeldShelfOut"];

/** Rows of commands: the place gives the key. */
export function Shelves({ held }: { held: Held }) {
  const rights = useRights();
  return (
    <>
      {held.shelves.length === 0 && (
        <Empty title={`${held.name} fills no shelf yet.`}>
          <p>A shelf is a row of a program for commands of your own choice; each place has its key.</p>
        </Empty>
      )}
      {held.shelves.map((s) => (
        <ShelfRow key={`${s.key} ${JSON.stringify(s.item)}`} profile={held.profile} shelf={s} />
      ))}
      {rights.edit && !held.compiled && <NewShelf held={held} />}
    </>
  );
}

function ShelfRow({ profile, shelf }: { profile: string; shelf: Shelf }) {
  const rights = useRights();
  const platform = usePlatform(Object.keys(shelf.places[0]?.keys ?? {}));
  const offering = useOffering(shelf.program).data;
  const stood = shelf.places.map((p) => p.command);
  const [order, setOrder] = useState(stood);
  const [begin, setBegin] = useState<string | null>(null);
  const [about, setAbout] = useState("");
  const [dragged, setDragged] = useState<string | null>(null);
  const [gone, setGone] = useState(false);
  const names = new Map([
    ...(offering?.commands ?? []).map((c) => [c.id, c.name] as const),
    ...shelf.places.map((p) => [p.command, p.name] as const),
  ]);
  const keyAt = (n: number) => shelf.places[n]?.keys[platform];
  const put = (command: string, to: number) => {
    if (to < 0 || to >= order.length) return;
    setOrder(moved(order, order.indexOf(command), to));
    setAbout(command);
  };
  const changed = gone || begin !== null || order.join("\n") !== stood.join("\n");
  const item = { ...shelf.item, commands: order, ...(begin === null ? {} : { begin: begin || undefined }) };
  const leave = () => {
    setOrder(stood);
    setBegin(null);
    setGone(false);
  };
  return (
    <section className={styles.item} aria-label={`${shelf.name} of ${shelf.program_name}`}>
      <h3>
        {shelf.name} of {shelf.program_name}
      </h3>
      <p className={styles.quiet}>
        {shelf.lost ||
          `${order.length} of ${shelf.most} places are filled; the place gives the key. ${rights.edit ? "Drag a command, or hold Alt and press an arrow; Delete takes it off." : ""}`}
      </p>
      <ol className={styles.shelf} aria-label="Places">
        {order.map((command, n) => {
          const before = stood.indexOf(command);
          const was = before >= 0 && before !== n ? keyAt(before) : undefined;
          const now = keyAt(n);
          const place = shelf.places[before];
          return (
            <li
              key={command}
              className={command === about && changed ? styles.about : undefined}
              draggable={rights.edit}
              onDragStart={() => setDragged(command)}
              onDragOver={(e) => e.preventDefault()}
              onDrop={() => dragged && put(dragged, n)}
            >
              <button
                type="button"
                disabled={!rights.edit}
                onKeyDown={(e) => {
                  const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
                  if (e.altKey && by) {
                    e.preventDefault();
                    put(command, n + by);
                  } else if (e.key === "Delete") {
                    setOrder(order.filter((c) => c !== command));
                    setAbout("");
                  }
                }}
                aria-label={`${names.get(command) ?? command}, place ${n + 1}${now ? `, ${now.words}` : ""}`}
              >
                {names.get(command) ?? command}
              </button>
              <span>
                {now ? <Caps shortcut={now} /> : <span className={styles.quiet}>a new place</span>}{" "}
                {was && (
                  <s>
                    <span className="unseen">instead of </span>
                    <Caps shortcut={{ words: was.words, caps: was.caps.slice(-1) }} />
                  </s>
                )}
              </span>
              {place?.lost && <em>{place.lost}</em>}
            </li>
          );
        })}
      </ol>
      {rights.edit && (
        <div className={styles.line}>
          {offering && order.length < shelf.most && (
            <AddCommand
              commands={offering.commands.filter((c) => !order.includes(c.id))}
              onAdd={(command) => {
                setOrder([...order, command]);
                setAbout(command);
              }}
            />
          )}
          {shelf.begin_chosen && (
            <KeyField
              label="Begin with another press"
              platform={platform}
              program={shelf.program}
              value={begin ?? (shelf.item.begin as string | undefined) ?? ""}
              onChange={setBegin}
            />
          )}
          <Button color="inherit" onClick={() => setGone(true)}>
            Take the shelf out
          </Button>
        </div>
      )}
      {changed && (
        <Draft
          profile={profile}
          section="shelves"
          wishes={[{ key: shelf.key, item: gone ? null : item }]}
          about={about}
          more={(plan) => <Renumbered plan={plan} onOrder={setOrder} />}
          onLeave={leave}
          onSaved={() => undefined}
        />
      )}
    </section>
  );
}

/** Every key that changes, with whom it hurts, and placings that change fewer. */
function Renumbered({ plan, onOrder }: { plan: Plan; onOrder: (order: string[]) => void }) {
  const { shelf } = plan;
  if (!shelf) return null;
  const people = shelf.people === 1 ? "1 person" : `${shelf.people} people`;
  return (
    <>
      <p>
        <b>{shelf.changes === 0 ? "No key that people know changes." : `It changes ${keysOf(shelf.changes)}.`}</b>{" "}
        {people} have this shelf.
      </p>
      <ul className={styles.lines} aria-label="Changed keys">
        {shelf.renumbered.map((r) => (
          <li key={r.command}>
            <span>
              <b>{r.name}</b> {r.before ? <Caps shortcut={r.before} /> : "has no key"} →{" "}
              {r.after ? <Caps shortcut={r.after} /> : "no key"}
            </span>
            <span>
              {r.before && r.uses !== null
                ? `pressed ${r.uses} times a week`
                : r.before
                  ? "nobody said how often"
                  : "new"}
            </span>
          </li>
        ))}
        {shelf.others.map((o) => (
          <li key={o.says}>
            <span>
              {o.says}, {o.changes === 0 ? "nothing else moves" : `it changes ${keysOf(o.changes)}`}.
            </span>
            <Button size="small" variant="outlined" onClick={() => onOrder(o.commands)}>
              Take this order
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
}

function keysOf(count: number): string {
  return count === 1 ? "1 key" : `${count} keys`;
}

interface AddCommandProps {
  commands: Schemas["NamedOut"][];
  onAdd: (command: string) => void;
}

/** A command looked for by its words, and taken with Enter. */
export function AddCommand({ commands, onAdd }: AddCommandProps) {
  const [words, setWords] = useState("");
  const [turn, setTurn] = useState(0);
  const wanted = words.toLowerCase();
  return (
    <span className={styles.wide}>
      <OneFound
        key={turn}
        label="Add a command"
        value={null}
        choices={commands.filter((c) => c.name.toLowerCase().includes(wanted)).slice(0, 40)}
        onChange={(one) => {
          if (one) onAdd(one.id);
          setWords("");
          setTurn(turn + 1);
        }}
        onWords={setWords}
      />
    </span>
  );
}

function NewShelf({ held }: { held: Held }) {
  const offers = useOffers().data?.filter((o) => o.has.includes("shelves")) ?? [];
  const [program, setProgram] = useState("");
  const offering = useOffering(program).data;
  const [row, setRow] = useState("");
  const [commands, setCommands] = useState<string[]>([]);
  const filled = new Set(held.shelves.map((s) => s.key));
  const rows = offering?.shelves.filter((s) => !filled.has(`${s.id} in ${program}`)) ?? [];
  const leave = () => {
    setProgram("");
    setRow("");
    setCommands([]);
  };
  if (offers.length === 0) return <p className={styles.quiet}>No program here has a shelf.</p>;
  return (
    <section className={styles.item} aria-label="Fill another shelf">
      <h3>Fill another shelf</h3>
      <div className={styles.line}>
        <span className={styles.field}>
          <One
            label="Program"
            value={program}
            choices={offers}
            onChange={(next) => {
              leave();
              setProgram(next);
            }}
          />
        </span>
        {offering && (
          <span className={styles.field}>
            <One label="Shelf" value={row} choices={rows} onChange={setRow} />
          </span>
        )}
        {offering && row && (
          <AddCommand
            commands={offering.commands.filter((c) => !commands.includes(c.id))}
            onAdd={(command) => setCommands([...commands, command])}
          />
        )}
      </div>
      {offering && rows.length === 0 && <p className={styles.quiet}>Each of its shelves is filled already.</p>}
      {commands.length > 0 && (
        <Draft
          profile={held.profile}
          section="shelves"
          wishes={[{ key: null, item: { program, shelf: row, commands } }]}
          more={(plan) => <Renumbered plan={plan} onOrder={setCommands} />}
          onLeave={leave}
          onSaved={leave}
        />
      )}
    </section>
  );
}
