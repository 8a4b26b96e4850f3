import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { Free, One } from "../../shared/fields";
import type { Organisation } from "../useOrganisation";
import styles from "./Items.module.css";
import type { Item } from "./item";
import { list, text, withField } from "./item";

interface SessionFormProps {
  organisation: Organisation;
  item: Item;
  onItem: (item: Item) => void;
  disabled: boolean;
}

const PRESSES = [
  { id: "kept", name: "this machine keeps its own hotkeys" },
  { id: "passed on", name: "its hotkeys are passed on to the far machine" },
];

/** The session with a far machine of another platform: its system, and the layout there that is like the one here. */
function movedTo(platform: string, session: Item, item: Item, organisation: Organisation): Item {
  const system = organisation.programs.find((p) => p.kind === "system" && p.platforms.includes(platform));
  const { layout: _, edition: __, ...rest } = session;
  const there = system ? { id: system.id, version: system.versions.at(-1) } : rest.system;
  const next = { ...rest, platform, system: there };
  if (platform === text(item, "platform")) return next;
  const layouts = (id: string) => organisation.platforms.find((p) => p.id === id)?.layouts ?? [];
  const mine = layouts(text(item, "platform")).find((l) => l.id === list(item, "layouts")[0]);
  const alike = layouts(platform).find((l) => mine && (l.name.startsWith(mine.name) || mine.name.startsWith(l.name)));
  return withField(next, "layout", (alike ?? layouts(platform)[0])?.id);
}

/** A session on a far machine, in which the machine's programs run: the far system, and how it reads the keys. */
export function SessionForm({ organisation, item, onItem, disabled }: SessionFormProps) {
  const session = item.remote as Item | undefined;
  const put = (next: Item | null) => onItem(withField(item, "remote", next));
  const far = (session && text(session, "platform")) || text(item, "platform");
  const platform = organisation.platforms.find((p) => p.id === far);
  const systems = organisation.programs.filter((p) => p.kind === "system" && p.platforms.includes(far));
  const table = session?.system as { id: string; version: string } | undefined;
  const first = systems[0];
  return (
    <fieldset className={styles.rows}>
      <legend className={styles.sub}>Session on a far machine</legend>
      {session ? (
        <>
          <TextField
            label="Its name"
            value={text(session, "name")}
            disabled={disabled}
            onChange={(e) => put({ ...session, name: e.target.value })}
          />
          <One
            label="Presses"
            value={text(session, "presses")}
            choices={PRESSES}
            disabled={disabled}
            onChange={(presses) => put({ ...session, presses })}
          />
          <div className={styles.pair}>
            <One
              label="Platform over there"
              value={far}
              choices={organisation.platforms}
              disabled={disabled}
              onChange={(id) => put(movedTo(id, session, item, organisation))}
            />
            <Free
              label="Edition over there"
              value={text(session, "edition")}
              choices={platform?.editions ?? []}
              disabled={disabled}
              onChange={(edition) => put(withField(session, "edition", edition))}
            />
          </div>
          <div className={styles.pair}>
            <One
              label="Table of the far system"
              value={table ? `${table.id} ${table.version}` : ""}
              choices={systems.flatMap((s) =>
                s.versions.map((v) => ({
                  id: `${s.id} ${v}`,
                  name: s.versions.length > 1 ? `${s.name} ${v}` : s.name,
                })),
              )}
              disabled={disabled}
              onChange={(both) => {
                const [id = "", ...version] = both.split(" ");
                put({ ...session, system: { id, version: version.join(" ") } });
              }}
            />
            <One
              label="Layout by which it reads the keys"
              none="the same as here"
              value={text(session, "layout")}
              choices={platform?.layouts ?? []}
              disabled={disabled}
              onChange={(layout) => put(withField(session, "layout", layout))}
            />
          </div>
          <div>
            <Button color="inherit" disabled={disabled} onClick={() => put(null)}>
              Take the session out
            </Button>
          </div>
        </>
      ) : (
        <div>
          <Button
            variant="outlined"
            color="inherit"
            disabled={disabled || !first}
            onClick={() =>
              first &&
              put({
                name: "Session",
                presses: "passed on",
                system: { id: first.id, version: first.versions.at(-1) ?? "" },
              })
            }
          >
            Add a session
          </Button>
        </div>
      )}
    </fieldset>
  );
}
