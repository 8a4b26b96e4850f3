import Button from "@mui/material/Button";
import type { Lens } from "../shared/lens";
import type { Judgement } from "./PressField";
import { PressField } from "./PressField";

/** Switches looking by keys on and off. */
export function ByKeys({ on, onSwitch }: { on: boolean; onSwitch: () => void }) {
  return (
    <Button variant={on ? "contained" : "outlined"} color="inherit" aria-pressed={on} onClick={onSwitch}>
      By keys
    </Button>
  );
}

interface KeysToLookForProps {
  lens: Lens;
  onJudged: (judgement: Judgement | null) => void;
  listening?: boolean;
}

/** Asks for the press that a screen looks for, as the lens's keyboard makes it. */
export function KeysToLookFor({ lens, onJudged, listening }: KeysToLookForProps) {
  return (
    <PressField
      label="Press to look for"
      setup={lens.setup.setup}
      program={lens.program}
      scope={lens.scope}
      onJudged={onJudged}
      listening={listening}
    />
  );
}
