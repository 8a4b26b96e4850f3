import Button from "@mui/material/Button";
import Switch from "@mui/material/Switch";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { Space } from "../comparing/Space";
import { useOrganisation } from "../organisation/useOrganisation";
import { One } from "../shared/fields";
import { useLenses } from "../shared/lens";
import { Sheets } from "../shared/Sheets";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import { Approvals } from "./Approvals";
import { Deleting } from "./Deleting";
import { ExportPanel } from "./ExportPanel";
import { HistoryLine } from "./HistoryLine";
import { ImportPanel } from "./ImportPanel";
import { AboutProfile, MakeProfile } from "./MakeProfile";
import styles from "./Profiles.module.css";
import { Releases } from "./Releases";
import { Reserved } from "./Reserved";
import type { Profile } from "./useProfiles";
import { useHold, useProfiles, useRelease } from "./useProfiles";

/** Profiles: what each holds, its history as a line, bundles out and in. */
export function ProfilesView() {
  const profiles = useProfiles();
  const [params, setParams] = useSearchParams();
  const rights = useRights();
  const [making, setMaking] = useState(false);
  if (profiles.isError) return <Trouble error={profiles.error} again={() => profiles.refetch()} />;
  if (!profiles.data) return <Waiting what="the profiles" />;
  const profile = profiles.data.find((p) => p.id === params.get("profile")) ?? profiles.data[0];
  const choose = (id: string) =>
    setParams((old) => {
      const next = new URLSearchParams(old);
      next.set("profile", id);
      return next;
    });
  const maker = making && (
    <MakeProfile
      profiles={profiles.data}
      onMade={(id) => {
        setMaking(false);
        choose(id);
      }}
      onLeave={() => setMaking(false)}
    />
  );
  const make = rights.edit && (
    <Button variant="outlined" color="inherit" aria-expanded={making} onClick={() => setMaking(!making)}>
      Make a profile
    </Button>
  );
  if (!profile) {
    return (
      <>
        {maker || (
          <Empty whole title="There is no profile yet.">
            <p>A profile holds what is set otherwise than programs ship it, for everybody or for some.</p>
            {make}
          </Empty>
        )}
        {/* People, machines and programs wait for release all the same. */}
        <Releases />
        <Approvals />
      </>
    );
  }
  return (
    <div className={styles.page}>
      <div className={styles.main}>
        <div className={screen.top}>
          <h1>{profile.name}</h1>
          <span>{profile.description}</span>
          <span className={`${screen.right} ${styles.choice}`}>
            <One label="Profile" value={profile.id} choices={profiles.data} onChange={choose} />
          </span>
          {make}
        </div>
        {maker}
        <HistoryLine profile={profile} />
        <p className={styles.links}>
          <Link to={{ pathname: "/profiles/history", search: `of=profile/${profile.id}` }}>All its revisions</Link>
          <Link to={{ pathname: "/profiles/compare", search: `left=profile/${profile.id}` }}>
            Hold it against another
          </Link>
        </p>
        <Actions key={`actions ${profile.id}`} profile={profile} />
        <AboutProfile key={`about ${profile.id}`} profile={profile} />
        <Releases />
        <Approvals />
        <ImportPanel key={profile.id} profile={profile} />
        <Entries profile={profile} />
        <Reserved key={`reserved ${profile.id}`} profile={profile} />
        <Deleting profile={profile} onGone={() => choose("")} />
        {rights.administer && <Space />}
      </div>
      <Lands profile={profile} />
    </div>
  );
}

function Actions({ profile }: { profile: Profile }) {
  const rights = useRights();
  const [exporting, setExporting] = useState(false);
  const release = useRelease(profile.id, profile.released ?? null);
  const waiting = profile.released !== profile.newest;
  return (
    <>
      <div className={styles.actions}>
        {profile.own ? (
          <span>One person's own: it stays here.</span>
        ) : (
          <Button variant="outlined" aria-expanded={exporting} onClick={() => setExporting(!exporting)}>
            Export as a bundle
          </Button>
        )}
        <Sheets sheets={[{ name: `${profile.name}, its shortcuts`, path: `/api/profiles/${profile.id}/sheet` }]} />
        {rights.release && (
          <Button
            variant={waiting ? "contained" : "outlined"}
            disabled={!waiting}
            loading={release.isPending}
            onClick={() => release.mutate(profile.newest)}
          >
            Release revision {profile.newest}
          </Button>
        )}
        <span>
          {waiting
            ? profile.released
              ? `Machines are still given revision ${profile.released}.`
              : "Machines are given none of it yet."
            : "The newest revision is the released one."}
        </span>
      </div>
      {exporting && <ExportPanel profile={profile} onLeave={() => setExporting(false)} />}
    </>
  );
}

function Entries({ profile }: { profile: Profile }) {
  const rights = useRights();
  const hold = useHold(profile.id);
  if (profile.entries.length === 0) {
    return (
      <Empty title={`${profile.name} sets nothing yet.`}>
        <p>Decide a clash, give a command a shortcut, or bring in a bundle: each becomes an entry here.</p>
      </Empty>
    );
  }
  return (
    <table className={styles.entries}>
      <caption className="unseen">Entries of {profile.name}</caption>
      <thead>
        <tr>
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
  );
}

const SHOWN = 5;

function peopleInWords(count: number): string {
  return count === 1 ? "1 person" : `${count} people`;
}

/** The layers as nested frames: where the profile's entries land. */
function Lands({ profile }: { profile: Profile }) {
  const setups = useLenses().data?.filter((s) => s.layers.includes(profile.name)) ?? [];
  // Who is in two setups counts once, which only the server can tell.
  const people = useOrganisation().data?.all_profiles.find((p) => p.id === profile.id)?.people ?? 0;
  return (
    <aside className={styles.lands} aria-label="Where it lands">
      <h2>Where it lands</h2>
      <div className={styles.frame}>
        <b>Programs' defaults</b>
        <span>what the makers ship</span>
        <div className={`${styles.frame} ${styles.here}`}>
          <b>{profile.name}</b>
          <span>
            {profile.entries.length} {profile.entries.length === 1 ? "entry" : "entries"}, {peopleInWords(people)}
          </span>
          {setups.slice(0, SHOWN).map((s) => (
            <div key={s.setup} className={styles.frame}>
              <b>{s.name}</b>
              <span>
                {peopleInWords(s.people)}, {s.system}, {s.layout_name} keyboard
              </span>
            </div>
          ))}
          {setups.length > SHOWN && <span>and {setups.length - SHOWN} setups more</span>}
          {setups.length === 0 && <span>No setup stands on it yet.</span>}
        </div>
      </div>
    </aside>
  );
}
