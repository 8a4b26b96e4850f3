import Button from "@mui/material/Button";
import { useState } from "react";
import { Caps } from "../../keyboard/Caps";
import { One } from "../../shared/fields";
import { Empty } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import { Draft } from "./Draft";
import { KeyField } from "./KeyField";
import styles from "./Sections.module.css";
import type { Held } from "./useHeld";
import { useOffering, useOffers, useSaveItems } from "./useHeld";

/** Presses that become others in the window of a program, before it hears of them. */
export function Translations({ held }: { held: Held }) {
  const rights = useRights();
  const may = rights.edit && !held.compiled;
  const save = useSaveItems(held.profile, "translations");
  return (
    <>
      {held.translations.length === 0 && (
        <Empty title={`${held.name} translates no press.`}>
          <p>In one program's window a press becomes another one, closes the window, or starts a launcher.</p>
        </Empty>
      )}
      <ul className={styles.rows} aria-label="Translations">
        {held.translations.map((t) => (
          <li key={t.key}>
            <span>
              <b>{t.program_name}</b>
              <br />
              <span className={styles.quiet}>
                {t.scope_name || "everywhere in it"}, {t.platform_name}
              </span>
            </span>
            <span>
              <Caps shortcut={t.keys} />{" "}
              {t.becomes ? (
                <>
                  becomes <Caps shortcut={t.becomes} />
                </>
              ) : (
                t.does
              )}
            </span>
            {may && (
              <Button size="small" color="inherit" onClick={() => save.mutate([{ key: t.key, item: null }])}>
                Take out
                <span className="unseen">
                  {" "}
                  {t.keys.words} in {t.program_name}
                </span>
              </Button>
            )}
          </li>
        ))}
      </ul>
      {may && <NewTranslation held={held} />}
    </>
  );
}

const DOES = [
  { id: "becomes", name: "becomes another press" },
  { id: "closes", name: "closes the window" },
  { id: "starts", name: "starts a launcher" },
];

function NewTranslation({ held }: { held: Held }) {
  const programs = useOffers().data ?? [];
  const [program, setProgram] = useState("");
  const offering = useOffering(program).data;
  const [scope, setScope] = useState("");
  const [platform, setPlatform] = useState("");
  const [keys, setKeys] = useState("");
  const [does, setDoes] = useState("becomes");
  const [becomes, setBecomes] = useState("");
  const [starts, setStarts] = useState("");
  const launchers = held.launchers.map((v) => ({ id: v.key, name: v.name }));
  const ends = { becomes: { becomes }, closes: { closes: true }, starts: { starts } }[does];
  const ready = keys !== "" && (does === "closes" || (does === "becomes" ? becomes !== "" : starts !== ""));
  const on = offering?.platforms.some((p) => p.id === platform) ? platform : (offering?.platforms[0]?.id ?? "");
  const item = { program, platform: on, keys, ...ends, ...(scope ? { scope } : {}) };
  const stands = held.translations.find(
    (t) =>
      t.item.keys === keys && t.item.program === program && (t.item.scope ?? "") === scope && t.item.platform === on,
  );
  const leave = () => {
    setProgram("");
    setKeys("");
    setStarts("");
    setBecomes("");
    setScope("");
  };
  return (
    <section className={styles.form} aria-label="Translate a press">
      <h3>Translate a press</h3>
      <div className={styles.line}>
        <span className={styles.field}>
          <One
            label="In the window of"
            value={program}
            none="no program yet"
            choices={programs}
            onChange={setProgram}
          />
        </span>
        {offering && (
          <>
            <span className={styles.field}>
              <One label="On" value={on} choices={offering.platforms} onChange={setPlatform} />
            </span>
            <span className={styles.field}>
              <One
                label="While the focus is in"
                value={scope}
                none="any part"
                choices={offering.scopes}
                onChange={setScope}
              />
            </span>
          </>
        )}
      </div>
      {offering && (
        <div className={styles.line}>
          <KeyField label="This press" platform={on} program={program} value={keys} onChange={setKeys} />
          <span className={styles.field}>
            <One label="It" value={does} choices={DOES} onChange={setDoes} />
          </span>
          {does === "becomes" && (
            <KeyField label="becomes" platform={on} program={program} value={becomes} onChange={setBecomes} />
          )}
          {does === "starts" && (
            <span className={styles.field}>
              <One
                label="starts"
                value={starts}
                none="none of its launchers"
                choices={launchers}
                onChange={setStarts}
              />
            </span>
          )}
        </div>
      )}
      {ready && (
        <Draft
          profile={held.profile}
          section="translations"
          wishes={[{ key: stands?.key ?? null, item }]}
          onLeave={leave}
          onSaved={leave}
        />
      )}
    </section>
  );
}
