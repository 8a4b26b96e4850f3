import Button from "@mui/material/Button";

/** Switches looking by keys on and off. */
export function ByKeys({ on, onSwitch }: { on: boolean; onSwitch: () => void }) {
  return (
    <Button variant={on ? "contained" : "outlined"} color="inherit" aria-pressed={on} onClick={onSwitch}>
      By keys
    </Button>
  );
}
