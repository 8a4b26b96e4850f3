import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useNear } from "../organisation/useOrganisation";
import { type Named, One, OneFound } from "../shared/fields";
import { useSettled } from "../shared/useSettled";
import { Words } from "../shared/Words";
import styles from "./ProfileSearch.module.css";
import { useOffers } from "./sections/useHeld";

const SECTIONS: Named[] = [
  { id: "entries", name: "shortcuts" },
  { id: "shelves", name: "shelves" },
  { id: "menu_groups", name: "menu groups" },
  { id: "abbreviations", name: "abbreviations" },
  { id: "macros", name: "macros" },
  { id: "launchers", name: "launchers" },
  { id: "remaps", name: "changed keys" },
  { id: "translations", name: "translations" },
  { id: "preferences", name: "preferences" },
  { id: "reserved", name: "reserved presses" },
  { id: "sets", name: "sets" },
];

/** Profiles by words, program, person and what they set, however many there are. */
export function ProfileSearch({ onChoose }: { onChoose: () => void }) {
  const programs = useOffers().data ?? [];
  const [params] = useSearchParams();
  const [words, setWords] = useState("");
  const [program, setProgram] = useState("");
  const [section, setSection] = useState("");
  const [person, setPerson] = useState<Named | null>(null);
  const [typed, setTyped] = useState("");
  const near = useNear("people", typed, true);
  const query = { words: useSettled(words, 150), program, section, person: person?.id ?? "" };
  const found = useQuery({
    queryKey: key("profiles", "found", JSON.stringify(query)),
    queryFn: () => answer(api.GET("/api/profiles/found", { params: { query } })),
    placeholderData: keepPreviousData,
  });
  const to = (id: string) => {
    const search = new URLSearchParams(params);
    search.set("profile", id);
    return { pathname: "/profiles", search: search.toString() };
  };
  return (
    <section className={styles.search} aria-label="Find a profile">
      <div className={styles.line}>
        <Words value={words} onChange={setWords} placeholder="name, command, text" width={210} />
        <span className={styles.field}>
          <One label="Sets something of" value={program} none="any program" choices={programs} onChange={setProgram} />
        </span>
        <span className={styles.field}>
          <One label="Has" value={section} none="anything" choices={SECTIONS} onChange={setSection} />
        </span>
        <span className={styles.field}>
          <OneFound
            label="Given to"
            value={person}
            choices={near.map((row) => ({ id: row.id, name: row.cells.name ?? row.id }))}
            onChange={setPerson}
            onWords={setTyped}
          />
        </span>
        <span role="status">
          {found.data && (found.data.total === 1 ? "1 profile" : `${found.data.total} profiles`)}
        </span>
      </div>
      {found.data?.total === 0 && <p>No profile is like that. Take a word or a choice away.</p>}
      <ul aria-label="Profiles found">
        {found.data?.profiles.map((p) => (
          <li key={p.id}>
            <Link to={to(p.id)} onClick={onChoose}>
              {p.name}
            </Link>
            <span>{p.because || p.description}</span>
            <span>
              {p.shortcuts} {p.shortcuts === 1 ? "shortcut" : "shortcuts"}
              {p.others > 0 && `, ${p.others} other ${p.others === 1 ? "thing" : "things"}`}
            </span>
            <span>{p.people === 1 ? "1 person" : `${p.people} people`}</span>
            <span>{p.released ? "as released" : "not released yet"}</span>
          </li>
        ))}
      </ul>
      {found.data && found.data.total > found.data.profiles.length && (
        <p>The first {found.data.profiles.length} are shown. Say more to find others.</p>
      )}
    </section>
  );
}
