import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import { useDeferredValue, useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import { useMachinesShown } from "../fleet/useAgents";
import { useProfiles } from "../profiles/useProfiles";
import { FileButton } from "../shared/FileButton";
import { useLenses } from "../shared/lens";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useAddress } from "../shared/useAddress";
import { useRights } from "../shared/useSession";
import { Would } from "../shared/Would";
import styles from "./Comparing.module.css";
import type { Compared, Side } from "./useComparing";
import { useBundleSide, useCompared, useTakeOver, useWould } from "./useComparing";

/** Two documents or revisions held against each other; single differences are taken over, in the direction that can be written. */
export function CompareView() {
  const [params, change] = useAddress();
  const profiles = useProfiles().data ?? [];
  const left = params.get("left") ?? (profiles[0] ? `profile/${profiles[0].id}` : "");
  const right = params.get("right") ?? (profiles[1] ? `profile/${profiles[1].id}` : "");
  const found = useCompared(left, right);
  const bundle = useBundleSide();
  const swap = () => change({ left: right, right: left }, true);
  return (
    <>
      <div className={screen.top}>
        <h1>Held against each other</h1>
        {found.data && (
          <span>
            {found.data.count} {found.data.count === 1 ? "difference" : "differences"}, {found.data.alike} alike
          </span>
        )}
        <span className={screen.right}>
          <Button color="inherit" variant="outlined" onClick={swap}>
            Change sides
          </Button>
        </span>
      </div>
      <div className={styles.filters}>
        <Choice
          label="What there is"
          value={left}
          title={found.data?.left.title}
          onChange={(v) => change({ left: v }, true)}
        />
        <Choice
          label="Held against"
          value={right}
          title={found.data?.right.title}
          onChange={(v) => change({ right: v }, true)}
        />
        <FileButton
          accept=".zip"
          loading={bundle.isPending}
          onFile={(file) => bundle.mutate(file, { onSuccess: (side) => change({ right: side.text }, true) })}
        >
          Against a bundle
        </FileButton>
      </div>
      {found.isError && <Trouble error={found.error} again={() => found.refetch()} />}
      {(left === "" || right === "") && (
        <Empty title="There is nothing to hold against it yet.">
          <p>Choose a second side above: another profile, a revision, what holds for somebody, or a bundle.</p>
        </Empty>
      )}
      {left !== "" && right !== "" && !found.isError && !found.data && <Waiting what="what differs" />}
      {found.data && <Differences key={`${left} ${right}`} compared={found.data} />}
    </>
  );
}

interface ChoiceProps {
  label: string;
  value: string;
  /** What it is called, where it stands in no list. */
  title: string | undefined;
  onChange: (value: string) => void;
}

