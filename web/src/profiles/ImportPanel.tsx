import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import { useDeferredValue, useRef, useState } from "react";
import { One } from "../shared/fields";
import { wordsOf } from "../shared/Says";
import { useRights } from "../shared/useSession";
import { Would } from "../shared/Would";
import styles from "./Profiles.module.css";
import type { Coming, How, Preview, Way } from "./useExchange";
import { useImportPlan, usePreview, useTake } from "./useExchange";
import type { Profile } from "./useProfiles";

const MERGE = { id: "merge", name: "only what was done there since" };
const HOWS = [
  { id: "add", name: "add and change" },
  { id: "missing", name: "add only what is missing here" },
  { id: "replace", name: "replace: remove what it lacks" },
];

/** Bringing in a bundle or a program's settings file: what it would do is told in sentences, each to take or to leave. */
export function ImportPanel({ profile }: { profile: Profile }) {
  const input = useRef<HTMLInputElement>(null);
  const [coming, setComing] = useState<Coming | null>(null);
  // At first the server chooses the usual way for what the file is.
  const [asked, setAsked] = useState<How | "">("");
  const preview = usePreview(profile.id);
  const how = (preview.data?.how ?? asked) || "add";
  const look = (next: Coming | null, way: How | "") => {
    setComing(next);
    setAsked(way);
    if (next) preview.mutate({ ...next, how: way });
    else preview.reset();
  };
  const leave = () => {
    look(null, "");
    if (input.current) input.current.value = "";
  };
  const ways = preview.data?.ways ?? [];
  const profiles = preview.data?.profiles ?? [];
  return (
    <section className={styles.import} aria-label="Bring in a bundle or a settings file">
      <div className={styles.actions}>
        <Button variant="outlined" onClick={() => input.current?.click()}>
          Bring in a bundle or a settings file
        </Button>
        <input
          ref={input}
          type="file"
          hidden
          aria-hidden="true"
          tabIndex={-1}
          onChange={(e) => {
            const [file] = e.target.files ?? [];
            look(file ? { file } : null, "");
          }}
        />
        <span>{coming ? coming.file.name : "What it would do is shown first; nothing is taken unseen."}</span>
      </div>
      {coming && preview.data && (
        <div className={styles.choices}>
          {ways.length > 0 && (
            <One
              label="Read as the file of"
              value={keyOf(preview.data.way)}
              choices={ways.map((w) => ({ id: keyOf(w), name: w.name }))}
              onChange={(id) => look({ file: coming.file, way: ways.find((w) => keyOf(w) === id) }, asked)}
            />
          )}
          {profiles.length > 1 && (
            <One
              label="Which profile"
              value={preview.data.part}
              choices={profiles}
              onChange={(id) => look({ file: coming.file, part: id }, "")}
            />
          )}
          <One
            label="How"
            value={how}
            choices={preview.data.made_from || how === "merge" ? [MERGE, ...HOWS] : HOWS}
            onChange={(id) => look(coming, id as How)}
          />
        </div>
      )}
      {preview.isError && (
        <Alert severity="error" icon={false} variant="outlined">
          {wordsOf(preview.error).join(" ")}
        </Alert>
      )}
      {coming && preview.data && (
        <Differences
          key={`${coming.file.name}${asked}${preview.submittedAt}`}
          profile={profile}
          preview={preview.data}
          coming={coming}
          how={how}
          onDone={leave}
        />
      )}
    </section>
  );
}

function keyOf(way: Way | null | undefined): string {
  return way ? `${way.program} ${way.platform} ${way.number}` : "";
}

