import { Link, useLocation } from "react-router";
import { Caps } from "../keyboard/Caps";
import { CommandPanel } from "./CommandPanel";
import styles from "./Programs.module.css";
import type { Command, Program } from "./usePrograms";

interface CommandRowProps {
  program: Program;
  command: Command;
  open: boolean;
  onToggle: () => void;
}

export function CommandRow({ program, command, open, onToggle }: CommandRowProps) {
  const { search } = useLocation();
  const clash = command.clashes[0];
  const params = new URLSearchParams(search);
  if (clash) params.set("clash", clash);
  params.delete("show");
  return (
    <li className={open ? styles.openRow : undefined}>
      <div className={styles.line}>
        <button type="button" className={`plain ${styles.g} ${styles.row}`} aria-expanded={open} onClick={onToggle}>
          <span className={styles.name}>
            <b>{command.name}</b>
            <small>{command.description || command.grip}</small>
          </span>
          <span className={styles.scope}>{command.scope_name}</span>
          <span className={styles.caps}>
            {command.shortcuts.length === 0 && <span className={styles.none}>none</span>}
            {command.shortcuts.map((s) => (
              <span key={s.text} className={s.unreachable ? styles.unreachable : undefined}>
                <Caps shortcut={s} />
              </span>
            ))}
          </span>
          <span className={command.layer === "default" ? styles.none : undefined}>{command.layer}</span>
          <span />
        </button>
        {clash && program.kind !== "system" && (
          <Link className={styles.clash} to={{ pathname: "/clashes", search: `?${params}` }}>
            clashes
            <span className="unseen">: {command.name}</span>
          </Link>
        )}
      </div>
      {open && <CommandPanel program={program} command={command} />}
    </li>
  );
}
