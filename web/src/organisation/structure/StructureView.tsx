import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useDeferredValue, useState } from "react";
import { Consequences } from "../../shared/Consequences";
import { Many, One } from "../../shared/fields";
import screen from "../../shared/screen.module.css";
import { Trouble, Waiting } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import items from "../items/Items.module.css";
import type { Item } from "../items/item";
import { changesOf, idFrom, list, text, withField } from "../items/item";
import { Programs } from "../items/MachineForm";
import type { Organisation } from "../useOrganisation";
import { useChangeItems, useOrganisation, usePlan } from "../useOrganisation";
import styles from "./Structure.module.css";
import { Uses } from "./Uses";

type Section = "departments" | "roles" | "kits";
type Grouping = Organisation["departments"][number];

const WORDS: Record<Section, { one: string; title: string; says: string }> = {
  departments: {
    one: "department",
    title: "Departments",
    says: "Their profiles apply to all in them, the outermost first.",
  },
  roles: { one: "role", title: "Roles", says: "A person may have two; the nearer one is the later." },
  kits: { one: "kit", title: "Kits", says: "Programs that are installed together on many machines." },
};

/** Departments, roles and kits: few things that many depend on. */
export function StructureView() {
  const organisation = useOrganisation();
  const [open, setOpen] = useState<{ section: Section; id: string | null } | null>(null);
  const rights = useRights();
  if (organisation.isError) return <Trouble error={organisation.error} again={() => organisation.refetch()} />;
  if (!organisation.data) return <Waiting what="the departments" />;
  const { data } = organisation;
  const names = new Map(data.all_profiles.map((p) => [p.id, p.name]));
  const profilesOf = (item: Item) =>
    list(item, "profiles")
      .map((p) => names.get(p) ?? p)
      .join(", ");
  const chosen = open && data[open.section].find((g) => g.id === open.id);
  return (
    <div className={styles.view}>
      <div className={styles.lists}>
        <div className={screen.top}>
          <h1>Departments, roles, kits</h1>
          <span>What many depend on.</span>
        </div>
        <Everybody key={data.profiles.join()} organisation={data} disabled={!rights.edit} />
        {(["departments", "roles", "kits"] as const).map((section) => (
          <section key={section} aria-label={WORDS[section].title}>
            <div className={styles.title}>
              <h2>{WORDS[section].title}</h2>
              <span>{WORDS[section].says}</span>
              {rights.edit && (
                <Button color="inherit" onClick={() => setOpen({ section, id: null })}>
                  Add a {WORDS[section].one}
                </Button>
              )}
            </div>
            <ul>
              {(section === "departments"
                ? tree(data.departments)
                : data[section].map((g) => ({ ...g, depth: 0 }))
              ).map((g) => (
                <li key={g.id}>
                  <button
                    type="button"
                    className={`${styles.row} ${chosen?.id === g.id && open?.section === section ? styles.on : ""}`}
                    aria-expanded={chosen?.id === g.id && open?.section === section}
                    onClick={() => setOpen({ section, id: g.id })}
                  >
                    <b style={{ paddingLeft: g.depth * 18 }}>{g.name}</b>
                    <span>
                      {section === "kits"
                        ? ((g.item.programs as { id: string; version: string }[] | undefined) ?? [])
                            .map((p) => `${data.programs.find((o) => o.id === p.id)?.name ?? p.id} ${p.version}`)
                            .join(", ")
                        : profilesOf(g.item) || "no profile"}
                    </span>
                    <em>
                      {g.count} {section === "kits" ? "machines" : "people"}
                    </em>
                  </button>
                </li>
              ))}
            </ul>
            {data[section].length === 0 && <p className={styles.none}>None yet.</p>}
          </section>
        ))}
      </div>
      {open && (
        <GroupingPanel
          key={`${open.section} ${open.id} ${JSON.stringify(chosen?.item)}`}
          section={open.section}
          grouping={chosen ?? null}
          organisation={data}
          onClose={() => setOpen(null)}
        />
      )}
    </div>
  );
}

