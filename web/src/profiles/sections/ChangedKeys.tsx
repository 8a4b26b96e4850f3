import Button from "@mui/material/Button";
import { useState } from "react";
import { One } from "../../shared/fields";
import { Empty } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import { Draft } from "./Draft";
import styles from "./Sections.module.css";
import type { Held, Wish } from "./useHeld";

const LETTERS = [..."ABCDEFGHIJKLMNOPQRSTUVWXYZ"].map((c) => ({ id: `Key${c}`, name: `${c}, by its place` }));
const NAMED: Record<string, string> = {
  CapsLock: "Caps Lock",
  ControlLeft: "Control, left",
  ControlRight: "Control, right",
  ShiftLeft: "Shift, left",
  ShiftRight: "Shift, right",
  AltLeft: "Alt, left",
  AltRight: "Alt, right",
  MetaLeft: "Meta, left",
  MetaRight: "Meta, right",
  ContextMenu: "Menu",
  Escape: "Escape",
  Tab: "Tab",
  Enter: "Enter",
  Backspace: "Backspace",
  Space: "Space",
  Insert: "Insert",
  Delete: "Delete",
  Home: "Home",
  End: "End",
  PageUp: "Page up",
  PageDown: "Page down",
  PrintScreen: "Print screen",
  ScrollLock: "Scroll Lock",
  Pause: "Pause",
  NumLock: "Num Lock",
};
const KEYS = [
  ...Object.entries(NAMED).map(([id, name]) => ({ id, name })),
  ...Array.from({ length: 24 }, (_, n) => ({ id: `F${n + 1}`, name: `F${n + 1}` })),
  ...LETTERS,
];
const nameOf = (code: string) => KEYS.find((k) => k.id === code)?.name ?? code;

/** Keys that act as others, before everything else. */
export function ChangedKeys({ held }: { held: Held }) {
  const rights = useRights();
  const may = rights.edit && !held.compiled;
  const [key, setKey] = useState("");
  const [becomes, setBecomes] = useState("");
  const [gone, setGone] = useState<string | null>(null);
  const stands = held.remaps.find((r) => r.key === key);
  const drafted: Wish[] = key && becomes ? [{ key: stands?.key ?? null, item: { key, becomes } }] : [];
  const wishes: Wish[] = gone ? [{ key: gone, item: null }] : drafted;
  const leave = () => {
    setKey("");
    setBecomes("");
    setGone(null);
  };
  return (
    <>
      {held.remaps.length === 0 && (
        <Empty title={`${held.name} changes no keys.`}>
          <p>A changed key acts as another one everywhere. Two keys can change places: all happens in one step.</p>
        </Empty>
      )}
      <ul className={styles.rows} aria-label="Changed keys">
        {held.remaps.map((r) => (
          <li key={r.key}>
            <b>{nameOf(r.key)}</b>
            <span>acts as {nameOf(r.becomes)}</span>
            {may && (
              <Button size="small" color="inherit" onClick={() => setGone(r.key)}>
                Take out<span className="unseen"> {nameOf(r.key)}</span>
              </Button>
            )}
          </li>
        ))}
      </ul>
      {may && (
        <section className={styles.form} aria-label="Change a key">
          <h3>Change a key</h3>
          <div className={styles.line}>
            <span className={styles.field}>
              <One label="The key" value={key} choices={KEYS} onChange={setKey} />
            </span>
            <span className={styles.field}>
              <One label="acts as" value={becomes} choices={KEYS.filter((k) => k.id !== key)} onChange={setBecomes} />
            </span>
          </div>
        </section>
      )}
      {wishes.length > 0 && (
        <div className={styles.form}>
          <Draft profile={held.profile} section="remaps" wishes={wishes} onLeave={leave} onSaved={leave} />
        </div>
      )}
    </>
  );
}
