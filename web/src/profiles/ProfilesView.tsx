import Button from "@mui/material/Button";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { Space } from "../comparing/Space";
import { One } from "../shared/fields";
import { Sheets } from "../shared/Sheets";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import { WorthTold } from "../shared/WorthTold";
import { Approvals } from "./Approvals";
import { Deleting } from "./Deleting";
import { ExportPanel } from "./ExportPanel";
import { Frames } from "./Frames";
import { HistoryLine } from "./HistoryLine";
import { ImportPanel } from "./ImportPanel";
import { AboutProfile, MakeProfile } from "./MakeProfile";
import { ProfileSearch } from "./ProfileSearch";
import styles from "./Profiles.module.css";
import { Releases } from "./Releases";
import { Reserved } from "./Reserved";
import { Abbreviations } from "./sections/Abbreviations";
import { ChangedKeys } from "./sections/ChangedKeys";
import { Entries } from "./sections/Entries";
import { Launchers } from "./sections/Launchers";
import { Macros } from "./sections/Macros";
import { Menus } from "./sections/Menus";
import { Preferences } from "./sections/Preferences";
import { Sets } from "./sections/Sets";
import { Shelves } from "./sections/Shelves";
import { Translations } from "./sections/Translations";
import type { Held } from "./sections/useHeld";
import { useHeld } from "./sections/useHeld";
import { Travels } from "./Travels";
import type { Profile } from "./useProfiles";
import { useNamed, useProfile, useProfileWorth, useRelease } from "./useProfiles";

/** So many profiles can be chosen from a list; more are found by words. */
const FEW = 60;

/** Profiles: what each holds, its history as a line, bundles out and in. */
export function ProfilesView() {
  const named = useNamed();
  const [params, setParams] = useSearchParams();
  const rights = useRights();
  const [making, setMaking] = useState(false);
  const [finding, setFinding] = useState(false);
  const asked = named.data?.find((p) => p.id === params.get("profile"))?.id ?? named.data?.[0]?.id ?? "";
  const found = useProfile(asked);
  const held = useHeld(asked);
  const section = params.get("section") ?? "";
  if (named.isError) return <Trouble error={named.error} again={() => named.refetch()} />;
  if (found.isError) return <Trouble error={found.error} again={() => found.refetch()} />;
  if (!named.data || (asked !== "" && !found.data)) return <Waiting what="the profiles" />;
  const profile = found.data;
  const choose = (id: string) =>
    setParams((old) => {
      const next = new URLSearchParams(old);
      next.set("profile", id);
      return next;
    });
  const maker = making && (
    <MakeProfile
      profiles={named.data}
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
  const { entries, ...others } = counts(profile, held.data?.sections ?? []);
  return (
    <div className={styles.screen}>
      <header>
        <div className={screen.top}>
          <h1>{profile.name}</h1>
          <span>{profile.description}</span>
          <span className={screen.right}>
            {entries} {entries === 1 ? "shortcut" : "shortcuts"}, {others.others} other{" "}
            {others.others === 1 ? "thing" : "things"}
          </span>
          {named.data.length <= FEW && (
            <span className={styles.choice}>
              <One label="Profile" value={profile.id} choices={named.data} onChange={choose} />
            </span>
          )}
          <Button variant="outlined" color="inherit" aria-expanded={finding} onClick={() => setFinding(!finding)}>
            Find a profile
          </Button>
          {make}
        </div>
        {finding && <ProfileSearch onChoose={() => setFinding(false)} />}
        {maker}
        <HistoryLine profile={profile} />
      </header>
      <div className={styles.page}>
        <Frames profile={profile} section={section} />
        <div className={styles.main}>
          {section === "" ? (
            <>
              {entries + others.others === 0 && (
                <Empty title={`${profile.name} sets nothing yet.`}>
                  <p>Decide a clash, fill one of the sections on the left, or bring in a bundle.</p>
                </Empty>
              )}
              <p className={styles.links}>
                <Link to={{ pathname: "/profiles/history", search: `of=profile/${profile.id}` }}>
                  All its revisions
                </Link>
                <Link to={{ pathname: "/profiles/compare", search: `left=profile/${profile.id}` }}>
                  Hold it against another
                </Link>
              </p>
              {entries > 0 && <ProfileWorth profile={profile.id} />}
              <Actions key={`actions ${profile.id}`} profile={profile} />
              <AboutProfile key={`about ${profile.id}`} profile={profile} />
              <Releases />
              <Approvals />
              <ImportPanel key={profile.id} profile={profile} />
              <Deleting profile={profile} onGone={() => choose("")} />
              {rights.administer && <Space />}
            </>
          ) : (
            <SectionView key={`${profile.id} ${section}`} profile={profile} section={section} />
          )}
        </div>
        <Travels profile={profile.id} />
      </div>
    </div>
  );
}

/** How many shortcuts a profile has, and how many things of all other kinds. */
function counts(profile: Profile, sections: { id: string; count: number }[]) {
  const others = sections.filter((s) => s.id !== "entries").reduce((sum, s) => sum + s.count, 0);
  return { entries: profile.entries.length, others };
}

const SECTIONS: Record<string, (held: Held) => React.ReactNode> = {
  shelves: (held) => <Shelves held={held} />,
  menu_groups: (held) => <Menus held={held} />,
  abbreviations: (held) => <Abbreviations held={held} />,
  macros: (held) => <Macros held={held} />,
  launchers: (held) => <Launchers held={held} />,
  remaps: (held) => <ChangedKeys held={held} />,
  translations: (held) => <Translations held={held} />,
  preferences: (held) => <Preferences held={held} />,
  sets: (held) => <Sets held={held} />,
};

/** One section of a profile. */
function SectionView({ profile, section }: { profile: Profile; section: string }) {
  const held = useHeld(profile.id);
  if (held.isError) return <Trouble error={held.error} again={() => held.refetch()} />;
  if (!held.data) return <Waiting what={profile.name} />;
  const name = held.data.sections.find((s) => s.id === section)?.name;
  const shown = SECTIONS[section];
  return (
    <>
      <h2 className={styles.section}>{capital(name ?? "No such section")}</h2>
      {held.data.compiled && (
        <p className={styles.quiet}>It is made from the standard, so it is changed there and not by hand.</p>
      )}
      {section === "entries" && <Entries profile={profile} />}
      {section === "reserved" && <Reserved profile={profile} />}
      {shown?.(held.data)}
      {!name && <p className={styles.quiet}>Choose one on the left.</p>}
    </>
  );
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** What its keys save the people who have it, against what there would be without it. */
function ProfileWorth({ profile }: { profile: string }) {
  const worth = useProfileWorth(profile).data;
  return worth && worth.says.length > 0 ? (
    <section className={styles.worth} aria-label="What its keys are worth">
      <WorthTold worth={worth} />
    </section>
  ) : null;
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
