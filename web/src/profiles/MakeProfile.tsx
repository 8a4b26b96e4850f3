import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useNear, useOrganisation } from "../organisation/useOrganisation";
import { type Named, One, OneFound } from "../shared/fields";
import { useSays } from "../shared/Says";
import { useDone } from "../shared/useDone";
import { useChanged, useUndo } from "../shared/useHistory";
import { useRights } from "../shared/useSession";
import styles from "./Profiles.module.css";
import type { Profile } from "./useProfiles";

interface MakeProps {
  profiles: Named[];
  onMade: (id: string) => void;
  onLeave: () => void;
}

/** A new profile, empty or with the entries of another one. */
export function MakeProfile({ profiles, onMade, onLeave }: MakeProps) {
  const [name, setName] = useState("");
  const [like, setLike] = useState("");
  const changed = useChanged();
  const says = useSays();
  const undo = useUndo();
  const make = useMutation({
    mutationFn: (body: Schemas["ProfileMakeIn"]) => answer(api.POST("/api/profiles/new", { body })),
    onSuccess: async (made) => {
      await changed();
      onMade(made.profile);
      says.done(made.title, () => undo.mutate(made.id));
    },
    onError: says.refused,
  });
  return (
    <form
      className={styles.make}
      aria-label="A new profile"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate({ name, description: "", like: like || null });
      }}
    >
      <TextField label="Name" value={name} onChange={(e) => setName(e.target.value)} autoFocus required />
      <span>
        <One
          label="It begins"
          value={like}
          none="empty"
          choices={profiles.map((p) => ({ id: p.id, name: `like ${p.name}` }))}
          onChange={setLike}
        />
      </span>
      <Button type="submit" variant="contained" disabled={!name.trim()} loading={make.isPending}>
        Make it
      </Button>
      <Button color="inherit" onClick={onLeave}>
        Leave it
      </Button>
    </form>
  );
}

/** What a profile is called and told as, and whom it is given to. */
export function AboutProfile({ profile }: { profile: Profile }) {
  const rights = useRights();
  const [open, setOpen] = useState(false);
  if (!rights.edit) return null;
  return (
    <section className={styles.about} aria-label="Name and people">
      <Button color="inherit" variant="outlined" aria-expanded={open} onClick={() => setOpen(!open)}>
        Name, and whom it is given to
      </Button>
      {open && (
        <div className={styles.aboutOpen}>
          <Naming key={`${profile.name} ${profile.description}`} profile={profile} />
          <Holders profile={profile} />
        </div>
      )}
    </section>
  );
}

function Naming({ profile }: { profile: Profile }) {
  const [name, setName] = useState(profile.name);
  const [description, setDescription] = useState(profile.description);
  const save = useDone((body: Schemas["AboutIn"]) =>
    answer(api.PUT("/api/profiles/{profile_id}/about", { params: { path: { profile_id: profile.id } }, body })),
  );
  const same = name === profile.name && description === profile.description;
  return (
    <form
      className={styles.naming}
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate({ name, description });
      }}
    >
      <TextField label="Name" value={name} onChange={(e) => setName(e.target.value)} required />
      <TextField
        label="Told in a sentence"
        value={description}
        onChange={(e) => setDescription(e.target.value)}
        multiline
        maxRows={3}
      />
      <Button type="submit" variant="outlined" disabled={same || !name.trim()} loading={save.isPending}>
        Save
      </Button>
    </form>
  );
}

type Whom = Schemas["ProfileHolderOut"]["whom"];
const WHOM: { id: Whom; name: string }[] = [
  { id: "everybody", name: "everybody" },
  { id: "departments", name: "a department" },
  { id: "roles", name: "a role" },
  { id: "people", name: "a person" },
  { id: "machines", name: "a machine" },
];

function Holders({ profile }: { profile: Profile }) {
  const params = { path: { profile_id: profile.id } };
  const holders = useQuery({
    queryKey: key("profiles", "holders", profile.id),
    queryFn: () => answer(api.GET("/api/profiles/{profile_id}/holders", { params })),
  });
  const organisation = useOrganisation().data;
  const [whom, setWhom] = useState<Whom>("departments");
  const [to, setTo] = useState<Named | null>(null);
  const [words, setWords] = useState("");
  const single = whom === "people" || whom === "machines";
  const near = useNear(single ? whom : "people", words, single);
  const give = useDone((body: Schemas["GiveIn"]) =>
    answer(api.POST("/api/profiles/{profile_id}/holders", { params, body })),
  );
  const choices = (whom === "departments" ? organisation?.departments : organisation?.roles) ?? [];
  const id = to?.id ?? "";
  return (
    <div className={styles.holders}>
      <h3>Given to</h3>
      <ul>
        {(holders.data ?? []).map((h) => (
          <li key={`${h.whom} ${h.id}`}>
            {h.name}{" "}
            <Button
              size="small"
              color="inherit"
              aria-label={`Take it from ${h.name}`}
              onClick={() => give.mutate({ whom: h.whom, id: h.id, given: false })}
            >
              Take it away
            </Button>
          </li>
        ))}
        {holders.data?.length === 0 && <li>nobody yet</li>}
      </ul>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          give.mutate({ whom, id, given: true });
        }}
      >
        <One
          label="Give it to"
          value={whom}
          choices={WHOM}
          onChange={(next) => {
            setWhom(next as Whom);
            setTo(null);
            setWords("");
          }}
        />
        {(whom === "departments" || whom === "roles") && (
          <One
            label="Which one"
            value={id}
            choices={choices.map((c) => ({ id: c.id, name: c.name }))}
            onChange={(next) => setTo(choices.find((c) => c.id === next) ?? null)}
          />
        )}
        {single && (
          <OneFound
            key={whom}
            label="Which one"
            value={to}
            choices={near.map((row) => ({ id: row.id, name: row.cells.name ?? row.id }))}
            onChange={setTo}
            onWords={setWords}
          />
        )}
        <Button type="submit" variant="outlined" disabled={whom !== "everybody" && id === ""} loading={give.isPending}>
          Give it
        </Button>
      </form>
    </div>
  );
}
