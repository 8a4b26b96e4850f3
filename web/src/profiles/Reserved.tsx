import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { useOrganisation } from "../organisation/useOrganisation";
import { Many, One } from "../shared/fields";
import { useRights } from "../shared/useSession";
import styles from "./Profiles.module.css";
import type { Profile } from "./useProfiles";
import { useHold } from "./useProfiles";

/** Presses that nearer layers can't give to anything else, whatever they call them. */
export function Reserved({ profile }: { profile: Profile }) {
  const rights = useRights();
  const organisation = useOrganisation().data;
  const hold = useHold(profile.id);
  const [keys, setKeys] = useState("");
  const [platform, setPlatform] = useState("windows");
  const [program, setProgram] = useState("");
  const [layouts, setLayouts] = useState<string[]>([]);
  const [reason, setReason] = useState("");
  const names = new Map(organisation?.platforms.flatMap((p) => p.layouts).map((l) => [l.id, l.name]));
  const choosePlatform = (next: string) => {
    setPlatform(next);
    setLayouts([]);
  };
  return (
    <section className={styles.reserved} aria-label="Reserved presses">
      <h2 className={styles.group}>Reserved presses</h2>
      {profile.reserved.length === 0 && <p>None. A reserved press is kept from nearer layers, in any spelling.</p>}
      <ul>
        {profile.reserved.map((r) => (
          <li key={r.key}>
            <b>{r.keys}</b>
            <span>
              on {r.platform}
              {r.layouts.length > 0 &&
                ` with ${new Intl.ListFormat("en-GB").format(r.layouts.map((l) => names.get(l) ?? l))}`}
              , in {r.program || "every program"}
              {r.task && `, but for the task ${r.task}`}. {r.reason}
            </span>
            {rights.edit && (
              <Button
                color="inherit"
                aria-label={`Let it go: ${r.keys} on ${r.platform}`}
                onClick={() => hold.mutate({ free: r.key })}
              >
                Let it go
              </Button>
            )}
          </li>
        ))}
      </ul>
      {rights.edit && organisation && (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            hold.mutate(
              { reserve: { keys, platform: platform as "windows", program: program || null, layouts, reason } },
              { onSuccess: () => setKeys("") },
            );
          }}
        >
          <TextField label="Press" value={keys} onChange={(e) => setKeys(e.target.value)} placeholder="ctrl s" />
          <span>
            <One label="On" value={platform} choices={organisation.platforms} onChange={choosePlatform} />
          </span>
          <span className={styles.wide}>
            <Many
              label="With these layouts, if not with all"
              value={layouts}
              choices={organisation.platforms.find((p) => p.id === platform)?.layouts ?? []}
              onChange={setLayouts}
            />
          </span>
          <span>
            <One
              label="In"
              value={program}
              none="every program"
              choices={organisation.programs}
              onChange={setProgram}
            />
          </span>
          <TextField label="Why" value={reason} onChange={(e) => setReason(e.target.value)} />
          <Button
            type="submit"
            variant="outlined"
            color="inherit"
            disabled={keys.trim() === ""}
            loading={hold.isPending}
          >
            Reserve it
          </Button>
        </form>
      )}
    </section>
  );
}
