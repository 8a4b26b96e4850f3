import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Named } from "../../shared/fields";
import { Many, One } from "../../shared/fields";
import type { Organisation } from "../useOrganisation";
import { useNear } from "../useOrganisation";
import styles from "./Items.module.css";
import type { Item, Seat } from "./item";
import { list, text, withField } from "./item";

/** A machine at which somebody may sit, with the layouts that it has. */
export interface Place extends Named {
  layouts: string[];
}

interface PersonFormProps {
  organisation: Organisation;
  item: Item;
  onItem: (item: Item) => void;
  seats: Seat[];
  onSeats: (seats: Seat[]) => void;
  machines: Place[];
  disabled: boolean;
}

/** Who somebody is, what they do, where they sit and which profiles are theirs alone. */
export function PersonForm({ organisation, item, onItem, seats, onSeats, machines, disabled }: PersonFormProps) {
  const set = (name: string, value: unknown) => onItem(withField(item, name, value));
  const [words, setWords] = useState("");
  const near: Place[] = useNear("machines", words).map((row) => ({
    id: row.id,
    name: row.cells.name ?? row.id,
    layouts: list(row.item, "layouts"),
  }));
  const known = [...near, ...machines.filter((m) => near.every((n) => n.id !== m.id))];
  const assistive = item.assistive as { name: string; modifier: string } | undefined;
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
          label="Department"
          value={text(item, "department")}
          choices={organisation.departments}
          disabled={disabled}
          onChange={(id) => set("department", id)}
        />
        <TextField
          label="Stands for (people)"
          type="number"
          value={text(item, "stands_for") || "1"}
          disabled={disabled}
          onChange={(e) => set("stands_for", Number(e.target.value) === 1 ? null : Number(e.target.value))}
          slotProps={{ htmlInput: { min: 1, max: 10000 } }}
        />
      </div>
      <Many
        label="Roles, the nearest last"
        value={list(item, "roles")}
        choices={organisation.roles}
        disabled={disabled}
        onChange={(ids) => set("roles", ids)}
      />
      <Many
        label="Sits at"
        value={seats.map((s) => s.machine)}
        choices={known}
        disabled={disabled}
        onWords={setWords}
        onChange={(ids) =>
          onSeats(
            ids.map((machine) => seats.find((s) => s.machine === machine) ?? { person: text(item, "id"), machine }),
          )
        }
      />
      {seats.map((seat) => {
        const place = known.find((k) => k.id === seat.machine);
        if (!place || place.layouts.length < 2) return null;
        const names = new Map(organisation.platforms.flatMap((p) => p.layouts.map((l) => [l.id, l.name])));
        return (
          <One
            key={seat.machine}
            label={`Types at ${place.name} on`}
            value={seat.layout ?? ""}
            none="any of its layouts"
            choices={place.layouts.map((id) => ({ id, name: names.get(id) ?? id }))}
            disabled={disabled}
            onChange={(layout) =>
              onSeats(
                seats.map((s) => {
                  if (s.machine !== seat.machine) return s;
                  return layout ? { ...s, layout } : { person: s.person, machine: s.machine };
                }),
              )
            }
          />
        );
      })}
      {/* Who may only look is not told of hands, helpers and own layers. */}
      {!disabled && (
        <>
          <Many
            label="Profiles of this person alone"
            value={list(item, "profiles")}
            choices={organisation.all_profiles}
            disabled={disabled}
            onChange={(ids) => set("profiles", ids)}
          />
          <div className={styles.pair}>
            <One
              label="Mouse hand"
              value={text(item, "mouse_hand")}
              none="not known"
              choices={[
                { id: "left", name: "left" },
                { id: "right", name: "right" },
              ]}
              disabled={disabled}
              onChange={(id) => set("mouse_hand", id)}
            />
            <One
              label="Assistive program's own key"
              value={assistive?.modifier ?? ""}
              none="none"
              choices={[
                { id: "Insert", name: "Insert" },
                { id: "CapsLock", name: "Caps Lock" },
              ]}
              disabled={disabled}
              onChange={(id) =>
                set("assistive", id ? { name: assistive?.name ?? "Screen reader", modifier: id } : null)
              }
            />
          </div>
        </>
      )}
    </div>
  );
}
