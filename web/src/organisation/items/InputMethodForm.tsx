import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import type { Organisation } from "../useOrganisation";
import styles from "./Items.module.css";
import type { Item } from "./item";
import { list, text, withField } from "./item";
import { Presses } from "./Presses";

interface InputMethodFormProps {
  item: Item;
  onItem: (item: Item) => void;
  /** Those that are known by name on the machine's platform. */
  known: Organisation["platforms"][number]["input_methods"];
  disabled: boolean;
}

function says(known: InputMethodFormProps["known"][number]): string {
  const source = known.source === "likely" ? "likely, from no document" : known.source;
  return `Takes ${known.takes.length} ${known.takes.length === 1 ? "press" : "presses"} at all times and ${known.composing.length} while composing, unless some are said here. Source: ${source}.`;
}

/** The method by which people write with several presses on a machine, and the presses that it takes. */
export function InputMethodForm({ item, onItem, known, disabled }: InputMethodFormProps) {
  const method = item.input_method as Item | undefined;
  const name = method ? text(method, "name").toLowerCase().split(" ") : [];
  const silent = method && list(method, "takes").length === 0 && list(method, "composing").length === 0;
  const byName = silent ? known.find((k) => name.includes(k.name.toLowerCase())) : undefined;
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
            helperText={byName ? says(byName) : undefined}
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
        <div className={styles.choices}>
          {known.map((k) => (
            <Button
              key={k.name}
              variant="outlined"
              color="inherit"
              disabled={disabled}
              onClick={() => put({ name: k.name })}
            >
              {k.name}
            </Button>
          ))}
          <Button
            variant="outlined"
            color="inherit"
            disabled={disabled}
            onClick={() => put({ name: "Input method", composing: ["Enter", "Space", "ArrowUp", "ArrowDown"] })}
          >
            Another input method
          </Button>
        </div>
      )}
    </fieldset>
  );
}
