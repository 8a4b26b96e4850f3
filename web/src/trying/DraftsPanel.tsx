import Autocomplete from "@mui/material/Autocomplete";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import { useCallback, useMemo, useState } from "react";
import type { Schemas } from "../api/client";
import type { Judgement } from "../keyboard/PressField";
import { PressField } from "../keyboard/PressField";
import { usePrograms } from "../programs/usePrograms";
import { Consequences } from "../shared/Consequences";
import { LayerChoice } from "../shared/LayerChoice";
import { useRights } from "../shared/useSession";
import styles from "./Try.module.css";
import type { Draft } from "./useTry";
import { useKeepDrafts } from "./useTry";

interface DraftsPanelProps {
  setup: string;
  drafts: Draft[];
  onDrafts: (drafts: Draft[]) => void;
  told: Schemas["DraftedOut"] | null;
}

/** What if: commands of any programs with other shortcuts, tried before anything is saved. */
export function DraftsPanel({ setup, drafts, onDrafts, told }: DraftsPanelProps) {
  const programs = usePrograms(setup).data;
  const rights = useRights();
  const save = useKeepDrafts(() => onDrafts([]));
  const [what, setWhat] = useState<{ program: string; command: string } | null>(null);
  const [keys, setKeys] = useState<Judgement["shortcut"] | null>(null);
  const [target, setTarget] = useState("");
  const [keep, setKeep] = useState(false);
  const [number, setNumber] = useState(0);
  const onJudged = useCallback((j: Judgement | null) => setKeys(j?.shortcut ?? null), []);
  const commands = useMemo(
    () =>
      (programs ?? []).flatMap((p) =>
        p.commands.map((c) => ({
          id: `${p.id}/${c.id}`,
          program: p.id,
          command: c.id,
          scope: c.scope,
          name: c.name,
          owner: p.name,
          now: c.shortcuts.map((s) => s.words).join(" and "),
          texts: c.shortcuts.map((s) => s.text),
        })),
      ),
    [programs],
  );
  const chosen = commands.find((c) => c.program === what?.program && c.command === what.command) ?? null;
  const nameOf = (d: Draft) => {
    const found = commands.find((c) => c.program === d.program && c.command === d.command);
    return found ? `${found.name} in ${found.owner}` : `${d.command} in ${d.program}`;
  };
  const add = (given: Judgement["shortcut"] | null) => {
    if (!chosen) return;
    const draft = { setup, program: chosen.program, command: chosen.command, target: target || null };
    const others = drafts.filter((d) => d.program !== draft.program || d.command !== draft.command);
    const keeps = keep && given !== null && chosen.texts.length > 0;
    const shortcuts = [...(keeps ? chosen.texts : []), ...(given ? [given.text] : [])];
    const words = keeps ? `${chosen.now} and ${given.words}` : given?.words;
    onDrafts([...others, { ...draft, shortcuts: [...new Set(shortcuts)], words }]);
    setWhat(null);
    setKeys(null);
    setNumber(number + 1);
  };
  return (
    <section className={styles.drafts} aria-label="What if">
      <div className={styles.draftForm}>
        <Autocomplete
          size="small"
          options={commands}
          groupBy={(c) => c.owner}
          getOptionLabel={(c) => `${c.name}${c.now ? ` (${c.now})` : ""}`}
          isOptionEqualToValue={(a, b) => a.id === b.id}
          getOptionKey={(c) => c.id}
          value={chosen}
          onChange={(_, c) => setWhat(c)}
          sx={{ width: 300 }}
          renderInput={(params) => <TextField {...params} label="What if this command" />}
        />
        <PressField
          key={number}
          label="had"
          setup={setup}
          program={chosen?.program ?? null}
          scope={chosen?.scope ?? null}
          onJudged={onJudged}
        />
        <FormControlLabel
          control={<Switch checked={keep} onChange={(e) => setKeep(e.target.checked)} />}
          label="Keep the present one too"
          disabled={!chosen?.texts.length}
        />
        <LayerChoice setup={setup} value={target} onChange={setTarget} />
        <Button variant="contained" disabled={!chosen || !keys} onClick={() => add(keys)}>
          Try it so
        </Button>
        <Button color="inherit" disabled={!chosen} onClick={() => add(null)}>
          Try it without a shortcut
        </Button>
      </div>
      {drafts.length > 0 && (
        <ul aria-label="Drafts">
          {drafts.map((d) => (
            <li key={`${d.program}/${d.command}`}>
              <b>{nameOf(d)}</b>{" "}
              {d.shortcuts.length > 0 ? `had ${d.words ?? d.shortcuts.join(" and ")}` : "had no shortcut"}
              <Button
                color="inherit"
                onClick={() => onDrafts(drafts.filter((o) => o !== d))}
                aria-label={`Drop: ${nameOf(d)}`}
              >
                Drop
              </Button>
            </li>
          ))}
        </ul>
      )}
      {told && (
        <Consequences
          plan={{
            told: [`${told.entries} ${told.entries === 1 ? "entry" : "entries"}, ${told.people} people relearn a key.`],
            solves: told.solves.slice(0, 4),
            makes: told.makes.slice(0, 6),
            solved: told.solves.length,
            made: told.makes.length,
            worth: told.worth,
          }}
          error={null}
        />
      )}
      {drafts.length > 0 && (
        <div className={styles.draftForm}>
          {rights.edit && (
            <Button variant="contained" loading={save.isPending} onClick={() => save.mutate(drafts)}>
              {drafts.length === 1 ? "Save this draft" : `Save these ${drafts.length} drafts`}
            </Button>
          )}
          <Button color="inherit" onClick={() => onDrafts([])}>
            Drop all
          </Button>
        </div>
      )}
    </section>
  );
}
