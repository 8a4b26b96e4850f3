import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { useState } from "react";
import { Link } from "react-router";
import { Caps } from "../keyboard/Caps";
import { Part } from "../shared/Part";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useAddress } from "../shared/useAddress";
import { useRights } from "../shared/useSession";
import styles from "./Upgrade.module.css";
import type { Upgrade } from "./useUpgrades";
import { useTakeUpgrade, useUpgrade, useUpgrades } from "./useUpgrades";

const NONE: ReadonlySet<string> = new Set();

/** What a newer version of a program means for those who have an older one: told before their machines have it. */
export function UpgradeView() {
  const [params, change] = useAddress();
  const waiting = useUpgrades();
  const program = params.get("of") ?? waiting.data?.[0]?.program ?? "";
  const [taken, setTaken] = useState(NONE);
  const [spare, setSpare] = useState(NONE);
  const found = useUpgrade(program, params.get("old") ?? "", params.get("new") ?? "", [...taken]);
  if (waiting.isError) return <Trouble error={waiting.error} again={() => waiting.refetch()} />;
  if (!waiting.data) return <Waiting what="what waits" />;
  if (program === "")
    return (
      <Empty title="Nobody has an older version than there is." whole>
        <p>When a list or a document of a newer version comes in, what that means is told here.</p>
        <Link to="/programs/all">All programs</Link>
      </Empty>
    );
  if (found.isError) return <Trouble error={found.error} again={() => found.refetch()} />;
  if (!found.data) return <Waiting what="the upgrade" />;
  const told = found.data;
  const go = (parts: Record<string, string>) => {
    setTaken(NONE);
    setSpare(NONE);
    change(parts, true);
  };
  const others = waiting.data.some((w) => w.program === program)
    ? waiting.data
    : [{ program, name: told.name, old: told.old, new: told.new, people: told.people, machines: 0 }, ...waiting.data];
  return (
    <>
      <div className={screen.top}>
        <h1>Upgrade check</h1>
        <span>
          of{" "}
          <Part
            label="Program"
            value={told.name}
            choices={others.map((w) => ({
              key: `${w.program} ${w.old}`,
              text: `${w.name}, ${w.old} to ${w.new}`,
              more: w.people === 1 ? "1 person" : `${w.people} people`,
              parts: { of: w.program, old: w.old, new: w.new },
            }))}
            chosen={`${program} ${told.old}`}
            change={go}
          />{" "}
          from <Version label="From" value={told.old} told={told} name="old" change={go} /> to{" "}
          <Version label="To" value={told.new} told={told} name="new" change={go} />
        </span>
        <span className={screen.right}>
          <Link to="/programs">Commands</Link>
        </span>
      </div>
      <p className={screen.sub}>
        {told.setups === 0
          ? "Nobody has the older version, so it surprises nobody."
          : `${people(told.people)} in ${told.setups} ${told.setups === 1 ? "setup" : "setups"} would get it; ${told.machines} ${told.machines === 1 ? "machine has" : "machines have"} ${told.old} now.`}
      </p>
      <div className={styles.both}>
        <Means told={told} spare={spare} setSpare={setSpare} />
        <Changed told={told} taken={taken} setTaken={setTaken} />
      </div>
      <Take
        told={told}
        taken={taken}
        spare={spare}
        onDone={() => {
          setTaken(NONE);
          setSpare(NONE);
        }}
      />
    </>
  );
}

function people(many: number): string {
  return many === 1 ? "1 person" : `${many} people`;
}

interface VersionProps {
  label: string;
  value: string;
  told: Upgrade;
  name: "old" | "new";
  change: (parts: Record<string, string>) => void;
}

function Version({ label, value, told, name, change }: VersionProps) {
  const other = name === "old" ? told.new : told.old;
  const pair = { of: told.program, old: told.old, new: told.new };
  return (
    <Part
      label={label}
      value={value}
      choices={told.versions
        .filter((v) => v !== other)
        .map((v) => ({ key: v, text: v, parts: { ...pair, [name]: v } }))}
      change={change}
    />
  );
}

interface SetsProps {
  of: ReadonlySet<string>;
  set: (next: ReadonlySet<string>) => void;
  id: string;
  says: string;
}

function Switch({ of, set, id, says }: SetsProps) {
  return (
    <input
      type="checkbox"
      checked={of.has(id)}
      aria-label={says}
      onChange={(e) => {
        const next = new Set(of);
        if (e.target.checked) next.add(id);
        else next.delete(id);
        set(next);
      }}
    />
  );
}

function Block({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className={styles.part}>
      <h2>{title}</h2>
      {children}
    </section>
  );
}

