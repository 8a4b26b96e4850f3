import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import type { Platform } from "./useCatalogue";
import { PLATFORMS } from "./useCatalogue";

interface PlatformsChoiceProps {
  value: Platform[];
  onChange: (platforms: Platform[]) => void;
  label?: string;
  of?: Platform[];
}

/** Some platforms: those that a program is there on, unless it is labelled otherwise. */
export function PlatformsChoice({
  value,
  onChange,
  label = "Platforms that it is there on",
  of,
}: PlatformsChoiceProps) {
  return (
    <ToggleButtonGroup value={value} onChange={(_, next: Platform[]) => onChange(next)} aria-label={label}>
      {PLATFORMS.filter((p) => !of || of.includes(p.id)).map((p) => (
        <ToggleButton key={p.id} value={p.id}>
          {p.name}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