/** What came: from whom, whether that can be believed, and what of it is not here. */
function About({ preview, profile, how }: { preview: Preview; profile: Profile; how: How }) {
  const refused = preview.differences.filter((d) => d.refused).length;
  const count = (does: string) => preview.differences.filter((d) => d.does === does && !d.refused).length;
  const { signer } = preview;
  return (
    <>
      <p>
        <b>{preview.bundle}</b>
        {preview.way ? `, read as the file of ${preview.way.name}` : `, made by ${preview.made_by || "nobody named"}`}:
        adds {count("adds")}, changes {count("changes")}, removes {count("removes")}, leaves {preview.unchanged} as they
        are
        {refused > 0 && `, ${refused} can't be taken`}.
      </p>
      {signer && (
        <p className={signer.state === "known" ? undefined : styles.doubt}>
          {signer.says}
          {signer.state === "unknown" && <span className={styles.mono}> {signer.fingerprint}</span>}
        </p>
      )}
      {preview.sections.length > 0 && (
        <p>Only its {preview.sections.join(", ")} travelled; it is silent about the rest.</p>
      )}
      {how === "merge" && (
        <p>
          It was made from what {profile.name} was at revision {preview.made_from}. What was done here since stays.
        </p>
      )}
      <Folded title={`${preview.unread.length} lines of it are left alone`} lines={preview.unread} />
      <Folded title="What it needs first" lines={preview.needs} />
      <Folded title="What stayed there" lines={preview.stays.map((s) => `${s.what}: ${s.why}`)} />
    </>
  );
}

export function Folded({ title, lines }: { title: string; lines: string[] }) {
  if (lines.length === 0) return null;
  return (
    <details className={styles.folded}>
      <summary>{title}</summary>
      <ul>
        {lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
    </details>
  );
}

interface DifferencesProps {
  profile: Profile;
  preview: Preview;
  coming: Coming;
  how: How;
  onDone: () => void;
}

function Differences({ profile, preview, coming, how, onDone }: DifferencesProps) {
  const takeable = preview.differences.filter((d) => !d.refused);
  // What would give up something that was done here is only taken when somebody says so.
  const [chosen, setChosen] = useState(() => new Set(takeable.filter((d) => !d.against).map((d) => d.key)));
  const rights = useRights();
  const take = useTake(profile.id);
  const would = useImportPlan(profile.id, coming, how, useDeferredValue([...chosen]));
  const refused = preview.differences.filter((d) => d.refused);
  const set = (key: string, on: boolean) => {
    const next = new Set(chosen);
    if (on) next.add(key);
    else next.delete(key);
    setChosen(next);
  };
  return (
    <>
      <About preview={preview} profile={profile} how={how} />
      {[...new Set(takeable.map((d) => d.means))].map((means) => {
        const found = takeable.filter((d) => d.means === means);
        return (
          <div key={means}>
            <h2 className={styles.group}>{found[0]?.title}</h2>
            <ul>
              {found.map((d) => (
                <li key={d.key} className={styles.difference}>
                  <FormControlLabel
                    control={<Switch checked={chosen.has(d.key)} onChange={(e) => set(d.key, e.target.checked)} />}
                    label={d.nothing ? `${d.says} (${d.nothing})` : d.says}
                  />
                  {d.against && <small>Here, since: {d.against} Taking it gives that up.</small>}
                </li>
              ))}
            </ul>
          </div>
        );
      })}
      {refused.length > 0 && (
        <div>
          <h2 className={styles.group}>Can't be taken here</h2>
          <ul>
            {refused.map((d) => (
              <li key={d.key} className={styles.difference}>
                {d.says} <b>{d.refused}</b>
              </li>
            ))}
          </ul>
        </div>
      )}
      <div className={styles.actions}>
        {rights.edit ? (
          <Button
            variant="contained"
            disabled={chosen.size === 0}
            loading={take.isPending}
            onClick={() => take.mutate({ ...coming, how, chosen: [...chosen] }, { onSuccess: onDone })}
          >
            Bring in {chosen.size} of {preview.differences.length}
          </Button>
        ) : (
          <span>Readers look; an editor brings it in.</span>
        )}
        <Button variant="outlined" color="inherit" onClick={onDone}>
          Leave it
        </Button>
        {chosen.size > 0 && <Would would={would.data} error={would.isError ? would.error : null} />}
        <span>
          {preview.differences.length === 0
            ? how === "merge"
              ? "Nothing was done there that isn't here."
              : `${profile.name} has all of it already.`
            : `One undo takes it back; revision ${profile.newest} stays and is named after what came.`}
        </span>
      </div>
    </>
  );
}
