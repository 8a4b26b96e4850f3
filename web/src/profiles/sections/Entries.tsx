import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { answer, api } from "../../api/client";
import { key } from "../../api/keys";
import { useOrganisation } from "../../organisation/useOrganisation";
import { Refusal } from "../../shared/Consequences";
import { Many, One } from "../../shared/fields";
import { Empty } from "../../shared/states";
import { useDone } from "../../shared/useDone";
import { useRights } from "../../shared/useSession";
import { Would } from "../../shared/Would";
import table from "../Profiles.module.css";
import type { Profile } from "../useProfiles";
import { useHold } from "../useProfiles";
import { Draft } from "./Draft";
import styles from "./Sections.module.css";

/** The shortcuts of commands: locked, chosen and carried elsewhere, tidied of what changes nothing. */
export function Entries({ profile }: { profile: Profile }) {
  const rights = useRights();
  const hold = useHold(profile.id);
  const [chosen, setChosen] = useState<string[]>([]);
  const [carrying, setCarrying] = useState(false);
  const [removing, setRemoving] = useState(false);
  const done = () => {
    setChosen([]);
    setCarrying(false);
    setRemoving(false);
  };
  if (profile.entries.length === 0) {
    return (
      <Empty title={`${profile.name} sets nothing yet.`}>
        <p>Decide a clash, give a command a shortcut, or bring in a bundle: each becomes an entry here.</p>
      </Empty>
    );
  }
  const choose = (k: string) => setChosen(chosen.includes(k) ? chosen.filter((c) => c !== k) : [...chosen, k]);
  return (
    <>
      {rights.edit && <Spare profile={profile} onChoose={setChosen} />}
      {rights.edit && chosen.length > 0 && (
        <section className={styles.form} aria-label="With those chosen">
          <div className={styles.bar}>
            <span role="status">{chosen.length === 1 ? "1 shortcut" : `${chosen.length} shortcuts`} chosen</span>
            <Button variant="outlined" aria-expanded={carrying} onClick={() => setCarrying(!carrying)}>
              Move or copy them
            </Button>
            <Button variant="outlined" color="inherit" onClick={() => setRemoving(true)}>
              Take them out
            </Button>
            <Button color="inherit" onClick={done}>
              Choose none
            </Button>
          </div>
          {carrying && <Carry profile={profile} keys={chosen} onDone={done} />}
          {removing && (
            <Draft
              profile={profile.id}
              section="entries"
              wishes={chosen.map((k) => ({ key: k, item: null }))}
              onLeave={() => setRemoving(false)}
              onSaved={done}
            />
          )}
        </section>
      )}
      <table className={table.entries}>
        <caption className="unseen">Entries of {profile.name}</caption>
        <thead>
          <tr>
            {rights.edit && (
              <th scope="col">
                <span className="unseen">Chosen</span>
              </th>
            )}
            <th scope="col">Command</th>
            <th scope="col">Program</th>
            <th scope="col">On</th>
            <th scope="col">Shortcut</th>
            <th scope="col">Instead of</th>
            <th scope="col">Locked</th>
          </tr>
        </thead>
        <tbody>
          {profile.entries.map((e) => (
            <tr key={e.key}>
              {rights.edit && (
                <td>
                  <Checkbox
                    size="small"
                    checked={chosen.includes(e.key)}
                    onChange={() => choose(e.key)}
                    slotProps={{ input: { "aria-label": `Choose ${e.command} on ${e.platform}` } }}
                  />
                </td>
              )}
              <th scope="row">
                {e.command}
                {e.orphan && <em> isn't there any more</em>}
              </th>
              <td>{e.program}</td>
              <td>
                {e.platform}
                {e.layouts.length > 0 && `, ${e.layouts.join(", ")}`}
              </td>
              <td>{e.shortcuts.join(" and ") || "none"}</td>
              <td>{e.over.join(" and ") || "none"}</td>
              <td>
                <Switch
                  checked={e.locked}
                  disabled={!rights.edit || hold.isPending}
                  onChange={() => hold.mutate({ lock: { key: e.key, locked: !e.locked } })}
                  slotProps={{ input: { "aria-label": `Nearer layers can't change ${e.command} on ${e.platform}` } }}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

/** Entries that say what holds without them: chosen all at once. */
function Spare({ profile, onChoose }: { profile: Profile; onChoose: (keys: string[]) => void }) {
  const spare = useQuery({
    queryKey: key("profiles", "spare", profile.id),
    queryFn: () =>
      answer(api.GET("/api/profiles/{profile_id}/entries/spare", { params: { path: { profile_id: profile.id } } })),
  });
  const found = spare.data ?? [];
  if (found.length === 0) return null;
  return (
    <details className={styles.form}>
      <summary>
        {found.length === 1 ? "1 shortcut changes nothing" : `${found.length} shortcuts change nothing`}: they say what
        holds without them
      </summary>
      <ul className={styles.lines}>
        {found.map((s) => (
          <li key={s.key}>
            <span>
              <b>{s.command}</b> in {s.program} on {s.platform}: {s.keys.join(" and ") || "none"}
            </span>
            <span>{s.same_as ? `${s.same_as} says the same` : "the maker ships it so"}</span>
          </li>
        ))}
      </ul>
      <Button variant="outlined" onClick={() => onChoose(found.map((s) => s.key))}>
        Choose all of them
      </Button>
    </details>
  );
}

interface CarryProps {
  profile: Profile;
  keys: string[];
  onDone: () => void;
}

/** Chosen entries to another profile, or to other layouts, with what that changes for whom. */
function Carry({ profile, keys, onDone }: CarryProps) {
  const organisation = useOrganisation().data;
  const [to, setTo] = useState("");
  const [layouts, setLayouts] = useState<string[]>([]);
  const [stay, setStay] = useState(false);
  const [over, setOver] = useState(false);
  const params = { path: { profile_id: profile.id } };
  const asked = { keys, to, layouts: layouts.length > 0 ? layouts : null, stay, over };
  const ready = to !== "" && (to !== profile.id || layouts.length > 0);
  const plan = useQuery({
    queryKey: key("plan", "carry", profile.id, JSON.stringify(asked)),
    queryFn: () => answer(api.POST("/api/profiles/{profile_id}/entries/carry/plan", { params, body: asked })),
    enabled: ready,
    retry: false,
  });
  const carry = useDone(
    (body: Schemas["CarryIn"]) => answer(api.POST("/api/profiles/{profile_id}/entries/carry", { params, body })),
    { onDone },
  );
  const names = new Map(organisation?.platforms.flatMap((p) => p.layouts).map((l) => [l.id, l]));
  return (
    <div className={styles.draft}>
      <div className={styles.line}>
        <span className={styles.wide}>
          <One
            label="To the profile"
            value={to}
            choices={(organisation?.all_profiles ?? []).map((p) => ({
              id: p.id,
              name: p.id === profile.id ? `${p.name}, for other layouts` : p.name,
            }))}
            onChange={setTo}
          />
        </span>
        <span className={styles.long}>
          <Many
            label="For these layouts, if not as they are"
            value={layouts}
            choices={[...names.values()]}
            onChange={setLayouts}
          />
        </span>
        <FormControlLabel
          control={<Switch checked={stay} onChange={(e) => setStay(e.target.checked)} />}
          label="They stay here too"
        />
        {(plan.data?.stands.length ?? 0) > 0 && (
          <FormControlLabel
            control={<Switch checked={over} onChange={(e) => setOver(e.target.checked)} />}
            label="Replace what stands there"
          />
        )}
      </div>
      {plan.isError && <Refusal error={plan.error} />}
      {ready && plan.data && (
        <>
          {plan.data.stands.length > 0 && <p>There already: {plan.data.stands.join("; ")}.</p>}
          <ul className={styles.lines} aria-label="Who relearns what">
            {plan.data.relearn.map((r) => (
              <li key={r.says.join()}>
                <span>{r.says.join("; ")}</span>
                <span>{r.people === 1 ? "1 person" : `${r.people} people`}</span>
              </li>
            ))}
          </ul>
          {plan.data.relearn.length === 0 && <p>Nobody relearns anything.</p>}
          <Would would={plan.data.would} error={null} />
        </>
      )}
      <div className={styles.bar}>
        <Button
          variant="contained"
          disabled={!ready || !plan.data || plan.isError || (plan.data.stands.length > 0 && !over)}
          loading={carry.isPending}
          onClick={() => carry.mutate(asked)}
        >
          {stay ? "Copy" : "Move"} {keys.length === 1 ? "1 shortcut" : `${keys.length} shortcuts`}
        </Button>
        <span>One undo takes it back.</span>
      </div>
    </div>
  );
}
