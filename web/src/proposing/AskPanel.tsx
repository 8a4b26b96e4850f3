import Autocomplete from "@mui/material/Autocomplete";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { useOrganisation } from "../organisation/useOrganisation";
import { PLATFORMS, useCatalogue, useTasks } from "../programs/making/useCatalogue";
import { Many, One } from "../shared/fields";
import styles from "./Propose.module.css";
import { askFirstFor, platformsOf, settle, settledOn } from "./settled";
import type { AskedOf } from "./useProposals";

interface AskPanelProps {
  asked: AskedOf;
  busy: boolean;
  onChange: (asked: AskedOf) => void;
  onAsk: () => void;
}

/** What a proposal is asked for: a platform, what is settled beforehand, how much may be relearned. */
export function AskPanel({ asked, busy, onChange, onAsk }: AskPanelProps) {
  const tasks = useTasks().data?.tasks ?? [];
  const programs = useCatalogue().data?.programs ?? [];
  const departments = useOrganisation().data?.departments ?? [];
  const families = useTasks().data?.families ?? [];
  const named = [...new Map(programs.filter((p) => !p.table).map((p) => [p.id, p])).values()];
  const [task, setTask] = useState("");
  const [keys, setKeys] = useState("");
  const [ban, setBan] = useState("");
  const [banned, setBanned] = useState("");
  const [chosen, setChosen] = useState(asked.platform);
  const platforms = platformsOf(asked);
  const on = platforms.includes(chosen) ? chosen : asked.platform;
  const here = settledOn(asked, on);
  const set = (part: Partial<AskedOf>) => onChange({ ...asked, ...part });
  const onIt = (platform: AskedOf["platform"]) =>
    platforms.length > 1 ? ` on ${PLATFORMS.find((p) => p.id === platform)?.name}` : "";
  const [whole, setWhole] = useState(false);
  const kin = families.find((f) => f.members.includes(task))?.members.filter((m) => m !== task) ?? [];
  const nameOf = (id: string) => tasks.find((t) => t.id === id)?.name ?? id;
  const pin = () => {
    if (!task || !keys.trim()) return;
    const own = { task, keys: keys.trim(), family: kin.length > 0 && whole };
    onChange(settle(asked, on, { pins: [...here.pins.filter((p) => p.task !== task), own] }));
    setTask("");
    setKeys("");
    setWhole(false);
  };
  const addBan = () => {
    if (!ban.trim()) return;
    const without = [...here.without, { task: banned, keys: ban.trim() }];
    onChange(settle(asked, on, banned ? { without } : { bans: [...new Set([...here.bans, ban.trim()])] }));
    setBan("");
    setBanned("");
  };
  return (
    <form
      className={styles.ask}
      aria-label="What is asked for"
      onSubmit={(event) => {
        event.preventDefault();
        onAsk();
      }}
    >
      <p>
        Keys for all tasks of a platform at once: nobody's press stops, families keep their shape, and people relearn as
        little as you can bear. Say what is settled beforehand, if anything.
      </p>
      <span className={styles.narrow}>
        <One
          label="Platform"
          value={asked.platform}
          choices={[...PLATFORMS]}
          onChange={(id) => {
            onChange(askFirstFor(asked, id as AskedOf["platform"]));
          }}
        />
      </span>
      <span className={styles.middle}>
        <Many
          label="Together with"
          value={asked.together}
          choices={PLATFORMS.filter((p) => p.id !== asked.platform)}
          onChange={(ids) => set({ together: ids as AskedOf["together"] })}
        />
      </span>
      <TextField
        label="Keys relearned at most"
        type="number"
        value={asked.budget ?? ""}
        placeholder="any number"
        sx={{ width: 190 }}
        slotProps={{ inputLabel: { shrink: true }, htmlInput: { min: 0, max: 100_000_000 } }}
        onChange={(e) =>
          set({ budget: e.target.value === "" ? null : Math.max(0, Math.round(Number(e.target.value))) })
        }
      />
      <span className={styles.wide}>
        <Many label="Programs left alone" value={asked.spared} choices={named} onChange={(spared) => set({ spared })} />
      </span>
      <span className={styles.wide}>
        <Many
          label="Departments left alone"
          value={asked.departments}
          choices={departments}
          helper={asked.departments.length > 0 ? "Their people press everything as before." : undefined}
          onChange={(ids) => set({ departments: ids })}
        />
      </span>
      <span className={styles.wide}>
        <Many label="Tasks whose line stays" value={asked.kept} choices={tasks} onChange={(kept) => set({ kept })} />
      </span>
      {platforms.length > 1 && (
        <>
          <p>A task gets one shape on all of them as far as that is worth it.</p>
          <span className={styles.narrow}>
            <One
              label="Pin and ban on"
              value={on}
              choices={PLATFORMS.filter((p) => platforms.includes(p.id))}
              onChange={(id) => setChosen(id as AskedOf["platform"])}
            />
          </span>
        </>
      )}
      <fieldset>
        <legend>Pinned: keys that tasks must have</legend>
        <ul>
          {platforms.flatMap((platform) => {
            const own = settledOn(asked, platform);
            return own.pins.map((p) => (
              <li key={`${platform} ${p.task}`}>
                {nameOf(p.task)} <b>{p.keys}</b>
                {p.family && " with its family"}
                {onIt(platform)}
                <Button
                  color="inherit"
                  aria-label={`Unpin ${nameOf(p.task)}${onIt(platform)}`}
                  onClick={() => onChange(settle(asked, platform, { pins: own.pins.filter((o) => o !== p) }))}
                >
                  Unpin
                </Button>
              </li>
            ));
          })}
        </ul>
        <span className={styles.add}>
          <Autocomplete
            size="small"
            sx={{ width: 220 }}
            options={tasks.map((t) => t.id)}
            getOptionLabel={nameOf}
            value={task || null}
            onChange={(_, id) => setTask(id ?? "")}
            renderInput={(props) => <TextField {...props} label="Task" />}
          />
          <TextField label="Its keys" value={keys} sx={{ width: 150 }} onChange={(e) => setKeys(e.target.value)} />
          <Button variant="outlined" color="inherit" disabled={!task || !keys.trim()} onClick={pin}>
            Pin
          </Button>
        </span>
        {kin.length > 0 && (
          <label>
            <input type="checkbox" checked={whole} onChange={(e) => setWhole(e.target.checked)} /> The whole family,{" "}
            {kin.map(nameOf).join(", ")} too
          </label>
        )}
      </fieldset>
      <fieldset>
        <legend>Banned: keys that no task may get, or not one of them</legend>
        <ul>
          {platforms.flatMap((platform) => {
            const own = settledOn(asked, platform);
            const bans = own.bans.map((k) => (
              <li key={`${platform} ${k}`}>
                <b>{k}</b>
                {onIt(platform)}
                <Button
                  color="inherit"
                  aria-label={`Allow ${k}${onIt(platform)}`}
                  onClick={() => onChange(settle(asked, platform, { bans: own.bans.filter((o) => o !== k) }))}
                >
                  Allow
                </Button>
              </li>
            ));
            const without = own.without.map((w) => (
              <li key={`${platform} ${w.task} ${w.keys}`}>
                <span>
                  <b>{w.keys}</b> for {nameOf(w.task)}
                  {onIt(platform)}
                </span>
                <Button
                  color="inherit"
                  aria-label={`Allow ${w.keys} for ${nameOf(w.task)}${onIt(platform)}`}
                  onClick={() => {
                    const left = own.without.filter((o) => o !== w);
                    onChange({ ...settle(asked, platform, { without: left }), beside: null });
                  }}
                >
                  Allow
                </Button>
              </li>
            ));
            return [...bans, ...without];
          })}
        </ul>
        <span className={styles.add}>
          <TextField label="Keys to ban" value={ban} sx={{ width: 150 }} onChange={(e) => setBan(e.target.value)} />
          <Autocomplete
            size="small"
            sx={{ width: 200 }}
            options={tasks.map((t) => t.id)}
            getOptionLabel={nameOf}
            value={banned || null}
            onChange={(_, id) => setBanned(id ?? "")}
            renderInput={(props) => <TextField {...props} label="For one task only" />}
          />
          <Button variant="outlined" color="inherit" disabled={!ban.trim()} onClick={addBan}>
            Ban
          </Button>
        </span>
      </fieldset>
      <div className={styles.go}>
        <Button type="submit" variant="contained" loading={busy}>
          Find the best keys
        </Button>
        <span>
          A worker looks for them, in {asked.together.length > 0 ? "some minutes" : "a minute or two"}; you can leave
          meanwhile.
        </span>
      </div>
    </form>
  );
}
