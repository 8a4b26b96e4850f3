import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import { Free, Many, One } from "../../shared/fields";
import type { Organisation } from "../useOrganisation";
import { InputMethodForm } from "./InputMethodForm";
import styles from "./Items.module.css";
import type { Item } from "./item";
import { list, text, usedAtFirst, withField } from "./item";
import { SessionForm } from "./SessionForm";

const TOP_ROW = ["function keys", "special keys"].map((id) => ({ id, name: id }));

interface Used {
  id: string;
  version: string;
  runs?: string;
  full_screen?: boolean;
  goes_first?: boolean;
  add_ons?: string[];
  on?: string[];
  off?: string[];
}

const WINDOWS = [
  { id: "tab", name: "in a tab of a browser" },
  { id: "tab behind", name: "in a tab, where the page may not go first" },
  { id: "tab full", name: "in a tab, full screen" },
  { id: "own", name: "in a window of its own" },
  { id: "own full", name: "in a window of its own, full screen" },
];

type Platform = Organisation["platforms"][number];

/** The versions that the system's table knows of an edition, the newest first; of all where the edition says none of its own. */
function releasesOf(platform: Platform | undefined, edition: string): string[] {
  const known = platform?.releases ?? [];
  const named = known.filter((r) => r.edition !== "" && edition.toLowerCase().includes(r.edition.toLowerCase()));
  const own = named.length > 0 ? named : known.filter((r) => r.edition === "");
  return own.map((r) => r.name).reverse();
}

function windowOf({ runs, full_screen, goes_first }: Used): string {
  const own = runs === "in a window of its own";
  if (full_screen) return own ? "own full" : "tab full";
  if (own) return "own";
  return goes_first === false ? "tab behind" : "tab";
}

function inWindow({ runs: _, full_screen: __, goes_first: ___, ...rest }: Used, id: string): Used {
  return {
    ...rest,
    ...(id.startsWith("own") && { runs: "in a window of its own" }),
    ...(id.endsWith("full") && { full_screen: true }),
    ...(id.endsWith("behind") && { goes_first: false }),
  };
}

interface MachineFormProps {
  organisation: Organisation;
  item: Item;
  onItem: (item: Item) => void;
  disabled: boolean;
}

/** What a machine is: platform, keyboards, and the programs that its kits and it itself have. */
export function MachineForm({ organisation, item, onItem, disabled }: MachineFormProps) {
  const set = (name: string, value: unknown) => onItem(withField(item, name, value));
  const platform = organisation.platforms.find((p) => p.id === text(item, "platform"));
  return (
    <div className={styles.form}>
      <TextField
        label="Name"
        value={text(item, "name")}
        autoFocus={text(item, "name") === ""}
        disabled={disabled}
        onChange={(e) => set("name", e.target.value)}
      />
      <div className={styles.pair}>
        <One
          label="Platform"
          value={text(item, "platform")}
          choices={organisation.platforms}
          disabled={disabled}
          onChange={(id) => {
            const own = new Set(organisation.programs.filter((p) => p.kind === "system").map((p) => p.id));
            const kept = ((item.programs as Used[] | undefined) ?? []).filter((u) => !own.has(u.id));
            const programs = [...usedAtFirst({ ...organisation, machines: 1 }, id), ...kept];
            onItem({ ...withField(withField(item, "platform", id), "layouts", []), programs });
          }}
        />
        <Free
          label="Edition"
          value={text(item, "edition")}
          choices={platform?.editions ?? []}
          disabled={disabled}
          onChange={(edition) => set("edition", edition)}
        />
      </div>
      <div className={styles.pair}>
        <Free
          label="Version, if not the newest"
          value={text(item, "edition_version")}
          choices={releasesOf(platform, text(item, "edition"))}
          disabled={disabled}
          onChange={(version) => set("edition_version", version)}
        />
        <TextField
          label="Displays"
          type="number"
          value={text(item, "displays") || "1"}
          disabled={disabled}
          onChange={(e) => set("displays", Number(e.target.value) === 1 ? null : Number(e.target.value))}
          slotProps={{ htmlInput: { min: 1, max: 16 } }}
        />
      </div>
      <Many
        label="Keyboard layouts, the one that it starts with first"
        value={list(item, "layouts")}
        choices={platform?.layouts ?? []}
        disabled={disabled}
        onChange={(ids) => set("layouts", ids)}
      />
      <One
        label="Keyboard body"
        value={text(item, "body")}
        choices={organisation.bodies}
        disabled={disabled}
        onChange={(id) => set("body", id)}
      />
      <One
        label="Top row without Fn"
        value={text(item, "top_row") || "function keys"}
        choices={TOP_ROW}
        disabled={disabled}
        onChange={(row) => set("top_row", row === "function keys" ? null : row)}
      />
      <Many
        label="Kits"
        value={list(item, "kits")}
        choices={organisation.kits}
        disabled={disabled}
        onChange={(ids) => set("kits", ids)}
      />
      <Programs
        organisation={organisation}
        used={(item.programs as Used[] | undefined) ?? []}
        title="Programs that stand over its kits"
        disabled={disabled}
        onChange={(programs) => set("programs", programs)}
      />
      <Many
        label="Profiles of this machine alone"
        value={list(item, "profiles")}
        choices={organisation.all_profiles}
        disabled={disabled}
        onChange={(ids) => set("profiles", ids)}
      />
      <FormControlLabel
        control={
          <Switch
            checked={item.numlock !== false}
            disabled={disabled}
            onChange={(e) => set("numlock", e.target.checked ? null : false)}
          />
        }
        label="NumLock is on"
      />
      <InputMethodForm known={platform?.input_methods ?? []} item={item} onItem={onItem} disabled={disabled} />
      <SessionForm organisation={organisation} item={item} onItem={onItem} disabled={disabled} />
    </div>
  );
}

