import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Caps } from "../../keyboard/Caps";
import { useAction } from "../../shared/own/own";
import type { Own } from "../../shared/own/useOwn";
import { useChangeOwn, useOwn } from "../../shared/own/useOwn";
import { Trouble, Waiting } from "../../shared/states";
import styles from "./OwnList.module.css";

/** Amber Key's own shortcuts: each can be changed and switched off, and says what it clashes with. */
export function OwnList() {
  const [open, setOpen] = useState(false);
  useAction("shortcuts", () => setOpen(true));
  return (
    <Dialog open={open} onClose={() => setOpen(false)} maxWidth="md" fullWidth aria-labelledby="own-title">
      <DialogTitle id="own-title">Amber Key's own shortcuts</DialogTitle>
      <DialogContent>
        <p className={styles.note}>
          None of them fires while text is typed. They are checked like everybody's: against this system, a browser, and
          each other.
        </p>
        {open && <List />}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={() => setOpen(false)}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function List() {
  const own = useOwn();
  if (own.isError) return <Trouble error={own.error} again={() => own.refetch()} />;
  if (!own.data) return <Waiting what="the shortcuts" />;
  return (
    <ul className={styles.list} aria-label="Own shortcuts">
      {own.data.map((o) => (
        <Row key={o.id} own={o} />
      ))}
    </ul>
  );
}

function Row({ own }: { own: Own }) {
  const change = useChangeOwn();
  const [text, setText] = useState<string | null>(null);
  return (
    <li>
      <span className={styles.name}>{own.name}</span>
      <span className={styles.keys}>{own.keys ? <Caps shortcut={own.keys} /> : "off"}</span>
      {text === null ? (
        <span className={styles.acts}>
          <Button color="inherit" onClick={() => setText("")} aria-label={`Change: ${own.name}`}>
            Change
          </Button>
          {own.keys && (
            <Button
              color="inherit"
              onClick={() => change.mutate({ id: own.id, keys: "" })}
              aria-label={`Switch off: ${own.name}`}
            >
              Switch off
            </Button>
          )}
          {own.changed && (
            <Button
              color="inherit"
              onClick={() => change.mutate({ id: own.id, keys: null })}
              aria-label={`The usual one: ${own.name}`}
            >
              The usual one
            </Button>
          )}
        </span>
      ) : (
        <form
          className={styles.acts}
          onSubmit={(event) => {
            event.preventDefault();
            change.mutate({ id: own.id, keys: text }, { onSuccess: () => setText(null) });
          }}
        >
          <TextField
            label="New shortcut"
            value={text}
            onChange={(e) => setText(e.target.value)}
            placeholder="ctrl shift k"
            autoFocus
            sx={{ width: 170 }}
          />
          <Button type="submit" variant="contained" disabled={!text.trim()} loading={change.isPending}>
            Take it
          </Button>
          <Button color="inherit" onClick={() => setText(null)}>
            Leave it
          </Button>
        </form>
      )}
      {own.clashes.map((c) => (
        <p key={c} className={styles.clash}>
          {c}
        </p>
      ))}
    </li>
  );
}
