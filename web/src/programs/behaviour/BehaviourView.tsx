import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useDeferredValue, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { useOrganisation } from "../../organisation/useOrganisation";
import { BothMade, contradictionsIn } from "../../shared/BothMade";
import { Consequences, Refusal } from "../../shared/Consequences";
import { useLens } from "../../shared/lens";
import screen from "../../shared/screen.module.css";
import { Trouble, Waiting } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import styles from "./Behaviour.module.css";
import { HabitRow } from "./HabitRow";
import { Holds } from "./Holds";
import { NewerFacts } from "./NewerFacts";
import { Scopes } from "./Scopes";
import type { Behaviour, Draft } from "./useBehaviour";
import { isEmpty, NO_DRAFT, useBehaviour, usePlanned, useSaveBehaviour, useTried } from "./useBehaviour";

/** A program as it behaves: every habit a choice, with a sentence for what it does and a small trace that shows it. */
export function BehaviourView() {
  const [lens] = useLens();
  const organisation = useOrganisation();
  const [params] = useSearchParams();
  const navigate = useNavigate();
  const all = organisation.data?.programs ?? [];
  const asked = params.get("of") ?? "";
  const [wanted = "", askedVersion = ""] = asked.split(" ");
  const program = all.find((p) => p.id === (wanted || lens?.program));
  const version = program?.versions.includes(askedVersion) ? askedVersion : (program?.versions.at(-1) ?? "");
  const setup = lens?.setup.setup ?? "";
  const found = useBehaviour(program?.id ?? "", version, setup);
  if (organisation.isError) return <Trouble error={organisation.error} again={() => organisation.refetch()} />;
  if (found.isError) return <Trouble error={found.error} again={() => found.refetch()} />;
  if (!organisation.data || !found.data || !program) return <Waiting what="the program" />;
  const go = (path: string, of: string) => {
    const next = new URLSearchParams(params);
    next.set("of", of);
    navigate({ pathname: path, search: next.toString() });
  };
  return (
    <>
      <div className={screen.top}>
        <h1>How {found.data.name} behaves</h1>
        <span>Traces are drawn for the keyboard of the lens.</span>
        <div className={screen.right}>
          <TextField
            select
            label="Program"
            value={`${program.id} ${version}`}
            onChange={(e) => go("/programs/behaviour", e.target.value)}
            sx={{ width: 190 }}
          >
            {all.flatMap((p) =>
              p.versions.map((v) => (
                <MenuItem key={`${p.id} ${v}`} value={`${p.id} ${v}`}>
                  {p.name} {v}
                </MenuItem>
              )),
            )}
          </TextField>
          <Button color="inherit" variant="outlined" onClick={() => go("/programs", asked)}>
            Its commands
          </Button>
        </div>
      </div>
      {found.data.kind === "system" && <NewerFacts program={found.data.program} version={found.data.version} />}
      <Editor key={found.data.digest} found={found.data} setup={setup} />
    </>
  );
}

function Editor({ found, setup }: { found: Behaviour; setup: string }) {
  const rights = useRights();
  const [draft, setDraft] = useState<Draft>(NO_DRAFT);
  const later = useDeferredValue(draft);
  const tried = useTried(found.program, found.version, setup, later);
  const planned = usePlanned(found.program, found.version, setup, later, !tried.isError);
  const save = useSaveBehaviour(found.program, found.version, () => setDraft(NO_DRAFT));
  const shown = isEmpty(draft) ? found : (tried.data ?? found);
  const field = (name: string) => draft.fields[name] ?? found.fields[name];
  const set = (name: string, value: unknown) => setDraft({ ...draft, fields: { ...draft.fields, [name]: value } });
  const hold = (id: string, name: string, value: unknown) =>
    setDraft({ ...draft, commands: { ...draft.commands, [id]: { ...draft.commands[id], [name]: value } } });
  const both = contradictionsIn(save.error);
  return (
    <div className={styles.view}>
      {!isEmpty(draft) && (
        <section className={styles.draft} aria-label="Draft">
          {tried.isError ? (
            <Refusal error={tried.error} />
          ) : (
            <Consequences
              plan={planned.data && { ...planned.data, told: [] }}
              error={planned.isError ? planned.error : null}
            />
          )}
          {both.length > 0 && (
            <BothMade
              by={save.error}
              found={both}
              onChosen={(chosen) => save.mutate({ setup, digest: found.digest, ...draft, chosen })}
            />
          )}
          <div className={styles.do}>
            {rights.edit ? (
              <Button
                variant="contained"
                disabled={tried.isError}
                loading={save.isPending}
                onClick={() => save.mutate({ setup, digest: found.digest, ...draft, chosen: [] })}
              >
                Save how it behaves
              </Button>
            ) : (
              <span>Readers try; an editor saves.</span>
            )}
            <Button color="inherit" onClick={() => setDraft(NO_DRAFT)}>
              Leave it as it was
            </Button>
          </div>
        </section>
      )}
      <div className={styles.habits}>
        {shown.habits
          .filter((h) => h.id !== "grip" && h.id !== "keeps")
          .map((h) => (
            <HabitRow key={h.id} habit={h} platform={found.platform} field={field} set={set} />
          ))}
      </div>
      {found.kind !== "system" && (
        <Scopes
          scopes={field("scopes") as Behaviour["scopes"]}
          counted={found.scopes}
          onChange={(s) => set("scopes", s)}
        />
      )}
      {shown.holds.length > 0 && (
        <Holds
          holds={shown.holds}
          kind={found.kind}
          editions={found.editions}
          habit={shown.habits.find((h) => h.id === "grip" || h.id === "keeps")}
          hold={hold}
        />
      )}
    </div>
  );
}
