import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { useState } from "react";
import { useRights } from "../../shared/useSession";
import styles from "./Sections.module.css";
import type { Held, Wish } from "./useHeld";
import { useSaveItems } from "./useHeld";

interface Item {
  key: string;
  item: Record<string, unknown>;
  /** What it is called beside its buttons. */
  name: string;
}

interface ItemListProps<One extends Item> {
  held: Held;
  section: string;
  /** What the list is called. */
  label: string;
  /** What the button for one more says. */
  add: string;
  items: One[];
  /** What stands there while there is none. */
  empty: ReactNode;
  head: (one: One) => ReactNode;
  body: (one: One) => ReactNode;
  form: (of: Wish, onLeave: () => void) => ReactNode;
}

/** Items of a section in a list: each can be changed and taken out, and one more be added, in a form below. */
export function ItemList<One extends Item>(props: ItemListProps<One>) {
  const { held, section, label, add, items, empty, head, body, form } = props;
  const rights = useRights();
  const may = rights.edit && !held.compiled;
  const save = useSaveItems(held.profile, section);
  const [open, setOpen] = useState<Wish | null>(null);
  return (
    <>
      {items.length === 0 && empty}
      <ul className={styles.rows} aria-label={label}>
        {items.map((one) => (
          <li key={one.key}>
            <span>{head(one)}</span>
            <div>{body(one)}</div>
            {may && (
              <span className={styles.buttons}>
                <Button size="small" color="inherit" onClick={() => setOpen({ key: one.key, item: one.item })}>
                  Change<span className="unseen"> {one.name}</span>
                </Button>
                <Button size="small" color="inherit" onClick={() => save.mutate([{ key: one.key, item: null }])}>
                  Take out<span className="unseen"> {one.name}</span>
                </Button>
              </span>
            )}
          </li>
        ))}
      </ul>
      {may && !open && (
        <p className={styles.form}>
          <span>
            <Button variant="outlined" onClick={() => setOpen({ key: null, item: {} })}>
              {add}
            </Button>
          </span>
        </p>
      )}
      {open && <div key={open.key ?? "new"}>{form(open, () => setOpen(null))}</div>}
    </>
  );
}
