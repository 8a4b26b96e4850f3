import Button from "@mui/material/Button";
import { useDeferredValue, useState } from "react";
import { EnrolAgent } from "../../fleet/enrolling/EnrolAgent";
import { Consequences } from "../../shared/Consequences";
import { saveKey } from "../../shared/saveKey";
import { useRights } from "../../shared/useSession";
import type { ItemChange, Organisation, Row, Section } from "../useOrganisation";
import { useChangeItems, usePlan } from "../useOrganisation";
import { EffectiveView } from "./EffectiveView";
import styles from "./Items.module.css";
import type { Item, Seat } from "./item";
import { changesOf, idFrom, likelyLayout, seatChanges, text, usedAtFirst, withField } from "./item";
import { MachineForm } from "./MachineForm";
import type { Place } from "./PersonForm";
import { PersonForm } from "./PersonForm";

interface ItemPanelProps {
  section: Section;
  organisation: Organisation;
  row: Row | null;
  seats: Seat[];
  machines: Place[];
  onClose: () => void;
}

/** One person or machine: what stands in the document, changed with its consequences told first. */
export function ItemPanel({ section, organisation, row, seats, machines, onClose }: ItemPanelProps) {
  const rights = useRights();
  const before = (row?.item as Item | undefined) ?? null;
  const [item, setItem] = useState<Item>(before ?? fresh(section, organisation));
  const [placed, setPlaced] = useState<Seat[]>(seats);
  const [look, setLook] = useState<"item" | "effective">("item");
  const change = useChangeItems();
  // A person who is new gets an id from the server, which says nothing of who it is.
  const own = before || section === "people" ? item : withField(item, "id", idFrom(text(item, "name")));
  const items: ItemChange[] = [
    ...changesOf(section, before, own),
    ...seatChanges(
      seats,
      placed.map((s) => ({ ...s, person: section === "people" ? text(own, "id") : s.person })),
    ),
  ];
  const ready = text(own, section === "people" ? "name" : "id") !== "";
  // What is being saved is planned no more: it is there in the next moment.
  const plan = usePlan(useDeferredValue(ready && !change.isPending ? items : []));
  const one = section === "people" ? "person" : "machine";
  const name = text(own, "name") || `New ${one}`;
  const retired = text(item, "retired") !== "";
  const save = (title: string, given: ItemChange[], close: boolean) =>
    change.mutate({ title, items: given }, { onSuccess: () => close && onClose() });
  const retire = () => {
    const day = new Date().toISOString().slice(0, 10);
    const next = withField(before ?? item, "retired", retired ? null : day);
    save(`${retired ? "Brought back" : "Retired"} ${name}`, changesOf(section, before, next), true);
  };
  const keep = () => save(before ? `Changed ${name}` : `Added ${name}`, items, !before);
  const able = rights.edit && items.length > 0 && ready && !plan.isError && !change.isPending;
  return (
    <aside className={styles.panel} aria-label={name} onKeyDown={saveKey(() => able && keep())}>
      <div className={styles.head}>
        <h2>{name}</h2>
        {section === "people" && row && !retired && rights.edit && (
          <Button color="inherit" onClick={() => setLook(look === "item" ? "effective" : "item")}>
            {look === "item" ? "What is set for them" : "Who they are"}
          </Button>
        )}
        {section === "people" && row && !retired && rights.edit && seats.length > 0 && (
          <Button color="inherit" href={`/cards?${new URLSearchParams({ whom: `person ${row.id}` })}`}>
            Their card
          </Button>
        )}
        <Button color="inherit" onClick={onClose}>
          Close
        </Button>
      </div>
      {look === "effective" && row ? (
        <EffectiveView person={row.id} />
      ) : (
        <>
          {section === "people" ? (
            <PersonForm
              organisation={organisation}
              item={item}
              onItem={setItem}
              seats={placed}
              onSeats={setPlaced}
              machines={machines}
              disabled={!rights.edit}
            />
          ) : (
            <MachineForm organisation={organisation} item={item} onItem={setItem} disabled={!rights.edit} />
          )}
          {row && section === "machines" && (
            <p className={styles.note}>
              {row.cells.at ? `${row.cells.at} sit here. ` : "Nobody sits here; seat people in their own panel. "}
              {row.cells.setups && `It is ${row.cells.setups}.`}
            </p>
          )}
          {items.length > 0 && <Consequences plan={plan.data} error={plan.error} />}
          {rights.edit && (
            <div className={styles.do}>
              <Button
                variant="contained"
                disabled={items.length === 0 || !ready || plan.isError}
                loading={change.isPending}
                title="Ctrl+Enter"
                onClick={keep}
              >
                {before ? "Save" : `Add this ${one}`}
              </Button>
              {before && (
                <Button variant="outlined" color="inherit" onClick={retire}>
                  {retired ? "Bring back" : "Retire"}
                </Button>
              )}
              {items.length > 0 && before && (
                <Button
                  color="inherit"
                  onClick={() => {
                    setItem(before);
                    setPlaced(seats);
                  }}
                >
                  Leave it as it was
                </Button>
              )}
            </div>
          )}
          {row && section === "machines" && !retired && <EnrolAgent machine={row.id} name={name} />}
        </>
      )}
    </aside>
  );
}

function fresh(section: Section, organisation: Organisation): Item {
  if (section === "people") return { name: "", department: organisation.departments[0]?.id ?? "" };
  const platform = organisation.platforms[0];
  if (!platform) return { name: "" };
  const layout = likelyLayout(
    platform.layouts.map((l) => l.id),
    navigator.language,
  );
  const body = layout === "us" ? "ansi" : "iso";
  return {
    name: "",
    platform: platform.id,
    edition: platform.editions.find((e) => e === "Pro") ?? platform.editions[0] ?? "",
    layouts: layout ? [layout] : [],
    body: organisation.bodies.some((b) => b.id === body) ? body : (organisation.bodies[0]?.id ?? ""),
    programs: usedAtFirst(organisation, platform.id),
  };
}
