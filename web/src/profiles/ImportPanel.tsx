import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import { useRef, useState } from "react";
import { One } from "../shared/fields";
import { wordsOf } from "../shared/Says";
import { useRights } from "../shared/useSession";
import styles from "./Profiles.module.css";
import type { How, Preview, Profile } from "./useProfiles";
import { usePreview, useTake } from "./useProfiles";

const MERGE = { id: "merge", name: "only what was done there since" };
const HOWS = [
  { id: "add", name: "add and change" },
  { id: "missing", name: "add only what is missing here" },
  { id: "replace", name: "replace: remove what the bundle lacks" },
];

/** Bringing a bundle in: what it would do is told in sentences, each to take or to leave. */
export function ImportPanel({ profile }: { profile: Profile }) {
  const input = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File | null>(null);
  // At first the server chooses the usual way for what the file is.
  const [asked, setAsked] = useState<How | "">("");
  const preview = usePreview(profile.id);
  const how = (preview.data?.how ?? asked) || "add";
  const look = (next: File | null, way: How | "") => {
    setFile(next);
    setAsked(way);
    if (next) preview.mutate({ file: next, how: way });
    else preview.reset();
  };
  const leave = () => {
    look(null, "");
    if (input.current) input.current.value = "";
  };
  return (
    <section className={styles.import} aria-label="Bring in a bundle">
      <div className={styles.actions}>
        <Button variant="outlined" onClick={() => input.current?.click()}>
          Bring in a bundle
        </Button>
        <input
          ref={input}
          type="file"
          accept=".zip"
          hidden
          aria-hidden="true"
          tabIndex={-1}
          onChange={(e) => look(e.target.files?.[0] ?? null, "")}
        />
        <span>{file ? file.name : "What it would do is shown first; nothing is taken unseen."}</span>
        {file && (
          <One
            label="How"
            value={how}
            choices={preview.data?.made_from || how === "merge" ? [MERGE, ...HOWS] : HOWS}
            onChange={(id) => look(file, id as How)}
          />
        )}
      </div>
      {preview.isError && (
        <Alert severity="error" icon={false} variant="outlined">
          {wordsOf(preview.error).join(" ")}
        </Alert>
      )}
      {file && preview.data && (
        <Differences
          key={`${file.name}${asked}${preview.submittedAt}`}
          profile={profile}
          preview={preview.data}
          file={file}
          how={how}
          onDone={leave}
        />
      )}
    </section>
  );
}

interface DifferencesProps {
  profile: Profile;
  preview: Preview;
  file: File;
  how: How;
  onDone: () => void;
}

function Differences({ profile, preview, file, how, onDone }: DifferencesProps) {
  const takeable = preview.differences.filter((d) => !d.refused);
  // What would give up something that was done here is only taken when somebody says so.
  const [chosen, setChosen] = useState(() => new Set(takeable.filter((d) => !d.against).map((d) => d.key)));
  const rights = useRights();
  const take = useTake(profile.id);
  const refused = preview.differences.filter((d) => d.refused);
  const count = (does: string) => preview.differences.filter((d) => d.does === does && !d.refused).length;
  const set = (key: string, on: boolean) => {
    const next = new Set(chosen);
    if (on) next.add(key);
    else next.delete(key);
    setChosen(next);
  };
  return (
    <>
      <p>
        <b>{preview.bundle}</b>, made by {preview.made_by || "nobody named"}: adds {count("adds")}, changes{" "}
        {count("changes")}, removes {count("removes")}, leaves {preview.unchanged} as they are
        {refused.length > 0 && `, ${refused.length} can't be taken`}.
      </p>
      {how === "merge" && (
        <p>
          It was made from what {profile.name} was at revision {preview.made_from}. What was done here since stays.
        </p>
      )}
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
            onClick={() => take.mutate({ file, how, chosen: [...chosen] }, { onSuccess: onDone })}
          >
            Bring in {chosen.size} of {preview.differences.length}
          </Button>
        ) : (
          <span>Readers look; an editor brings it in.</span>
        )}
        <Button variant="outlined" color="inherit" onClick={onDone}>
          Leave it
        </Button>
        <span>
          {preview.differences.length === 0
            ? how === "merge"
              ? "Nothing was done there that isn't here."
              : `${profile.name} has all of it already.`
            : `One undo takes it back; revision ${profile.newest} stays.`}
        </span>
      </div>
    </>
  );
}
