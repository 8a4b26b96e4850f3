import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import type { KeyboardEvent } from "react";
import { useCallback, useEffect, useId, useRef, useState } from "react";
import type { Judgement } from "../../keyboard/PressField";
import { PressField } from "../../keyboard/PressField";
import { someOf } from "../../shared/setupsInWords";
import { Trouble, Waiting } from "../../shared/states";
import { UntilField } from "../../shared/UntilField";
import { useRights } from "../../shared/useSession";
import { WorthTold } from "../../shared/WorthTold";
import styles from "../Clashes.module.css";
import type { Group } from "../useClashes";
import { Landings } from "./Landings";
import { offeredBy, StandardChoice } from "./StandardChoice";
import { TaskChoice } from "./TaskChoice";
import type { Says } from "./useWays";
import { useAsked, useDecide, useTaskMove, useWays } from "./useWays";
import { Outcome, sentence, Title } from "./WayTold";

const OWN = "own";

/** The ways out of one clash with their consequences; digits choose, the button decides. */
export function WaysPanel({ group, onDecided }: { group: Group; onDecided: () => void }) {
  const setup = group.seen_in;
  const [layer, setLayer] = useState("");
  const ways = useWays(setup, group.identity, null, layer || null);
  const [own, setOwn] = useState<string | null>(null);
  const ownWays = useWays(setup, group.identity, own, layer || null, own !== null);
  const [chosen, setChosen] = useState<string | null>(null);
  const [withTask, setWithTask] = useState(false);
  const [wanted, setWanted] = useState<Says>("nothing");
  const [reason, setReason] = useState("");
  const [until, setUntil] = useState("");
  const rights = useRights();
  const decide = useDecide(group.identity, onDecided);
  const name = useId();
  const foot = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (chosen) foot.current?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  // All that is decided by stands in sight, as far as the row itself stays there too.
  const loaded = ways.data !== undefined;
  useEffect(() => {
    if (!loaded) return;
    foot.current?.scrollIntoView({ block: "nearest" });
    foot.current?.closest("li")?.querySelector("[data-row]")?.scrollIntoView({ block: "nearest" });
  }, [loaded]);
  const onJudged = useCallback(
    (j: Judgement | null) => setOwn(j && j.verdict !== "impossible" ? j.shortcut.text : null),
    [],
  );
  const offered = ways.data?.filter((w) => w.kind !== "allow" || group.allowed === null) ?? [];
  const ownWay = own ? ownWays.data?.find((w) => w.kind === "move") : undefined;
  const key = chosen ?? offered[0]?.key ?? "";
  const picked = key === OWN ? ownWay : offered.find((w) => w.key === key);
  const task = useTaskMove(
    setup,
    group.identity,
    picked?.kind === "move" ? (picked.shortcut?.text ?? null) : null,
    layer || null,
  );
  const along = picked?.kind === "move" ? (task.data ?? null) : null;
  const way = withTask && along ? along.way : picked;
  const answered = useAsked(setup, group.identity, way && way.kind !== "allow" ? way.key : null, layer || null);
  const standard = answered.data;
  const asked = standard?.asked ?? [];
  const says = offeredBy(asked).includes(wanted) ? wanted : "nothing";
  if (ways.isError) return <Trouble error={ways.error} again={() => ways.refetch()} />;
  if (!ways.data) return <Waiting what="the ways out" />;
  const why = whyOf(way?.kind === "allow", says);
  // What the standard is to say of another way is known a moment after that is chosen: nothing is decided without it.
  const known = wanted === "nothing" || way?.kind === "allow" || standard !== undefined;
  const ready = way !== undefined && known && (!why.needed || reason.trim().length >= 3);
  const onDigit = (event: KeyboardEvent) => {
    if (event.target instanceof HTMLInputElement && event.target.type !== "radio") return;
    const choice = [...offered.map((w) => w.key), OWN][Number(event.key) - 1];
    if (/^[1-9]$/.test(event.key) && choice && !event.ctrlKey && !event.altKey && !event.metaKey) {
      event.preventDefault();
      setChosen(choice);
    }
  };
  return (
    <form
      onKeyDown={onDigit}
      onSubmit={(event) => {
        event.preventDefault();
        if (ready && way) {
          decide.mutate({
            setup,
            way: way.key,
            reason,
            until: until || null,
            target: layer || null,
            says,
            seen: standard?.seen,
          });
        }
      }}
    >
      <fieldset className={styles.ways} aria-label="Ways out">
        {offered.map((w, n) => (
          <label key={w.key} className={`${styles.way} ${w.key === key ? styles.chosen : ""}`}>
            <span className={styles.wayTitle}>
              <input type="radio" name={name} value={w.key} checked={w.key === key} onChange={() => setChosen(w.key)} />
              <Title way={w} />
              <span className={styles.digit} aria-hidden="true">
                {n + 1}
              </span>
            </span>
            <small>{[sentence(w), ...w.worth.says].join(" ")}</small>
            <Outcome way={w} />
          </label>
        ))}
        <div className={`${styles.way} ${styles.ownWay} ${key === OWN ? styles.chosen : ""}`}>
          <label className={styles.wayTitle}>
            <input type="radio" name={name} value={OWN} checked={key === OWN} onChange={() => setChosen(OWN)} />
            <b>Move to a shortcut of your own</b>
            <span className={styles.digit} aria-hidden="true">
              {offered.length + 1}
            </span>
          </label>
          {key === OWN && (
            <PressField
              label="New shortcut"
              setup={setup}
              program={group.subject.program}
              scope={group.subject.scope}
              onJudged={onJudged}
            />
          )}
          {key === OWN && ownWay && (
            <>
              <small>{[sentence(ownWay), ...ownWay.worth.says].join(" ")}</small>
              <Outcome way={ownWay} />
            </>
          )}
        </div>
      </fieldset>
      {way && <WorthTold worth={way.worth} said={way === picked} />}
      {along && <TaskChoice move={along} chosen={withTask} onChange={setWithTask} />}
      {answered.isError && <Trouble error={answered.error} again={() => answered.refetch()} />}
      {asked.length > 0 && <StandardChoice asked={asked} says={says} onChange={rights.edit ? setWanted : undefined} />}
      <div className={styles.why} ref={foot}>
        {rights.edit && way?.kind !== "allow" && <Landings group={group} value={layer} onChange={setLayer} />}
        {rights.edit && (
          <TextField
            label={why.label}
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            required={why.needed}
            sx={{ width: 240 }}
          />
        )}
        {rights.edit && why.needed && <UntilField value={until} onChange={setUntil} />}
        {rights.edit ? (
          <Button type="submit" variant="contained" disabled={!ready} loading={decide.isPending}>
            {way?.kind === "allow" ? "Allow it" : "Decide"}
          </Button>
        ) : (
          <span>Readers look; an editor decides.</span>
        )}
        {way && way.kind !== "allow" && (
          <span>
            {way.entries} {way.entries === 1 ? "entry" : "entries"} in {way.profile}.{" "}
            {way.remains.length > 0 &&
              `${someOf(way.remains)} ${way.remains.length === 1 ? "keeps" : "keep"} the clash.`}
          </span>
        )}
      </div>
    </form>
  );
}

/** What the reason is called, and whether one is needed: to let something stay as it is takes one, and may have an end. */
function whyOf(allows: boolean, says: Says): { label: string; needed: boolean } {
  if (allows) return { label: "Why it may stay", needed: true };
  if (says === "exception") return { label: "Why it is let off", needed: true };
  return { label: "Why (kept with it)", needed: false };
}
