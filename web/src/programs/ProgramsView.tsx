import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useCallback, useMemo, useState } from "react";
import { Link } from "react-router";
import { KeysToLookFor } from "../keyboard/ByKeys";
import type { Judgement } from "../keyboard/PressField";
import { useShownOnStrip } from "../keyboard/strip";
import { strokeKey } from "../keyboard/strokes";
import { useLens } from "../shared/lens";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useAddress } from "../shared/useAddress";
import { NewerFacts } from "./behaviour/NewerFacts";
import { CommandRow } from "./CommandRow";
import type { Filter, State } from "./filter";
import { groupsOf, matches } from "./filter";
import styles from "./Programs.module.css";
import { usePrograms } from "./usePrograms";

function behaviourOf(params: URLSearchParams, program: { id: string; version: string }): string {
  const next = new URLSearchParams(params);
  next.set("of", `${program.id} ${program.version}`);
  return next.toString();
}

/** Every command of every program through the lens, with the shortcuts that hold and the layer that set them. */
export function ProgramsView() {
  const [lens, changeLens] = useLens();
  const programs = usePrograms(lens?.setup.setup);
  const [params, change] = useAddress();
  const [words, setWords] = useState("");
  const [state, setState] = useState<State>("all");
  const [byPress, setByPress] = useState(false);
  const [strokes, setStrokes] = useState<string[] | null>(null);
  const onJudged = useCallback((j: Judgement | null) => setStrokes(j ? j.strokes.flat().map(strokeKey) : null), []);
  const filter = useMemo<Filter>(() => ({ words, state, strokes }), [words, state, strokes]);
  const shownId = params.get("show") ?? lens?.program;
  const at = params.get("command");
  const program = programs.data?.find((p) => p.id === shownId) ?? programs.data?.[0];
  const selected = program?.commands.find((c) => c.id === at);
  const stroke = selected?.shortcuts[0]?.strokes[0];
  useShownOnStrip(stroke?.modifiers ?? null, stroke?.code ?? null, selected?.name ?? "");
  if (programs.isError) return <Trouble error={programs.error} again={() => programs.refetch()} />;
  if (!programs.data || !program || !lens) return <Waiting what="the programs" />;
  const found = program.commands.filter((c) => matches(c, filter));
  const elsewhere = programs.data
    .filter((p) => p.id !== program.id)
    .map((p) => ({ program: p, count: p.commands.filter((c) => matches(c, filter)).length }))
    .filter((p) => p.count > 0);
  const asked = words !== "" || state !== "all" || strokes !== null;
  const open = (name: string, value: string | null) => change({ [name]: value }, true);
  const choose = (id: string) => {
    const focus = lens.setup.focuses.find((f) => f.program === id);
    const scope = focus?.scopes.find((s) => s.takes_text) ?? focus?.scopes[0];
    changeLens({ show: id, command: "", ...(focus && scope ? { program: id, scope: scope.id } : {}) });
  };
  return (
    <>
      <div className={screen.top}>
        <h1>{program.name}</h1>
        <span>
          {program.version}. {program.description}
        </span>
        <span className={screen.right}>
          <Link
            to={{
              pathname: "/programs/edit",
              search: `program=${program.id}&version=${encodeURIComponent(program.version)}`,
            }}
          >
            Its sheet
          </Link>
          <Link to="/programs/all">All programs</Link>
        </span>
      </div>
      <p className={screen.sub}>
        {program.habits.join(" ")}{" "}
        <Link to={{ pathname: "/programs/behaviour", search: behaviourOf(params, program) }}>How it behaves</Link>
      </p>
      {program.kind === "system" && <NewerFacts program={program.id} version={program.version} />}
      <div className={styles.tools}>
        <ToggleButtonGroup
          exclusive
          size="small"
          value={program.id}
          onChange={(_, id: string | null) => id && choose(id)}
          aria-label="Program"
        >
          {programs.data.map((p) => (
            <ToggleButton key={p.id} value={p.id}>
              {p.name}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <TextField
          label="Words"
          value={words}
          onChange={(e) => setWords(e.target.value)}
          placeholder="save, price, tide ..."
          sx={{ width: 190 }}
        />
        <TextField
          select
          label="State"
          value={state}
          onChange={(e) => setState(e.target.value as State)}
          sx={{ width: 150 }}
        >
          <MenuItem value="all">all</MenuItem>
          <MenuItem value="changed">changed from default</MenuItem>
          <MenuItem value="unbound">without a shortcut</MenuItem>
          <MenuItem value="clashing">clashing</MenuItem>
        </TextField>
        <Button
          variant={byPress ? "contained" : "outlined"}
          aria-pressed={byPress}
          onClick={() => {
            setByPress(!byPress);
            setStrokes(null);
          }}
        >
          Who holds a press?
        </Button>
        <span role="status" className={styles.count}>
          {found.length} of {program.commands.length} commands
        </span>
      </div>
      {byPress && (
        <div className={styles.press}>
          <KeysToLookFor lens={lens} onJudged={onJudged} />
        </div>
      )}
      {asked && elsewhere.length > 0 && (
        <p className={styles.elsewhere}>
          Also in{" "}
          {elsewhere.map((e) => (
            <Button key={e.program.id} color="inherit" onClick={() => choose(e.program.id)}>
              {e.program.name}: {e.count}
            </Button>
          ))}
        </p>
      )}
      {found.length === 0 ? (
        <Empty title={`Nothing in ${program.name} is like that.`}>
          <Button
            variant="outlined"
            onClick={() => {
              setWords("");
              setState("all");
              setByPress(false);
              setStrokes(null);
            }}
          >
            Show all {program.commands.length} commands
          </Button>
        </Empty>
      ) : (
        <>
          <div className={`${styles.g} ${screen.heads}`} aria-hidden="true">
            <span>Command</span>
            <span>Live in</span>
            <span>Shortcut</span>
            <span>Set by</span>
            <span />
          </div>
          {groupsOf(found).map(([group, commands]) => (
            <section key={group} aria-label={group}>
              <h2 className={styles.group}>{group}</h2>
              <ul>
                {commands.map((c) => (
                  <CommandRow
                    key={c.id}
                    program={program}
                    command={c}
                    open={c.id === at}
                    onToggle={() => open("command", c.id === at ? null : c.id)}
                  />
                ))}
              </ul>
            </section>
          ))}
        </>
      )}
    </>
  );
}
