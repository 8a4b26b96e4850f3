import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import type { Group } from "../useClashes";
import { useLandings } from "./useWays";

interface LandingsProps {
  group: Group;
  value: string;
  onChange: (layer: string) => void;
}

/** For whom it is decided: all copies of the clash, some of them, or this setup; each layer with what it reaches. */
export function Landings({ group, value, onChange }: LandingsProps) {
  const found = useLandings(group.seen_in, group.identity).data;
  if (!found || found.length < 2) return null;
  const all = group.setups.length;
  return (
    <TextField
      select
      label="Decide for"
      value={value}
      onChange={(e) => onChange(e.target.value)}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      sx={{ width: 330 }}
    >
      <MenuItem value="">where the key is set, or the house</MenuItem>
      {found.map((l) => (
        <MenuItem key={l.profile} value={l.profile}>
          {reached(l.copies, all)}
          {l.others > 0 && ` and ${l.others} without it`}, kept in {l.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

function reached(copies: number, all: number): string {
  if (copies === all) return all === 1 ? "this setup" : `all ${all} setups`;
  return copies === 1 ? "this setup only" : `${copies} of the ${all} setups`;
}
