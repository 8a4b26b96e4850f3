import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { One } from "../../shared/fields";
import { PlatformsChoice } from "../making/PlatformsChoice";
import type { Platform } from "../making/useCatalogue";
import { PLATFORMS, useCatalogue } from "../making/useCatalogue";
import styles from "./List.module.css";
import type { Asked, List } from "./useList";

/** Which program a list speaks of: one that is known, or a new one. */
export function ForProgram({ list, onAsk }: { list: List; onAsk: (part: Partial<Asked>) => void }) {
  const catalogue = useCatalogue();
  const { asked } = list;
  const known = (catalogue.data?.programs ?? []).filter((p) => !p.table);
  const [name, setName] = useState(asked.new?.name ?? "");
  const [version, setVersion] = useState(asked.new?.version ?? "1.0");
  const [platforms, setPlatforms] = useState<Platform[]>(asked.new?.platforms ?? platformsOf(list));
  return (
    <form
      className={styles.program}
      aria-label="Which program it is"
      onSubmit={(event) => {
        event.preventDefault();
        onAsk({ program: null, new: { name, version, kind: "office", platforms } });
      }}
    >
      {list.tables.length > 1 && (
        <span>
          <One
            label="Table"
            value={String(asked.table)}
            choices={list.tables.map((t, n) => ({ id: String(n), name: t }))}
            onChange={(n) => onAsk({ table: Number(n), head: null, columns: null, corrections: {} })}
          />
        </span>
      )}
      <span>
        <One
          label="Program"
          value={asked.program ?? ""}
          none="a new one"
          choices={known.map((p) => ({ id: `${p.id}@${p.version}`, name: `${p.name} ${p.version}` }))}
          onChange={(id) => onAsk({ program: id || null, new: null, next_version: null })}
        />
      </span>
      {asked.program && <Version list={list} onAsk={onAsk} />}
      {!asked.program && (
        <>
          <TextField
            label="Its name"
            value={name}
            required
            autoFocus={!asked.new}
            onChange={(e) => setName(e.target.value)}
          />
          <TextField
            label="Version"
            value={version}
            required
            sx={{ width: 90 }}
            onChange={(e) => setVersion(e.target.value)}
          />
          <PlatformsChoice value={platforms} onChange={setPlatforms} />
          <Button type="submit" variant="outlined" disabled={!name.trim() || !version.trim() || platforms.length === 0}>
            {asked.new ? "Call it that" : "It is this one"}
          </Button>
        </>
      )}
    </form>
  );
}

/** Whether the list speaks of the version that is known or of a newer one, and what becomes of what it lacks there. */
function Version({ list, onAsk }: { list: List; onAsk: (part: Partial<Asked>) => void }) {
  const { asked } = list;
  const [version, setVersion] = useState(asked.next_version ?? "");
  const isNew = version.trim() !== "" && version.trim() !== asked.next_version;
  const say = () => isNew && onAsk({ next_version: version.trim() });
  return (
    <>
      <TextField
        label="Newer version"
        value={version}
        placeholder="none"
        sx={{ width: 140 }}
        slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 40 } }}
        onChange={(e) => setVersion(e.target.value)}
        onKeyDown={(e) => {
          if (e.key !== "Enter") return;
          e.preventDefault();
          say();
        }}
      />
      {isNew && (
        <Button variant="outlined" onClick={say}>
          It is of this version
        </Button>
      )}
      {asked.next_version && (
        <>
          <span>
            <One
              label="Commands that the list lacks"
              value={asked.lacking}
              choices={[
                { id: "gone", name: "are gone" },
                { id: "stay", name: "stay" },
              ]}
              onChange={(lacking) => onAsk({ lacking: lacking === "stay" ? "stay" : "gone" })}
            />
          </span>
          <Button color="inherit" onClick={() => onAsk({ next_version: null })}>
            Of the version that is known
          </Button>
        </>
      )}
    </>
  );
}

/** The platforms of which the list has keys; Windows where it doesn't say. */
function platformsOf(list: List): Platform[] {
  const fields = Object.values(list.columns);
  const found = PLATFORMS.filter((p) => fields.some((f) => f === `keys.${p.id}`)).map((p) => p.id);
  return fields.includes("keys") || found.length === 0 ? [...new Set<Platform>(["windows", ...found])] : found;
}
