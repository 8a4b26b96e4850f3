import type { KeyboardEvent } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { useOrganisation } from "../organisation/useOrganisation";
import { useLenses } from "../shared/lens";
import styles from "./Frames.module.css";
import { useHeld } from "./sections/useHeld";
import type { Profile } from "./useProfiles";

const SHOWN = 4;

function peopleInWords(count: number): string {
  return count === 1 ? "1 person" : `${count} people`;
}

interface FramesProps {
  profile: Profile;
  section: string;
}

/** The layers as nested frames, with what this one holds: what lies beneath, this profile, and who has it. */
export function Frames({ profile, section }: FramesProps) {
  const held = useHeld(profile.id).data;
  const setups = useLenses().data?.filter((s) => s.layer_ids.includes(profile.id)) ?? [];
  const known = useOrganisation().data?.all_profiles;
  const nameOf = (id: string) => known?.find((p) => p.id === id)?.name ?? id;
  // Who is in two setups counts once, which only the server can tell.
  const people = known?.find((p) => p.id === profile.id)?.people ?? 0;
  const beneath = commonLayers(
    setups.map((s) => s.layer_ids.slice(0, s.layer_ids.indexOf(profile.id))),
    setups.length,
  );
  const above = new Set(setups.flatMap((s) => s.layer_ids.slice(s.layer_ids.indexOf(profile.id) + 1)));
  const within = (
    <div className={`${styles.frame} ${styles.here}`}>
      <b>{profile.name}</b>
      <Sections profile={profile} section={section} counts={held?.sections ?? []} />
      <div className={styles.frame}>
        <b>{setups.length === 0 ? "Nobody has it yet" : peopleInWords(people)}</b>
        {setups.slice(0, SHOWN).map((s) => (
          <span key={s.setup}>
            {s.name}: {peopleInWords(s.people)}
          </span>
        ))}
        {setups.length > SHOWN && <span>and {setups.length - SHOWN} setups more</span>}
        {above.size > 0 && (
          <span>
            Nearer to some of them: {[...above].slice(0, SHOWN).map(nameOf).join(", ")}
            {above.size > SHOWN && ` and ${above.size - SHOWN} more`}
          </span>
        )}
      </div>
    </div>
  );
  return (
    <nav className={styles.frames} aria-label="Where it lands">
      <div className={styles.frame}>
        <b>As programs are shipped</b>
        {beneath.reduceRight(
          (inner, id) => (
            <div key={id} className={styles.frame}>
              <b>{nameOf(id)}</b>
              {inner}
            </div>
          ),
          within,
        )}
      </div>
    </nav>
  );
}

/** The layers that lie beneath on every setup, in their order. */
function commonLayers(layers: string[][], setups: number): string[] {
  const first = layers[0] ?? [];
  return setups === 0 ? [] : first.filter((id) => layers.every((own) => own.includes(id)));
}

interface SectionsProps {
  profile: Profile;
  section: string;
  counts: Schemas["HeldSectionOut"][];
}

function Sections({ profile, section, counts }: SectionsProps) {
  const [params] = useSearchParams();
  const to = (next: string) => {
    const search = new URLSearchParams(params);
    search.set("profile", profile.id);
    if (next) search.set("section", next);
    else search.delete("section");
    return { pathname: "/profiles", search: search.toString() };
  };
  return (
    <ul className={styles.sections} aria-label={`Sections of ${profile.name}`} onKeyDown={walk}>
      <li>
        <Link to={to("")} aria-current={section === "" ? "page" : undefined} tabIndex={section === "" ? 0 : -1}>
          Release and bundles
        </Link>
      </li>
      {counts.map((s) => (
        <li key={s.id}>
          <Link
            to={to(s.id)}
            aria-current={section === s.id ? "page" : undefined}
            tabIndex={section === s.id ? 0 : -1}
            className={s.count === 0 ? styles.empty : undefined}
          >
            {s.says}
          </Link>
        </li>
      ))}
    </ul>
  );
}

/** Arrows lead from link to link. */
function walk(event: KeyboardEvent<HTMLUListElement>) {
  const by = { ArrowUp: -1, ArrowDown: 1 }[event.key];
  if (!by) return;
  const links = [...event.currentTarget.querySelectorAll("a")];
  const at = links.indexOf(document.activeElement as HTMLAnchorElement);
  links[Math.min(Math.max(at + by, 0), links.length - 1)]?.focus();
  event.preventDefault();
}
