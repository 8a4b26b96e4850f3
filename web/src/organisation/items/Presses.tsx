import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";

interface PressesProps {
  label: string;
  value: string[];
  onChange: (keys: string[]) => void;
  disabled?: boolean;
}

/** Single presses, each typed as people write them; what can't be read is told when the item is looked at. */
export function Presses({ label, value, onChange, disabled }: PressesProps) {
  return (
    <Autocomplete
      multiple
      freeSolo
      autoSelect
      size="small"
      disabled={disabled}
      options={[]}
      value={value}
      onChange={(_, keys) => onChange(keys.map((k) => k.trim()).filter(Boolean))}
      renderInput={(params) => <TextField {...params} label={label} helperText="Enter after each" />}
    />
  );
}
