import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import { Link, useSearchParams } from "react-router";
import { FileButton } from "../../shared/FileButton";
import { One } from "../../shared/fields";
import { Sheets } from "../../shared/Sheets";
import screen from "../../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import styles from "./ByHand.module.css";
import type { Item, Work } from "./useWorklist";
import { useBringBack, useTick, useWork, useWorklist } from "./useWorklist";

/** What no settings file says: to be set by hand on machines, printed, ticked, brought back. */
export function ByHandView() {
  const list = useWorklist();
  const [params, setParams] = useSearchParams();
  const rights = useRights();
  const bring = useBringBack();
  const setup = list.data?.find((w) => w.setup === params.get("setup")) ?? list.data?.[0];
  const work = useWork(setup?.setup);
  if (list.isError) return <Trouble error={list.error} again={() => list.refetch()} />;
  if (!list.data) return <Waiting what="the worklist" />;
  if (!setup) {
    return (
      <Empty whole title="Nothing has to be set by hand.">
        <p>
          What is released reaches machines by the files of their programs, or nothing is released yet. What no file
          says would stand here. <Link to="/machines">Agents</Link>
        </p>
      </Empty>
    );
  }
  const change = (parts: Record<string, string>) =>
    setParams((old) => {
      const next = new URLSearchParams(old);
      for (const [name, value] of Object.entries(parts)) next.set(name, value);
      return next;
    });
  const left = list.data.reduce((n, w) => n + w.total - w.done, 0);
  const machine = work.data?.machines.find((m) => m.id === params.get("machine"));
  return (
    <div className={styles.view}>
      <div className={screen.top}>
        <h1>By hand</h1>
        <span role="status">
          <b>{left}</b> {left === 1 ? "thing" : "things"} to set on machines, since no settings file says them. They are
          never counted as in step.
        </span>
      </div>
      <div className={styles.choose} data-noprint>
        <One
          label="Setup"
          value={setup.setup}
          choices={list.data.map((w) => ({ id: w.setup, name: `${w.name} (${w.done} of ${w.total} done)` }))}
          onChange={(id) => change({ setup: id, machine: "" })}
        />
        <One
          label="Machine"
          none={`all ${setup.machines}`}
          value={machine?.id ?? ""}
          choices={work.data?.machines ?? []}
          onChange={(id) => change({ machine: id })}
        />
        <Button variant="outlined" onClick={() => window.print()}>
          Print
        </Button>
        <Sheets
          sheets={[
            { name: "This setup", path: "/api/worklist", query: { setup: setup.setup } },
            { name: "All setups", path: "/api/worklist" },
          ]}
        />
        {rights.edit && (
          <FileButton accept=".csv,.ods,.xlsx" variant="text" loading={bring.isPending} onFile={bring.mutate}>
            Bring a ticked list back
          </FileButton>
        )}
        <Link to="/machines">Agents</Link>
      </div>
      {work.isError && <Trouble error={work.error} again={() => work.refetch()} />}
      {!work.data && !work.isError && <Waiting what="what there is to do" />}
      {work.data && <Things work={work.data} only={machine?.id ?? null} />}
    </div>
  );
}

function Things({ work, only }: { work: Work; only: string | null }) {
  const machines = only ? work.machines.filter((m) => m.id === only) : work.machines;
  return (
    <table className={styles.things}>
      <caption>
        {work.name}: {machines.length === 1 ? machines[0]?.name : `${machines.length} machines`}
      </caption>
      <thead>
        <tr>
          <th scope="col">Done</th>
          <th scope="col">What</th>
          <th scope="col">Where</th>
          <th scope="col">So far</th>
          <th scope="col">Set it to</th>
        </tr>
      </thead>
      <tbody>
        {work.items.map((item) => (
          <Thing key={item.id} item={item} machines={machines} />
        ))}
      </tbody>
    </table>
  );
}

function Thing({ item, machines }: { item: Item; machines: Work["machines"] }) {
  const rights = useRights();
  const tick = useTick();
  const done = machines.filter((m) => m.done.includes(item.id)).length;
  const again = machines.filter((m) => m.again.includes(item.id));
  const all = done === machines.length;
  const set = (on: boolean) => {
    const touched = machines.filter((m) => m.done.includes(item.id) !== on);
    tick.mutate(touched.map((m) => ({ machine: m.id, item: item.id, content: on ? item.content : null })));
  };
  return (
    <tr className={all ? styles.done : undefined}>
      <td>
        <Checkbox
          size="small"
          checked={all}
          indeterminate={done > 0 && !all}
          disabled={!rights.edit || tick.isPending}
          onChange={(e) => set(e.target.checked)}
          slotProps={{ input: { "aria-label": `${item.what}, set to ${item.new}` } }}
        />
        {machines.length > 1 && (
          <small>
            {done} of {machines.length}
          </small>
        )}
      </td>
      <th scope="row">{item.what}</th>
      <td title={item.why}>{item.where}</td>
      <td>{item.old}</td>
      <td>
        <b>{item.new}</b>
        {again.length > 0 && (
          <small>
            Was set otherwise before{machines.length > 1 && ` on ${again.map((m) => m.name).join(", ")}`}; do it again.
          </small>
        )}
      </td>
    </tr>
  );
}
