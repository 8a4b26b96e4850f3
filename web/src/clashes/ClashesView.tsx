import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useEffect, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { useLens } from "../app/lens";
import screen from "../app/screen.module.css";
import { Empty, Trouble, Waiting } from "../app/states";
import { useShownOnStrip } from "../keyboard/strip";
import styles from "./Clashes.module.css";
import { ClashRow } from "./ClashRow";
import { Decided } from "./Decided";
import { STATIONS } from "./stations";
import type { Group } from "./useClashes";
import { useClashes } from "./useClashes";

type Tab = "open" | "allowed" | "decided";

/** Where presses stop: one row a group, its press running through the stations to where it is taken. */
export function ClashesView() {
  const [lens] = useLens();
  const clashes = useClashes(lens?.setup.setup, lens?.everywhere ?? false);
  const [params, setParams] = useSearchParams();
  const tab = (params.get("show") ?? "open") as Tab;
  const at = params.get("clash");
  const set = (name: string, value: string | null) =>
    setParams(
      (old) => {
        const next = new URLSearchParams(old);
        if (value) next.set(name, value);
        else next.delete(name);
        return next;
      },
      { replace: name === "clash" },
    );
  if (clashes.isError) return <Trouble error={clashes.error} again={() => clashes.refetch()} />;
  if (!clashes.data || !lens) return <Waiting what="the clashes" />;
  const open = clashes.data.groups.filter((g) => g.allowed === null);
  const allowed = clashes.data.groups.filter((g) => g.allowed !== null);
  return (
    <>
      <div className={screen.top}>
        <h1>Where presses stop</h1>
        <span role="status">
          <b>{open.length}</b> {open.length === 1 ? "group" : "groups"} to decide, <b>{clashes.data.people}</b> people,{" "}
          {clashes.data.setups} {clashes.data.setups === 1 ? "setup" : "setups"}
        </span>
        <span className={screen.right}>
          <ToggleButtonGroup
            exclusive
            size="small"
            value={tab}
            onChange={(_, next: Tab | null) => next && set("show", next === "open" ? null : next)}
            aria-label="Which clashes"
          >
            <ToggleButton value="open">To decide {open.length}</ToggleButton>
            <ToggleButton value="allowed">Allowed {allowed.length}</ToggleButton>
            <ToggleButton value="decided">Decided {clashes.data.decided.length}</ToggleButton>
          </ToggleButtonGroup>
        </span>
      </div>
      {tab === "decided" ? (
        <Decided decided={clashes.data.decided} />
      ) : (
        <Rows groups={tab === "open" ? open : allowed} tab={tab} at={at} setAt={(id) => set("clash", id)} />
      )}
    </>
  );
}

interface RowsProps {
  groups: Group[];
  tab: "open" | "allowed";
  at: string | null;
  setAt: (identity: string | null) => void;
}

function Rows({ groups, tab, at, setAt }: RowsProps) {
  const list = useRef<HTMLUListElement>(null);
  const [place, setPlace] = useState(0);
  const most = Math.max(1, ...groups.map((g) => g.people));
  const chosen = groups.find((g) => g.identity === at);
  useShownOnStrip(chosen?.stroke?.modifiers ?? null, chosen?.stroke?.code ?? null, chosen?.subject.command_name ?? "");
  const before = useRef(groups.length);
  useEffect(() => {
    const gone = groups.length < before.current;
    before.current = groups.length;
    // The row that was decided is gone: the one in its place takes the focus, so that the keyboard goes on.
    if (gone && groups.length > 0 && document.activeElement === document.body) {
      const next = Math.min(place, groups.length - 1);
      list.current?.querySelectorAll<HTMLElement>("[data-row]")[next]?.focus();
    }
  }, [groups.length, place]);
  if (groups.length === 0) {
    return tab === "open" ? (
      <Empty title="Every press gets where it was meant to go, through this lens.">
        <p>Choose another setup in the lens above, or export what was decided from Profiles.</p>
      </Empty>
    ) : (
      <Empty title="Nothing is allowed through this lens.">
        <p>A clash that may stay is allowed with a reason and an end; it is listed here until then.</p>
      </Empty>
    );
  }
  const move = (event: React.KeyboardEvent) => {
    if (event.key !== "ArrowDown" && event.key !== "ArrowUp") return;
    if (!(event.target instanceof HTMLElement) || !event.target.matches("[data-row]")) return;
    event.preventDefault();
    const next = Math.min(groups.length - 1, Math.max(0, place + (event.key === "ArrowDown" ? 1 : -1)));
    setPlace(next);
    list.current?.querySelectorAll<HTMLElement>("[data-row]")[next]?.focus();
  };
  return (
    <>
      <div className={`${styles.g} ${screen.heads}`} aria-hidden="true">
        <span>Press</span>
        <span>Was meant for</span>
        {STATIONS.map((s) => (
          <span key={s.id}>
            {s.name}
            <small>{s.more}</small>
          </span>
        ))}
        <span>People</span>
      </div>
      <ul ref={list} onKeyDown={move} aria-label="Clashes">
        {groups.map((g, n) => (
          <ClashRow
            key={g.identity}
            group={g}
            open={g.identity === at}
            most={most}
            inTabOrder={n === Math.min(place, groups.length - 1)}
            onFocus={() => setPlace(n)}
            onToggle={() => setAt(g.identity === at ? null : g.identity)}
          />
        ))}
      </ul>
    </>
  );
}
