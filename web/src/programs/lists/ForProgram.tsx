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
          onChange={(id) => onAsk({ program: id || null, new: null })}
        />
      </span>
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

/** The platforms of which the list has keys; Windows where it doesn't say. */
function platformsOf(list: List): Platform[] {
  const fields = Object.values(list.columns);
  const found = PLATFORMS.filter((p) => fields.some((f) => f === `keys.${p.id}`)).map((p) => p.id);
  return fields.includes("keys") || found.length === 0 ? [...new Set<Platform>(["windows", ...found])] : found;
}
