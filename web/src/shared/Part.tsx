import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useId, useState } from "react";
import styles from "./Part.module.css";

export interface Choice {
  key: string;
  text: string;
  more?: string;
  parts: Record<string, string>;
}

interface PartProps {
  label: string;
  value: string;
  choices: Choice[];
  chosen?: string;
  change: (parts: Record<string, string>) => void;
}

/** A part of a sentence that is a choice: dotted beneath, with a menu of what else it could be. */
export function Part({ label, value, choices, chosen, change }: PartProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const id = useId();
  return (
    <>
      <button
        type="button"
        className={styles.part}
        aria-label={`${label}: ${value}`}
        aria-haspopup="menu"
        aria-expanded={anchor !== null}
        aria-controls={anchor ? id : undefined}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        {value}
      </button>
      <Menu id={id} anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)} disablePortal>
        {choices.map((c) => (
          <MenuItem
            key={c.key}
            selected={chosen === undefined ? c.text === value : c.key === chosen}
            dense
            onClick={() => {
              setAnchor(null);
              change(c.parts);
            }}
          >
            <span>{c.text}</span>
            {c.more && <span className={styles.more}>{c.more}</span>}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