function Says({ title, says }: { title: string; says: string[] }) {
  if (says.length === 0) return null;
  return (
    <Block title={title}>
      <ul>
        {says.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ul>
    </Block>
  );
}

interface MeansProps {
  told: Upgrade;
  spare: ReadonlySet<string>;
  setSpare: (next: ReadonlySet<string>) => void;
}

/** What it means for people: what their fingers know that is no longer so, what was set, what clashes. */
function Means({ told, spare, setSpare }: MeansProps) {
  const rights = useRights();
  const quiet = [told.surprises, told.orphans, told.spare, told.makes, told.solves, told.follow, told.lost, told.again];
  return (
    <div>
      {quiet.every((q) => q.length === 0) && <p>It changes nothing for anybody.</p>}
      {told.surprises.length > 0 && (
        <Block title="Presses that mean something else">
          <ul className={styles.rows}>
            {told.surprises.map((s) => (
              <li key={`${s.keys} ${s.was} ${s.now}`}>
                <b>{s.keys}</b>
                <span>
                  <s>{s.was}</s> {s.now ? `is ${s.now} now` : "does nothing any more"}
                </span>
                <small title={s.setups.join(", ")}>{people(s.people)}</small>
              </li>
            ))}
          </ul>
        </Block>
      )}
      <Says title="It makes clashes" says={told.makes} />
      <Says title="It solves clashes" says={told.solves} />
      {told.orphans.length > 0 && (
        <Says
          title="Own keys of commands that are gone"
          says={told.orphans.map(
            (o) => `${o.profile_name}: ${o.keys.map((k) => k.words).join(" or ") || "no key"} for ${o.command}`,
          )}
        />
      )}
      {told.spare.length > 0 && (
        <Block title="Own keys that its default says now">
          <ul className={styles.rows}>
            {told.spare.map((o) => (
              <li key={`${o.profile} ${o.key}`}>
                {rights.edit && (
                  <Switch
                    of={spare}
                    set={setSpare}
                    id={`${o.profile} ${o.key}`}
                    says={`Take ${o.command} out of ${o.profile_name}`}
                  />
                )}
                <span>
                  {o.profile_name}: {o.command} on {o.platform}
                </span>
                <Keys keys={o.keys} />
              </li>
            ))}
          </ul>
        </Block>
      )}
      <Says title="Tasks of the standard that it does now" says={told.follow} />
      <Says title="Tasks of the standard that it does no more" says={told.lost} />
      <Says title="To be done again after the update" says={told.again} />
    </div>
  );
}

interface ChangedProps {
  told: Upgrade;
  taken: ReadonlySet<string>;
  setTaken: (next: ReadonlySet<string>) => void;
}

/** What the maker changed. */
function Changed({ told, taken, setTaken }: ChangedProps) {
  const rights = useRights();
  const proposed = told.renamed.filter((r) => !r.known);
  const known = told.renamed.filter((r) => r.known && r.old_name !== r.new_name);
  return (
    <div className={styles.changed}>
      {proposed.length > 0 && (
        <Block title="Perhaps the same under another name">
          <ul className={styles.rows}>
            {proposed.map((r) => (
              <li key={r.old}>
                {rights.edit && (
                  <Switch of={taken} set={setTaken} id={r.old} says={`${r.old_name} is ${r.new_name} now`} />
                )}
                <span>
                  {r.old_name}, and now <b>{r.new_name}</b>
                  <small>{r.reasons.join("; ")}</small>
                </span>
              </li>
            ))}
          </ul>
        </Block>
      )}
      <Says
        title="Called otherwise"
        says={[...known.map((r) => `${r.old_name} is ${r.new_name} now`), ...told.called]}
      />
      <Says title="Came" says={told.came} />
      <Says title="Gone" says={told.gone} />
      {told.moved.length > 0 && (
        <Block title="On other keys by its maker">
          <ul className={styles.rows}>
            {told.moved.map((m) => (
              <li key={`${m.command} ${m.platform}`}>
                <span>
                  {m.name}, {m.platform}
                </span>
                <Keys keys={m.before} /> <small>becomes</small> <Keys keys={m.after} />
              </li>
            ))}
          </ul>
        </Block>
      )}
      <Says title="Live elsewhere" says={told.scoped} />
      <Says title="It behaves otherwise" says={told.behaves} />
    </div>
  );
}

function Keys({ keys }: { keys: Upgrade["moved"][number]["before"] }) {
  return keys.length === 0 ? <i>no key</i> : keys.map((k) => <Caps key={k.text} shortcut={k} />);
}

interface TakeProps {
  told: Upgrade;
  taken: ReadonlySet<string>;
  spare: ReadonlySet<string>;
  onDone: () => void;
}

function Take({ told, taken, spare, onDone }: TakeProps) {
  const rights = useRights();
  const take = useTakeUpgrade(told.program, onDone);
  const proposed = told.renamed.filter((r) => !r.known).map((r) => r.old);
  if (!rights.edit || proposed.length + told.spare.length === 0) return null;
  const pairs = (ids: string[]) => told.spare.filter((o) => ids.includes(`${o.profile} ${o.key}`));
  const send = (renamed: string[], out: Upgrade["spare"]) =>
    take.mutate({ old: told.old, new: told.new, renamed, spare: out.map((o) => [o.profile, o.key]) });
  return (
    <div className={styles.take}>
      <Button
        variant="contained"
        disabled={taken.size + spare.size === 0}
        loading={take.isPending}
        onClick={() => send([...taken], pairs([...spare]))}
      >
        Take these {taken.size + spare.size || ""}
      </Button>
      <Button variant="outlined" color="inherit" onClick={() => send(proposed, told.spare)}>
        Take all {proposed.length + told.spare.length}
      </Button>
    </div>
  );
}
