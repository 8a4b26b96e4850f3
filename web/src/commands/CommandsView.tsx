import Button from "@mui/material/Button";
import { useCallback, useMemo, useState } from "react";
import { Link } from "react-router";
import { useShownOnStrip } from "../keyboard/strip";
import { NewerFacts } from "../programs/behaviour/NewerFacts";
import { useLens } from "../shared/lens";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useAddress } from "../shared/useAddress";
import { useRights } from "../shared/useSession";
import type { Asked } from "./asked";
import { askedIn, inAddress, NOTHING } from "./asked";
import { ChosenPanel } from "./ChosenPanel";
import { CommandList } from "./CommandList";
import styles from "./Commands.module.css";
import { CommandsFilters } from "./CommandsFilters";
import { LifePanel } from "./LifePanel";
import { ResetPanel } from "./ResetPanel";
import type { Commands } from "./useCommands";
import { useAllIds, useCommands, useLife } from "./useCommands";
import { useUpgrades } from "./useUpgrades";

const NONE: ReadonlySet<string> = new Set();

/** All commands of all programs as one sheet, each row through the lens; the life of one, or what to do with several, beside it. */
export function CommandsView() {
  const [lens] = useLens();
  const [params, change] = useAddress();
  const through = lens ? (lens.everywhere ? "all" : lens.setup.setup) : undefined;
  const text = params.toString();
  const asked = useMemo(() => askedIn(new URLSearchParams(text)), [text]);
  const at = params.get("at") ?? "";
  // Whoever comes with an open row wants to see it; whoever opens another one sees it already.
  const [came] = useState(at);
  const commands = useCommands(asked, through, came);
  const [chosen, setChosen] = useState(NONE);
  const allIds = useAllIds();
  const waiting = new Set(useUpgrades().data?.map((u) => u.program)).size;
  const ask = useCallback((parts: Partial<Asked>) => change(inAddress(parts)), [change]);
  const life = useLife(through ?? "", at);
  const shown = at ? life.data?.row : undefined;
  const first = shown?.keys[0];
  const stroke = first?.strokes[0];
  const place = useMemo(
    () => (shown ? { setup: shown.setup, program: shown.program, scope: shown.scope } : null),
    [shown],
  );
  const seen = stroke ?? null;
  useShownOnStrip(seen?.modifiers ?? null, seen?.code ?? null, shown?.name ?? "", place);
  if (commands.isError && !commands.data) return <Trouble error={commands.error} again={() => commands.refetch()} />;
  if (!lens || !through || !commands.data) return <Waiting what="the commands" />;
  const { total, programs, lines, found, order, changed } = commands.data;
  const fold = (id: string, closed: boolean) => {
    const ids = new Set(asked.closed.split("|").filter(Boolean));
    if (closed) ids.add(id);
    else ids.delete(id);
    ask({ closed: [...ids].join("|") });
  };
  return (
    <div className={styles.screen}>
      <div className={screen.top}>
        <h1>Commands</h1>
        <span>
          {total} in {programs} {programs === 1 ? "program" : "programs"}
        </span>
        <span className={screen.right}>
          {changed > 0 && (
            <Button color="inherit" onClick={() => ask({ ...NOTHING, state: "changed since the release" })}>
              <b>{changed}</b>&nbsp;changed since the release
            </Button>
          )}
          {waiting > 0 && (
            <Link to="/programs/upgrade">
              {waiting} {waiting === 1 ? "program has" : "programs have"} a newer version
            </Link>
          )}
          <Link to="/programs/all">All programs</Link>
        </span>
      </div>
      <CommandsFilters lens={lens} through={through} asked={asked} order={order} found={found} change={ask} />
      {commands.isError && <Trouble error={commands.error} again={() => commands.refetch()} />}
      {commands.data.program && <OneProgram program={commands.data.program} through={through} />}
      <div className={styles.both}>
        {lines === 0 ? (
          <Empty title="No command is like that.">
            <Button variant="outlined" onClick={() => ask(NOTHING)}>
              Show all {total} commands
            </Button>
          </Empty>
        ) : (
          <CommandList
            asked={asked}
            through={through}
            lines={lines}
            found={found}
            begin={commands.data.place}
            at={at}
            onOpen={(row) => {
              setChosen(NONE);
              change({ at: row?.id ?? null }, true);
            }}
            onFold={fold}
            chosen={chosen}
            onChosen={setChosen}
            onGroup={(id) => {
              const [program = "", ...group] = id.split("/");
              allIds.mutate(
                { asked: { ...asked, program, group: group.join("/") }, setup: through },
                { onSuccess: (ids) => setChosen(new Set([...chosen, ...ids])) },
              );
            }}
            onAll={(on) =>
              on
                ? allIds.mutate({ asked, setup: through }, { onSuccess: (ids) => setChosen(new Set(ids)) })
                : setChosen(NONE)
            }
          />
        )}
        {chosen.size > 0 ? (
          <ChosenPanel through={through} chosen={chosen} onNone={() => setChosen(NONE)} />
        ) : (
          at && <LifePanel through={through} row={at} onClose={() => change({ at: null })} />
        )}
      </div>
    </div>
  );
}

/** What is to be known of the one program that is looked at, and where more of it is. */
function OneProgram({ program, through }: { program: NonNullable<Commands["program"]>; through: string }) {
  const [params] = useAddress();
  const [resets, setResets] = useState(false);
  const rights = useRights();
  const behaviour = new URLSearchParams(params);
  behaviour.set("of", `${program.id} ${program.version}`);
  return (
    <>
      <p className={screen.sub}>
        <b>
          {program.name} {program.version}.
        </b>{" "}
        {program.description} {program.habits.join(" ")}{" "}
        <Link to={{ pathname: "/programs/behaviour", search: behaviour.toString() }}>How it behaves</Link>{" "}
        <Link
          to={{
            pathname: "/programs/edit",
            search: `program=${program.id}&version=${encodeURIComponent(program.version)}`,
          }}
        >
          Its sheet
        </Link>{" "}
        {rights.edit && (
          <Button color="inherit" aria-pressed={resets} onClick={() => setResets(!resets)}>
            Reset it
          </Button>
        )}
      </p>
      {resets && <ResetPanel given={{ setup: through, program: program.id }} what={program.name} />}
      {program.kind === "system" && <NewerFacts program={program.id} version={program.version} />}
    </>
  );
}
