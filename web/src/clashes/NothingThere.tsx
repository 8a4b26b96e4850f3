import Button from "@mui/material/Button";
import { Empty } from "../shared/states";
import type { Tab } from "./filters";

interface NothingThereProps {
  tab: Tab;
  /** Something is there, but nothing of it is looked for. */
  asked: boolean;
  clear: () => void;
}

/** No row, and what to do next. */
export function NothingThere({ tab, asked, clear }: NothingThereProps) {
  if (asked) {
    return (
      <Empty title="Nothing is like that.">
        <Button variant="outlined" onClick={clear}>
          Ask for less
        </Button>
      </Empty>
    );
  }
  if (tab === "allowed") {
    return (
      <Empty title="Nothing is allowed through this lens.">
        <p>A clash that may stay is allowed with a reason and an end; it is listed here until then.</p>
      </Empty>
    );
  }
  if (tab === "meant") {
    return (
      <Empty title="No program through this lens hides a command of its own on purpose.">
        <p>Where an inner scope takes a press of an outer one by default, its maker meant it: that is listed here.</p>
      </Empty>
    );
  }
  return (
    <Empty title="Every press gets where it was meant to go, through this lens.">
      <p>Choose another setup in the lens above, or export what was decided from Profiles.</p>
    </Empty>
  );
}
