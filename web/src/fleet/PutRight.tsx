import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import type { Machine } from "./useAgents";

interface PutRightProps {
  machine: Machine;
  onYes: () => void;
  onNo: () => void;
}

/** Somebody's own change is about to be overwritten: it is named first. */
export function PutRight({ machine, onYes, onNo }: PutRightProps) {
  return (
    <Dialog open onClose={onNo} aria-labelledby="put-right">
      <DialogTitle id="put-right">Overwrite what was changed on {machine.name}?</DialogTitle>
      <DialogContent>
        <ul>
          {machine.files
            .flatMap((f) => f.differences)
            .map((d) => (
              <li key={d}>{d}</li>
            ))}
        </ul>
        <p>The file as it is now is kept on the machine as a backup.</p>
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onNo} autoFocus>
          Leave it as it is
        </Button>
        <Button variant="contained" onClick={onYes}>
          Overwrite it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
