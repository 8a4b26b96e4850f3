import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import { useState } from "react";
import { Trouble } from "../shared/states";
import { Folded } from "./ImportPanel";
import styles from "./Profiles.module.css";
import { useContents } from "./useExchange";
import type { Profile } from "./useProfiles";

/** Taking a profile out: which of it travels, as what, what it needs where it arrives and what stays, before the file is made. */
export function ExportPanel({ profile, onLeave }: { profile: Profile; onLeave: () => void }) {
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const all = useContents(profile.id, null, true);
  const filled = all.data?.sections.filter((s) => s.count > 0) ?? [];
  const chosen = filled.filter((s) => !left.has(s.id)).map((s) => s.id);
  const some = left.size > 0 ? chosen : null;
  const contents = useContents(profile.id, some, all.isSuccess);
  if (all.isError) return <Trouble error={all.error} again={() => all.refetch()} />;
  if (!all.data) return null;
  const told = contents.data ?? all.data;
  const query = some ? `?sections=${some.join(",")}` : "";
  const nothing = filled.length > 0 && chosen.length === 0;
  return (
    <section className={styles.export} aria-label="Export as a bundle">
      {filled.length === 0 && <p>{profile.name} sets nothing yet; the bundle would hold its name alone.</p>}
      {filled.length > 0 && (
        <div className={styles.sections}>
          <span>Take along</span>
          {filled.map((s) => (
            <FormControlLabel
              key={s.id}
              label={`${s.count} ${s.name}`}
              control={
                <Switch
                  size="small"
                  checked={!left.has(s.id)}
                  onChange={(e) => {
                    const next = new Set(left);
                    if (e.target.checked) next.delete(s.id);
                    else next.add(s.id);
                    setLeft(next);
                  }}
                />
              }
            />
          ))}
        </div>
      )}
      {!nothing && (
        <>
          <p>
            {told.signed
              ? `Signed by ${told.signed}.`
              : "It goes out unsigned: this Amber Key has no key to sign with. "}
          </p>
          <Folded
            title={
              told.files.length === 1
                ? "With it one settings file, as its program reads it"
                : `With it ${told.files.length} settings files, as programs read them`
            }
            lines={told.files.map((f) => `${f.program}: ${f.path} (${f.commands})`)}
          />
          <Folded title="What it needs where it arrives" lines={told.needs} />
          <Folded title="What stays here, and why" lines={told.stays.map((s) => `${s.what}: ${s.why}`)} />
        </>
      )}
      <div className={styles.actions}>
        {nothing ? (
          <span>Take one part along at least.</span>
        ) : (
          <Button variant="contained" href={`/api/profiles/${profile.id}/bundle${query}`} download onClick={onLeave}>
            Write the bundle
          </Button>
        )}
        <Button color="inherit" onClick={onLeave}>
          Leave it
        </Button>
      </div>
    </section>
  );
}
