import Button from "@mui/material/Button";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Consequences } from "../../shared/Consequences";
import { One } from "../../shared/fields";
import type { Bulk, Organisation, Section, Wanted } from "../useOrganisation";
import { useBulk, useBulkPlan } from "../useOrganisation";
import type { Selection } from "./selection";
import styles from "./Table.module.css";

type Wish = Partial<Schemas["Wish"]>;

const NO_WISH: Schemas["Wish"] = {
  add_roles: [],
  drop_roles: [],
  add_kits: [],
  drop_kits: [],
  add_profiles: [],
  drop_profiles: [],
};

interface Choice {
  id: string;
  name: string;
  wish: Wish;
}

interface BulkPanelProps {
  section: Section;
  organisation: Organisation;
  wanted: Wanted;
  selection: Selection;
  count: number;
  onDone: () => void;
}

/** The same change for all that are chosen: what it would do is told before it is made, and one undo takes it back. */
export function BulkPanel({ section, organisation, wanted, selection, count, onDone }: BulkPanelProps) {
  const [what, setWhat] = useState("");
  const [to, setTo] = useState("");
  const kinds = kindsOf(section, organisation);
  const choice = kinds.find((k) => k.id === what)?.choices.find((c) => c.id === to);
  const given: Bulk = {
    section,
    ids: selection.all ? null : [...selection.chosen],
    wanted,
    without: [...selection.except],
    wish: { ...NO_WISH, ...choice?.wish },
  };
  const plan = useBulkPlan(given, choice !== undefined);
  const bulk = useBulk();
  const names = section === "people" ? "sign-ins" : "machines";
  return (
    <section className={styles.bulk} aria-label="Change all that are chosen">
      <div>
        <b>
          {count.toLocaleString("en")} {names}:
        </b>
        <span style={{ width: 210 }}>
          <One
            label="What shall change"
            value={what}
            choices={kinds}
            onChange={(id) => {
              setWhat(id);
              setTo("");
            }}
          />
        </span>
        <span style={{ width: 260 }}>
          <One
            label="To"
            value={to}
            choices={kinds.find((k) => k.id === what)?.choices ?? []}
            disabled={what === ""}
            onChange={setTo}
          />
        </span>
        <Button
          variant="contained"
          disabled={!choice || plan.isError || plan.data?.changed === 0}
          loading={bulk.isPending}
          onClick={() => bulk.mutate(given, { onSuccess: onDone })}
        >
          {plan.data && choice ? `Change ${plan.data.changed.toLocaleString("en")}` : "Change them"}
        </Button>
        <Button color="inherit" onClick={onDone}>
          Choose nothing
        </Button>
      </div>
      {choice && plan.data?.changed === 0 ? (
        <span role="status">All of them are so already.</span>
      ) : (
        choice && <Consequences plan={plan.data} error={plan.error} />
      )}
    </section>
  );
}

function kindsOf(section: Section, o: Organisation): { id: string; name: string; choices: Choice[] }[] {
  const each = (found: { id: string; name: string }[], wish: (id: string) => Wish): Choice[] =>
    found.map((f) => ({ id: f.id, name: f.name, wish: wish(f.id) }));
  const profiles = [
    { id: "add_profiles", name: "Give a profile", choices: each(o.all_profiles, (id) => ({ add_profiles: [id] })) },
    {
      id: "drop_profiles",
      name: "Take a profile away",
      choices: each(o.all_profiles, (id) => ({ drop_profiles: [id] })),
    },
    {
      id: "retired",
      name: "In use",
      choices: [
        { id: "out", name: "retired from today", wish: { retired: true } },
        { id: "in", name: "in use again", wish: { retired: false } },
      ],
    },
  ];
  if (section === "people") {
    return [
      { id: "department", name: "Department", choices: each(o.departments, (department) => ({ department })) },
      { id: "add_roles", name: "Give a role", choices: each(o.roles, (id) => ({ add_roles: [id] })) },
      { id: "drop_roles", name: "Take a role away", choices: each(o.roles, (id) => ({ drop_roles: [id] })) },
      ...profiles,
    ];
  }
  const layouts = o.platforms.flatMap((p) => p.layouts.map((l) => ({ id: l.id, name: `${l.name}, on ${p.name}` })));
  const once = [...new Map(layouts.map((l) => [l.id, l])).values()];
  const editions = o.platforms.flatMap((p) => p.editions.map((e) => ({ id: e, name: `${p.name} ${e}` })));
  const versions = o.programs.flatMap((p) =>
    p.versions.map((version) => ({
      id: `${p.id} ${version}`,
      name: `${p.name} ${version}`,
      wish: { version: { program: p.id, version } },
    })),
  );
  return [
    { id: "version", name: "A program's version, where it is", choices: versions },
    { id: "body", name: "Keyboard body", choices: each(o.bodies, (body) => ({ body })) },
    { id: "layouts", name: "Keyboard layout, alone", choices: each(once, (id) => ({ layouts: [id] })) },
    { id: "edition", name: "Edition", choices: each(editions, (edition) => ({ edition })) },
    { id: "add_kits", name: "Give a kit", choices: each(o.kits, (id) => ({ add_kits: [id] })) },
    { id: "drop_kits", name: "Take a kit away", choices: each(o.kits, (id) => ({ drop_kits: [id] })) },
    {
      id: "numlock",
      name: "NumLock",
      choices: [
        { id: "on", name: "on", wish: { numlock: true } },
        { id: "off", name: "off", wish: { numlock: false } },
      ],
    },
    ...profiles,
  ];
}