/** The profiles of everybody, the farthest layers of all. */
function Everybody({ organisation, disabled }: { organisation: Organisation; disabled: boolean }) {
  const [profiles, setProfiles] = useState(organisation.profiles);
  const change = useChangeItems();
  const changes = changesOf("everybody", { profiles: organisation.profiles }, { profiles });
  const plan = usePlan(useDeferredValue(changes));
  return (
    <section className={styles.everybody} aria-label="Everybody">
      <Many
        label="Profiles of everybody, the nearest last"
        value={profiles}
        choices={organisation.all_profiles}
        disabled={disabled}
        onChange={setProfiles}
      />
      {changes.length > 0 && (
        <>
          <Consequences plan={plan.data} error={plan.error} />
          <div className={items.do}>
            <Button
              variant="contained"
              disabled={plan.isError}
              loading={change.isPending}
              onClick={() => change.mutate({ title: "Changed the profiles of everybody", items: changes })}
            >
              Save
            </Button>
            <Button color="inherit" onClick={() => setProfiles(organisation.profiles)}>
              Leave it as it was
            </Button>
          </div>
        </>
      )}
    </section>
  );
}

/** Departments with those inside them right below. */
export function tree(departments: Grouping[]): (Grouping & { depth: number })[] {
  const inside = (parent: string | undefined, depth: number): (Grouping & { depth: number })[] =>
    departments
      .filter((d) => (d.item.parent as string | undefined) === parent)
      .flatMap((d) => [{ ...d, depth }, ...inside(d.id, depth + 1)]);
  return inside(undefined, 0);
}

interface GroupingPanelProps {
  section: Section;
  grouping: Grouping | null;
  organisation: Organisation;
  onClose: () => void;
}

function GroupingPanel({ section, grouping, organisation, onClose }: GroupingPanelProps) {
  const rights = useRights();
  const before = (grouping?.item as Item | undefined) ?? null;
  const [item, setItem] = useState<Item>(before ?? (section === "kits" ? { name: "", programs: [] } : { name: "" }));
  const change = useChangeItems();
  const own = before ? item : withField(item, "id", idFrom(text(item, "name")));
  const whole = section === "kits" && own.programs === undefined ? { ...own, programs: [] } : own;
  const ready = text(whole, "id") !== "";
  const changes = ready ? changesOf(section, before, whole) : [];
  const plan = usePlan(useDeferredValue(changes));
  const { one } = WORDS[section];
  const name = text(item, "name") || `New ${one}`;
  const set = (field: string, value: unknown) => setItem(withField(item, field, value));
  return (
    <aside className={items.panel} aria-label={name}>
      <div className={items.head}>
        <h2>{name}</h2>
        <Button color="inherit" onClick={onClose}>
          Close
        </Button>
      </div>
      <div className={items.form}>
        <TextField
          label="Name"
          value={text(item, "name")}
          disabled={!rights.edit}
          onChange={(e) => set("name", e.target.value)}
        />
        {section === "departments" && (
          <One
            label="Inside"
            value={text(item, "parent")}
            none="no other department"
            choices={organisation.departments.filter((d) => d.id !== grouping?.id)}
            disabled={!rights.edit}
            onChange={(id) => set("parent", id)}
          />
        )}
        {section === "kits" ? (
          <Programs
            organisation={organisation}
            used={(item.programs as { id: string; version: string }[] | undefined) ?? []}
            title="Programs, in the order in which they start"
            disabled={!rights.edit}
            onChange={(programs) => setItem({ ...item, programs })}
          />
        ) : (
          <Many
            label="Profiles, the nearest last"
            value={list(item, "profiles")}
            choices={organisation.all_profiles}
            disabled={!rights.edit}
            onChange={(ids) => set("profiles", ids)}
          />
        )}
      </div>
      {changes.length > 0 && <Consequences plan={plan.data} error={plan.error} />}
      {rights.edit && (
        <div className={items.do}>
          <Button
            variant="contained"
            disabled={changes.length === 0 || plan.isError}
            loading={change.isPending}
            onClick={() =>
              change.mutate(
                { title: before ? `Changed the ${one} ${name}` : `Added the ${one} ${name}`, items: changes },
                { onSuccess: () => !before && onClose() },
              )
            }
          >
            {before ? "Save" : `Add this ${one}`}
          </Button>
          {before && grouping?.count === 0 && (
            <Button
              variant="outlined"
              color="inherit"
              onClick={() =>
                change.mutate(
                  { title: `Removed the ${one} ${name}`, items: changesOf(section, before, null) },
                  { onSuccess: onClose },
                )
              }
            >
              Remove
            </Button>
          )}
        </div>
      )}
      {section === "roles" && grouping && (
        <Uses role={grouping.id} organisation={organisation} disabled={!rights.edit} />
      )}
    </aside>
  );
}
