import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { idFrom } from "../../organisation/items/item";
import { One } from "../../shared/fields";
import styles from "./Behaviour.module.css";
import type { ScopeValue } from "./scopeTree";
import { canStandIn, treeOf } from "./scopeTree";

interface ScopesProps {
  scopes: ScopeValue[];
  counted: { id: string; commands: number }[];
  onChange: (scopes: ScopeValue[]) => void;
}

/** Where shortcuts are live: a tree of the window's parts, of which some take text. */
export function Scopes({ scopes, counted, onChange }: ScopesProps) {
  const [name, setName] = useState("");
  const id = idFrom(name);
  const taken = scopes.some((s) => s.id === id);
  const root = scopes.find((s) => !s.parent);
  const put = (next: ScopeValue) => onChange(scopes.map((s) => (s.id === next.id ? next : s)));
  return (
    <section className={styles.scopes} aria-label="Scopes">
      <h2>Scopes</h2>
      <p>
        A shortcut of a scope is live in it and in all inside it. Where a scope takes text, a key that types can't be
        both: the shortcut takes it from people.
      </p>
      <ul>
        {treeOf(scopes).map(({ scope, depth }) => {
          const commands = counted.find((c) => c.id === scope.id)?.commands ?? 0;
          const inside = scopes.filter((s) => s.parent === scope.id).length;
          return (
            <li key={scope.id} style={{ paddingLeft: depth * 22 }}>
              <TextField
                label={depth === 0 ? "The whole window" : "Scope"}
                value={scope.name}
                onChange={(e) => put({ ...scope, name: e.target.value })}
                sx={{ width: 210 }}
              />
              {scope.parent && (
                <span style={{ width: 190 }}>
                  <One
                    label="Inside"
                    value={scope.parent}
                    choices={scopes.filter((s) => canStandIn(scopes, scope.id, s.id))}
                    onChange={(parent) => put({ ...scope, parent })}
                  />
                </span>
              )}
              <FormControlLabel
                control={
                  <Switch
                    checked={scope.takes_text ?? false}
                    onChange={(e) => put({ ...scope, takes_text: e.target.checked })}
                  />
                }
                label="takes text"
              />
              <small>{commands === 1 ? "1 command" : `${commands} commands`}</small>
              {scope.parent && commands === 0 && inside === 0 && (
                <Button
                  color="inherit"
                  aria-label={`Take out ${scope.name}`}
                  onClick={() => onChange(scopes.filter((s) => s.id !== scope.id))}
                >
                  Take out
                </Button>
              )}
            </li>
          );
        })}
      </ul>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (!id || taken || !root) return;
          onChange([...scopes, { id, name, parent: root.id, takes_text: false }]);
          setName("");
        }}
      >
        <TextField
          label="A scope more"
          value={name}
          error={taken}
          helperText={taken ? "There is one of that name." : undefined}
          onChange={(e) => setName(e.target.value)}
        />
        <Button type="submit" variant="outlined" color="inherit" disabled={!id || taken}>
          Add it
        </Button>
      </form>
    </section>
  );
}
