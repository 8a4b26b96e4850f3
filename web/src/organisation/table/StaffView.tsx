import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import { useCallback, useDeferredValue, useReducer, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { One } from "../../shared/fields";
import screen from "../../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../../shared/states";
import { useAddress } from "../../shared/useAddress";
import { useRights } from "../../shared/useSession";
import { Words } from "../../shared/Words";
import { ItemPanel } from "../items/ItemPanel";
import type { Seat } from "../items/item";
import { ImportPanel } from "../lists/ImportPanel";
import type { Order, Row, Section, Wanted } from "../useOrganisation";
import { EVERYTHING, useOrganisation } from "../useOrganisation";
import { BulkPanel } from "./BulkPanel";
import { columnsOf } from "./columns";
import { StaffTable } from "./StaffTable";
import { choose, countOf, NOTHING } from "./selection";
import styles from "./Table.module.css";

/** Everybody, or every machine: found, sorted, chosen, changed one by one or many at once, brought in and handed out. */
export function StaffView({ section }: { section: Section }) {
  const organisation = useOrganisation();
  const rights = useRights();
  const [params, setParams] = useSearchParams();
  const words = params.get("words") ?? "";
  const [, setAddress] = useAddress();
  const setWords = (next: string) => setAddress({ words: next });
  const [parts, setParts] = useState<Partial<Wanted>>({});
  const [order, setOrder] = useState<Order>({ by: "name", down: false });
  const [selection, choosing] = useReducer(choose, NOTHING);
  const [total, setTotal] = useState(0);
  const [panel, setPanel] = useState<{ row: Row | null } | null>(null);
  const [list, setList] = useState(false);
  const adding = useRef<HTMLButtonElement>(null);
  const setup = params.get("only") ?? "";
  const wanted: Wanted = { ...EVERYTHING, ...parts, words: useDeferredValue(words), setup };
  const find = (name: keyof Wanted, value: string | boolean) => {
    setParts({ ...parts, [name]: value });
    choosing({ type: "none" });
  };
  const onOrder = (by: string) => setOrder({ by, down: order.by === by && !order.down });
  const onTotal = useCallback((n: number) => setTotal(n), []);
  if (organisation.isError) return <Trouble error={organisation.error} again={() => organisation.refetch()} />;
  if (!organisation.data) return <Waiting what={`the ${section}`} />;
  const { data } = organisation;
  const chosen = countOf(selection, total);
  const one = section === "people" ? "person" : "machine";
  const asked = words !== "" || setup !== "" || Object.values(parts).some(Boolean);
  const nobody = (section === "people" ? data.people : data.machines) === 0 && !parts.retired;
  const leave = () => {
    const was = panel;
    setPanel(null);
    // Whoever adds several adds the next one from here.
    if (was?.row === null) adding.current?.focus();
  };
  return (
    <div className={styles.view}>
      <div>
        <div className={screen.top}>
          <h1>{section === "people" ? "People" : "Machines"}</h1>
          <span>
            {data.name}: <b>{data.people}</b> people at <b>{data.machines}</b> machines in <b>{data.setups}</b> setups
          </span>
          <div className={screen.right}>
            {rights.edit && (
              <Button ref={adding} variant="contained" autoFocus={nobody} onClick={() => setPanel({ row: null })}>
                Add a {one}
              </Button>
            )}
            <Button variant="outlined" color="inherit" aria-expanded={list} onClick={() => setList(!list)}>
              Lists in and out
            </Button>
          </div>
        </div>
        {list && <ImportPanel kinds={section === "people" ? ["people", "uses"] : ["machines"]} />}
        <div className={styles.tools}>
          <Words value={words} onChange={setWords} width={170} />
          <Narrow
            label="Department"
            value={parts.department ?? ""}
            choices={data.departments}
            onChange={(v) => find("department", v)}
          />
          {section === "people" ? (
            <Narrow label="Role" value={parts.role ?? ""} choices={data.roles} onChange={(v) => find("role", v)} />
          ) : (
            <>
              <Narrow
                label="Platform"
                value={parts.platform ?? ""}
                choices={data.platforms}
                onChange={(v) => find("platform", v)}
              />
              <Narrow label="Kit" value={parts.kit ?? ""} choices={data.kits} onChange={(v) => find("kit", v)} />
            </>
          )}
          <FormControlLabel
            control={<Switch checked={parts.retired ?? false} onChange={(e) => find("retired", e.target.checked)} />}
            label="Retired"
          />
          {setup && (
            <Button
              color="inherit"
              variant="outlined"
              onClick={() =>
                setParams((old) => {
                  const next = new URLSearchParams(old);
                  next.delete("only");
                  return next;
                })
              }
            >
              One setup only: show all
            </Button>
          )}
          <span role="status">
            {total.toLocaleString("en")}{" "}
            {section === "people" ? (total === 1 ? "sign-in" : "sign-ins") : total === 1 ? "machine" : "machines"}
            {chosen > 0 && `, ${chosen.toLocaleString("en")} chosen`}
          </span>
        </div>
        {chosen > 0 && rights.edit && (
          <BulkPanel
            section={section}
            organisation={data}
            wanted={wanted}
            selection={selection}
            count={chosen}
            onDone={() => choosing({ type: "none" })}
          />
        )}
      </div>
      <div className={`${styles.split} ${panel ? styles.withPanel : ""}`}>
        {nobody ? (
          <div>
            <Empty title={`No ${one} is known yet.`}>
              <p>Add the first one, or bring in a list under “Lists in and out”.</p>
            </Empty>
          </div>
        ) : (
          <div style={{ display: "grid", minHeight: 0 }}>
            {total === 0 && asked && <p className={styles.tools}>No {one} is like that. Take a filter away.</p>}
            <StaffTable
              key={section}
              section={section}
              columns={columnsOf(section)}
              wanted={wanted}
              order={order}
              onOrder={onOrder}
              selection={selection}
              onSelect={(id) => choosing({ type: "one", id })}
              onSelectAll={() => choosing({ type: "all" })}
              open={panel?.row?.id ?? null}
              onOpen={(row) => setPanel({ row })}
              onTotal={onTotal}
            />
          </div>
        )}
        {panel && (
          <ItemPanel
            key={`${panel.row?.id ?? "new"} ${JSON.stringify(panel.row?.item)}`}
            section={section}
            organisation={data}
            row={panel.row}
            seats={section === "people" ? (panel.row?.seats.map((s) => s.item as unknown as Seat) ?? []) : []}
            machines={
              section === "people"
                ? (panel.row?.seats.map((s) => ({ id: String(s.item.machine), name: s.name, layouts: s.layouts })) ??
                  [])
                : []
            }
            onClose={leave}
          />
        )}
      </div>
    </div>
  );
}

interface NarrowProps {
  label: string;
  value: string;
  choices: { id: string; name: string }[];
  onChange: (id: string) => void;
}

function Narrow(props: NarrowProps) {
  return (
    <span style={{ width: 160 }}>
      <One {...props} none="all" />
    </span>
  );
}
