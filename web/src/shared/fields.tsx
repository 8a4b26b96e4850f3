import Autocomplete from "@mui/material/Autocomplete";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";

export interface Named {
  id: string;
  name: string;
}

interface OneProps {
  label: string;
  value: string;
  choices: Named[];
  onChange: (id: string) => void;
  none?: string;
  disabled?: boolean;
}

/** One of some named things. */
export function One({ label, value, choices, onChange, none, disabled }: OneProps) {
  return (
    <TextField
      select
      fullWidth
      label={label}
      value={value}
      disabled={disabled}
      onChange={(e) => onChange(e.target.value)}
      slotProps={none === undefined ? undefined : { select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      {none !== undefined && <MenuItem value="">{none}</MenuItem>}
      {choices.map((c) => (
        <MenuItem key={c.id} value={c.id}>
          {c.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

interface ManyProps {
  label: string;
  value: string[];
  choices: Named[];
  onChange: (ids: string[]) => void;
  disabled?: boolean;
  helper?: string;
  onWords?: (words: string) => void;
}

/** Several named things in an order of their own; the first one counts as the first. */
export function Many({ label, value, choices, onChange, disabled, helper, onWords }: ManyProps) {
  const nameOf = (id: string) => choices.find((c) => c.id === id)?.name ?? id;
  return (
    <Autocomplete
      multiple
      size="small"
      disabled={disabled}
      options={choices.map((c) => c.id)}
      getOptionLabel={nameOf}
      filterSelectedOptions
      value={value}
      onChange={(_, ids) => onChange(ids)}
      onInputChange={onWords ? (_, words) => onWords(words) : undefined}
      renderInput={(params) => <TextField {...params} label={label} helperText={helper} />}
    />
  );
}

interface OneFoundProps {
  label: string;
  value: Named | null;
  choices: Named[];
  onChange: (one: Named | null) => void;
  onWords: (words: string) => void;
}

/** One of more things than a list can show: looked for by words; who looks offers what the server found. */
export function OneFound({ label, value, choices, onChange, onWords }: OneFoundProps) {
  return (
    <Autocomplete
      size="small"
      fullWidth
      options={choices}
      filterOptions={(found) => found}
      getOptionLabel={(c) => c.name}
      getOptionKey={(c) => c.id}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      noOptionsText="None is called so"
      value={value}
      onChange={(_, one) => onChange(one)}
      onInputChange={(_, words, why) => why !== "reset" && onWords(words)}
      renderInput={(params) => <TextField {...params} label={label} />}
    />
  );
}

interface FreeProps {
  label: string;
  value: string;
  choices: string[];
  onChange: (text: string) => void;
  disabled?: boolean;
}

/** A text for which there are usual choices. */
export function Free({ label, value, choices, onChange, disabled }: FreeProps) {
  return (
    <Autocomplete
      freeSolo
      size="small"
      disabled={disabled}
      options={choices}
      inputValue={value}
      onInputChange={(_, text) => onChange(text)}
      renderInput={(params) => <TextField {...params} label={label} />}
    />
  );
}
