import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Consequences, Refusal } from "../shared/Consequences";
import { Waiting } from "../shared/states";
import { UntilField } from "../shared/UntilField";
import { useRights } from "../shared/useSession";
import styles from "./Clashes.module.css";
import type { Tab } from "./filters";
import type { Chosen, Group } from "./useClashes";
import { useAllowSeveral, useMean, useSettle, useSettlement } from "./useClashes";

interface SeveralPanelProps {
  groups: Group[];
  tab: Tab;
  onDone: () => void;
}

/** What can be done about several groups at once: settle each by its best way out, allow them, say that makers meant them. */
export function SeveralPanel({ groups, tab, onDone }: SeveralPanelProps) {
  const [doing, setDoing] = useState<"settle" | "allow" | null>(null);
  const rights = useRights();
  const mean = useMean(onDone);
  const chosen = groups.map((g) => ({ identity: g.identity, setup: g.seen_in }));
  const makers = groups.every((g) => g.may_be_meant);
  const meant = tab === "meant";
  return (
    <section className={styles.several} aria-label="Several clashes at once">
      <div className={styles.do}>
        <b role="status">{groups.length === 1 ? "1 clash is chosen" : `${groups.length} clashes are chosen`}</b>
        {rights.edit && tab === "open" && (
          <Button
            variant={doing === "settle" ? "contained" : "outlined"}
            color="inherit"
            aria-expanded={doing === "settle"}
            onClick={() => setDoing(doing === "settle" ? null : "settle")}
          >
            Settle them
          </Button>
        )}
        {rights.edit && tab === "open" && (
          <Button
            variant={doing === "allow" ? "contained" : "outlined"}
            color="inherit"
            aria-expanded={doing === "allow"}
            onClick={() => setDoing(doing === "allow" ? null : "allow")}
          >
            Allow them
          </Button>
        )}
        {rights.edit && makers && (
          <Button
            variant="outlined"
            color="inherit"
            loading={mean.isPending}
            onClick={() => mean.mutate({ chosen, meant: !meant })}
          >
            {meant ? "Not meant" : "Meant by the maker"}
          </Button>
        )}
        {!rights.edit && <span>Readers look; an editor decides.</span>}
        <Button color="inherit" onClick={onDone}>
          Choose none
        </Button>
      </div>
      {doing === "settle" && <Settle chosen={chosen} onDone={onDone} />}
      {doing === "allow" && <Allow chosen={chosen} onDone={onDone} />}
    </section>
  );
}

interface ChosenProps {
  chosen: Chosen[];
  onDone: () => void;
}

/** Each group's best way out that makes no clash, one after another, before anything is done. */
function Settle({ chosen, onDone }: ChosenProps) {
  const plan = useSettlement(chosen);
  const settle = useSettle(onDone);
  const [reason, setReason] = useState("");
  if (plan.isError) return <Refusal error={plan.error} />;
  if (!plan.data) return <Waiting what="the best way out of each" />;
  const { settled, solves, makes, entries, people, worth } = plan.data;
  const done = settled.filter((s) => s.done);
  return (
    <form
      className={styles.plan}
      onSubmit={(event) => {
        event.preventDefault();
        settle.mutate({ chosen, ways: settled.map((s) => s.way), reason });
      }}
    >
      <ul aria-label="What would be done">
        {settled.map((s) => (
          <li key={s.identity} className={s.done ? undefined : styles.notDone}>
            {s.says}
          </li>
        ))}
      </ul>
      <Consequences
        plan={{
          told: [`${entries} ${entries === 1 ? "entry" : "entries"}, ${people} people relearn a key.`],
          solves: solves.slice(0, 4),
          makes: makes.slice(0, 6),
          solved: solves.length,
          made: makes.length,
          worth,
        }}
        error={null}
      />
      <div className={styles.why}>
        <TextField
          label="Why (kept with it)"
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          sx={{ width: 300 }}
        />
        <Button type="submit" variant="contained" disabled={done.length === 0} loading={settle.isPending}>
          Settle {done.length === 1 ? "this one" : `these ${done.length}`}
        </Button>
      </div>
    </form>
  );
}

function Allow({ chosen, onDone }: ChosenProps) {
  const allow = useAllowSeveral(onDone);
  const [reason, setReason] = useState("");
  const [until, setUntil] = useState("");
  return (
    <form
      className={styles.why}
      onSubmit={(event) => {
        event.preventDefault();
        allow.mutate({ chosen, reason, until: until || null });
      }}
    >
      <TextField
        label="Why they may stay"
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        required
        sx={{ width: 420 }}
      />
      <UntilField value={until} onChange={setUntil} />
      <Button type="submit" variant="contained" disabled={reason.trim().length < 3} loading={allow.isPending}>
        Allow them
      </Button>
    </form>
  );
}