function Choice({ label, value, title, onChange }: ChoiceProps) {
  const profiles = useProfiles().data ?? [];
  const lenses = useLenses().data ?? [];
  const machines = useMachinesShown().data ?? [];
  const holding = lenses.map((l) => ({ id: `setup/${l.setup}`, name: `What holds for ${l.name}` }));
  const files = machines.map((m) => ({ id: `machine/${m.id}`, name: `What the files of ${m.name} say` }));
  const documents = profiles.flatMap((p) => [
    { id: `profile/${p.id}`, name: `${p.name} as it is now` },
    ...p.revisions
      .slice(-12, -1)
      .reverse()
      .map((r) => ({ id: `profile/${p.id}~${r.number}`, name: `${p.name}, revision ${r.number}, ${r.note || r.by}` })),
  ]);
  const known = [...documents, ...holding, ...files];
  const all =
    known.some((k) => k.id === value) || value === "" ? known : [{ id: value, name: title ?? value }, ...known];
  return (
    <TextField select label={label} value={value} onChange={(e) => onChange(e.target.value)} sx={{ width: 330 }}>
      {all.map((k) => (
        <MenuItem key={k.id} value={k.id}>
          {k.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

type Difference = Compared["groups"][number]["differences"][number];

function Differences({ compared }: { compared: Compared }) {
  const rights = useRights();
  const folded = compared.groups.find((g) => g.means === "nothing");
  const [unfolded, setUnfolded] = useState(false);
  const groups = compared.groups.filter((g) => g !== folded || unfolded);
  const takeable = useMemo(() => compared.groups.reduce((all, g) => all + idsOf(g).length, 0), [compared.groups]);
  const usual = () =>
    new Set(
      compared.groups.flatMap((g) => [
        ...g.differences.filter((d) => d.refused === "" && !d.clashes && d.nothing === "").map((d) => d.id),
        ...(g.means === "nothing" ? [] : g.beyond),
      ]),
    );
  const [chosen, setChosen] = useState<ReadonlySet<string>>(usual);
  const list = useRef<HTMLDivElement>(null);
  // What is taken over into the left side is what the right one has; the other way round where only that can be written.
  const [into, other]: [Side, Side] = compared.left.writable
    ? [compared.left, compared.right]
    : [compared.right, compared.left];
  const choice = { into: into.text, other: other.text, chosen: [...chosen] };
  const would = useWould(useDeferredValue(choice), into.writable && chosen.size > 0);
  const take = useTakeOver();
  const set = (ids: string[], on: boolean) => {
    const next = new Set(chosen);
    for (const id of ids) {
      if (on) next.add(id);
      else next.delete(id);
    }
    setChosen(next);
  };
  const step = (event: React.KeyboardEvent) => {
    const way = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (way === undefined) return;
    const rows = [...(list.current?.querySelectorAll<HTMLElement>("input[type=checkbox]") ?? [])];
    const at = rows.indexOf(document.activeElement as HTMLElement);
    const next = rows[Math.min(rows.length - 1, Math.max(0, at + way))];
    if (next && at >= 0) {
      event.preventDefault();
      next.focus();
    }
  };
  if (compared.count === 0) return <Empty title="Nothing differs." />;
  return (
    <>
      <div ref={list} className={styles.differences} onKeyDown={step} role="group" aria-label="Differences">
        {groups.map((g) => {
          const ids = idsOf(g);
          const all = ids.length > 0 && ids.every((id) => chosen.has(id));
          return (
            <section key={g.means} aria-label={g.title}>
              <h2>
                {into.writable && ids.length > 1 && (
                  <Switch
                    size="small"
                    checked={all}
                    onChange={(e) => set(ids, e.target.checked)}
                    slotProps={{ input: { "aria-label": `All of: ${g.title}` } }}
                  />
                )}
                {g.title} <small>{g.count}</small>
              </h2>
              <ul>
                {g.differences.map((d) => (
                  <Row
                    key={d.id}
                    difference={d}
                    on={chosen.has(d.id)}
                    writable={into.writable}
                    onChange={(on) => set([d.id], on)}
                  />
                ))}
                {g.count > g.differences.length && (
                  <li>
                    And {g.count - g.differences.length} more
                    {into.writable && `, ${g.beyond.filter((id) => chosen.has(id)).length} of them chosen`}.
                  </li>
                )}
              </ul>
            </section>
          );
        })}
        {folded && (
          <Button color="inherit" aria-expanded={unfolded} onClick={() => setUnfolded(!unfolded)}>
            {unfolded ? "Fold away" : "Show"} the {folded.count} of no effect
          </Button>
        )}
      </div>
      <div className={styles.take}>
        {!into.writable && <span>Neither side can be written: they can be looked at only.</span>}
        {into.writable && rights.edit && (
          <Button
            variant="contained"
            disabled={chosen.size === 0}
            loading={take.isPending}
            onClick={() => take.mutate(choice, { onSuccess: () => setChosen(new Set()) })}
          >
            Take {chosen.size} of {takeable} over into {into.title}
          </Button>
        )}
        {into.writable && !rights.edit && <span>Readers compare; an editor takes over.</span>}
        {into.writable && into.key.startsWith("profile/") && chosen.size > 0 && (
          <Would would={would.data} error={would.isError ? would.error : null} />
        )}
        {into.key.startsWith("profile/") && (
          <Link to={{ pathname: "/profiles/history", search: new URLSearchParams({ of: into.key }).toString() }}>
            Its revisions
          </Link>
        )}
      </div>
    </>
  );
}

/** All of a group that can be taken over, in sight or not. */
function idsOf(group: Compared["groups"][number]): string[] {
  return [...group.differences.filter((d) => d.refused === "").map((d) => d.id), ...group.beyond];
}

interface RowProps {
  difference: Difference;
  on: boolean;
  writable: boolean;
  onChange: (on: boolean) => void;
}

function Row({ difference: d, on, writable, onChange }: RowProps) {
  const beside = [
    d.people > 0 && d.nothing === "" && (d.people === 1 ? "1 person" : `${d.people} people`),
    d.clashes && "would make a clash",
    d.nothing,
    d.refused,
  ].filter(Boolean);
  return (
    <li className={d.clashes ? styles.clashing : undefined}>
      {writable && (
        <Switch
          size="small"
          checked={on}
          disabled={d.refused !== ""}
          onChange={(e) => onChange(e.target.checked)}
          slotProps={{ input: { "aria-label": d.says } }}
        />
      )}
      <span>
        {d.says}
        {beside.length > 0 && <small>{beside.join("; ")}</small>}
      </span>
    </li>
  );
}
