import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import { useRef, useState } from "react";
import { wordsOf } from "../shared/Says";
import { useRights } from "../shared/useSession";
import styles from "./Profiles.module.css";
import type { Preview, Profile } from "./useProfiles";
import { usePreview, useTake } from "./useProfiles";

/** Bringing a bundle in: what it would do is told in sentences, each to take or to leave. */
export function ImportPanel({ profile }: { profile: Profile }) {
  const input = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File | null>(null);
  const [replace, setReplace] = useState(false);
  const preview = usePreview(profile.id);
  const look = (next: File | null, all: boolean) => {
    setFile(next);
    setReplace(all);
    if (next) preview.mutate({ file: next, replace: all });
    else preview.reset();
  };
  const leave = () => {
    look(null, false);
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
          onChange={(e) => look(e.target.files?.[0] ?? null, replace)}
        />
        <span>{file ? file.name : "What it would do is shown first; nothing is taken unseen."}</span>
        {file && (
          <FormControlLabel
            control={<Switch checked={replace} onChange={(e) => look(file, e.target.checked)} />}
            label="Replace: remove what the bundle lacks"
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
          key={`${file.name}${replace}${preview.submittedAt}`}
          profile={profile}
          preview={preview.data}
          file={file}
          replace={replace}
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
  replace: boolean;
  onDone: () => void;
}

const GROUPS = [
  { does: "adds", title: "New here" },
  { does: "changes", title: "Moves a key that people know" },
  { does: "removes", title: "Goes away" },
] as const;

function Differences({ profile, preview, file, replace, onDone }: DifferencesProps) {
  const takeable = preview.differences.filter((d) => !d.refused);
  const [chosen, setChosen] = useState(() => new Set(takeable.map((d) => d.key)));
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
      {GROUPS.map(({ does, title }) => {
        const found = takeable.filter((d) => d.does === does);
        if (found.length === 0) return null;
        return (
          <div key={does}>
            <h2 className={styles.group}>{title}</h2>
            <ul>
              {found.map((d) => (
                <li key={d.key} className={styles.difference}>
                  <FormControlLabel
                    control={<Switch checked={chosen.has(d.key)} onChange={(e) => set(d.key, e.target.checked)} />}
                    label={d.says}
                  />
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
            onClick={() => take.mutate({ file, replace, chosen: [...chosen] }, { onSuccess: onDone })}
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
            ? `${profile.name} has all of it already.`
            : `One undo takes it back; revision ${profile.newest} stays.`}
        </span>
      </div>
    </>
  );
}
