import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useCallback, useState } from "react";
import type { Judgement } from "../../keyboard/PressField";
import { PressField } from "../../keyboard/PressField";
import { useLens } from "../../shared/lens";
import styles from "./Sections.module.css";

interface KeyFieldProps {
  label: string;
  platform: string;
  program: string | null;
  /** The shortcut as documents have it; empty for none. */
  value: string;
  onChange: (text: string) => void;
}

/** A key of an item: pressed, clicked or typed where the lens's keyboard is of its platform, else typed. */
export function KeyField({ label, platform, program, value, onChange }: KeyFieldProps) {
  const [lens] = useLens();
  const [open, setOpen] = useState(false);
  const onJudged = useCallback(
    (judged: Judgement | null) => {
      if (judged) onChange(judged.shortcut.text);
    },
    [onChange],
  );
  if (!lens || lens.setup.platform !== platform) {
    return <TextField label={label} value={value} placeholder="ctrl s" onChange={(e) => onChange(e.target.value)} />;
  }
  if (!open) {
    return (
      <span className={styles.key}>
        <Button variant="outlined" color="inherit" onClick={() => setOpen(true)}>
          {label}
          {value && `: ${value}`}
        </Button>
        {value && (
          <Button color="inherit" onClick={() => onChange("")}>
            Without it
          </Button>
        )}
      </span>
    );
  }
  const known = lens.setup.focuses.some((f) => f.program === program);
  return (
    <PressField
      label={label}
      setup={lens.setup.setup}
      program={known ? program : null}
      scope={null}
      onJudged={onJudged}
      listening
    />
  );
}
