import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import styles from "./Items.module.css";
import type { Item } from "./item";
import { list, text, withField } from "./item";
import { Presses } from "./Presses";

interface InputMethodFormProps {
  item: Item;
  onItem: (item: Item) => void;
  disabled: boolean;
}

/** The method by which people write with several presses on a machine, and the presses that it takes. */
export function InputMethodForm({ item, onItem, disabled }: InputMethodFormProps) {
  const method = item.input_method as Item | undefined;
  const put = (next: Item | null) => onItem(withField(item, "input_method", next));
  return (
    <fieldset className={styles.rows}>
      <legend className={styles.sub}>Input method</legend>
      {method ? (
        <>
          <TextField
            label="Its name"
            value={text(method, "name")}
            disabled={disabled}
            onChange={(e) => put({ ...method, name: e.target.value })}
          />
          <Presses
            label="Presses that it takes at all times"
            value={list(method, "takes")}
            disabled={disabled}
            onChange={(keys) => put(withField(method, "takes", keys))}
          />
          <Presses
            label="Further ones while a text is being composed"
            value={list(method, "composing")}
            disabled={disabled}
            onChange={(keys) => put(withField(method, "composing", keys))}
          />
          <div>
            <Button color="inherit" disabled={disabled} onClick={() => put(null)}>
              Take the input method out
            </Button>
          </div>
        </>
      ) : (
        <div>
          <Button
            variant="outlined"
            color="inherit"
            disabled={disabled}
            onClick={() => put({ name: "Input method", composing: ["Enter", "Space", "ArrowUp", "ArrowDown"] })}
          >
            Add an input method
          </Button>
        </div>
      )}
    </fieldset>
  );
}
