import TextField from "@mui/material/TextField";

/** The last day of something that is let be for a while; "" for no end. */
export function UntilField({ value, onChange }: { value: string; onChange: (day: string) => void }) {
  return (
    <TextField
      label="Until"
      type="date"
      value={value}
      onChange={(e) => onChange(e.target.value)}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
}