interface ProgramsProps {
  organisation: Organisation;
  used: Used[];
  title: string;
  disabled: boolean;
  onChange: (used: Used[]) => void;
}

/** Programs with their versions and add-ons, in the order in which they start. */
export function Programs({ organisation, used, title, disabled, onChange }: ProgramsProps) {
  const put = (at: number, next: Used) => onChange(used.map((u, n) => (n === at ? next : u)));
  const left = organisation.programs.filter((p) => used.every((u) => u.id !== p.id));
  const first = left[0];
  return (
    <fieldset className={styles.rows}>
      <legend className={styles.sub}>{title}</legend>
      {used.map((one, n) => {
        const program = organisation.programs.find((p) => p.id === one.id);
        return (
          <div key={one.id} className={styles.rows}>
            <div className={styles.line}>
              <One
                label="Program"
                value={one.id}
                choices={organisation.programs.filter((p) => p.id === one.id || left.includes(p))}
                disabled={disabled}
                onChange={(id) => {
                  const version = organisation.programs.find((p) => p.id === id)?.versions.at(-1) ?? "";
                  put(n, { id, version });
                }}
              />
              <One
                label="Version"
                value={one.version}
                choices={(program?.versions ?? [one.version]).map((v) => ({ id: v, name: v }))}
                disabled={disabled}
                onChange={(version) => put(n, { ...one, version })}
              />
              <Button
                color="inherit"
                disabled={disabled}
                aria-label={`Take out ${program?.name ?? one.id}`}
                onClick={() => onChange(used.filter((_, m) => m !== n))}
              >
                Take out
              </Button>
            </div>
            {program?.kind === "web" && (
              <One
                label={`Window of ${program.name}`}
                value={windowOf(one)}
                choices={WINDOWS}
                disabled={disabled}
                onChange={(id) => put(n, inWindow(one, id))}
              />
            )}
            {program && program.turned_on.length > 0 && (
              <Many
                label={`Switched on in ${program.name}`}
                value={one.on ?? []}
                choices={program.turned_on}
                disabled={disabled}
                onChange={(ids) => put(n, withField({ ...one }, "on", ids) as unknown as Used)}
              />
            )}
            {program && program.turned_off.length > 0 && (
              <Many
                label={`Switched off in ${program.name}`}
                value={one.off ?? []}
                choices={program.turned_off}
                disabled={disabled}
                onChange={(ids) => put(n, withField({ ...one }, "off", ids) as unknown as Used)}
              />
            )}
            {program && program.add_ons.length > 0 && (
              <Many
                label={`Add-ons of ${program.name}`}
                value={one.add_ons ?? []}
                choices={program.add_ons}
                disabled={disabled}
                onChange={(ids) => put(n, withField({ ...one }, "add_ons", ids) as unknown as Used)}
              />
            )}
          </div>
        );
      })}
      <div>
        <Button
          variant="outlined"
          color="inherit"
          disabled={disabled || !first}
          onClick={() => first && onChange([...used, { id: first.id, version: first.versions.at(-1) ?? "" }])}
        >
          Add a program
        </Button>
      </div>
    </fieldset>
  );
}
