import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import type { Platform } from "./useCatalogue";
import { PLATFORMS } from "./useCatalogue";

interface PlatformsChoiceProps {
  value: Platform[];
  onChange: (platforms: Platform[]) => void;
}

/** The platforms that a program is there on. */
export function PlatformsChoice({ value, onChange }: PlatformsChoiceProps) {
  return (
    <ToggleButtonGroup
      value={value}
      onChange={(_, next: Platform[]) => onChange(next)}
      aria-label="Platforms that it is there on"
    >
      {PLATFORMS.map((p) => (
        <ToggleButton key={p.id} value={p.id}>
          {p.name}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
