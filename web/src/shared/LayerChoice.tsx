import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useLenses } from "./lens";

interface LayerChoiceProps {
  setup: string;
  value: string;
  onChange: (layer: string) => void;
}

/** The layer in which a decision is kept: for everybody, a department, a role, or one person alone. */
export function LayerChoice({ setup, value, onChange }: LayerChoiceProps) {
  const found = useLenses().data?.find((l) => l.setup === setup);
  if (!found || found.layers.length < 2) return null;
  return (
    <TextField
      select
      label="Kept in"
      value={value}
      onChange={(e) => onChange(e.target.value)}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      sx={{ width: 220 }}
    >
      <MenuItem value="">where the key is set, or the house</MenuItem>
      {found.layer_ids.map((id, n) => (
        <MenuItem key={id} value={id}>
          {found.layers[n]}
        </MenuItem>
      ))}
    </TextField>
  );
}
