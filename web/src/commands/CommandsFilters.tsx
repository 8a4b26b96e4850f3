import Button from "@mui/material/Button";
import { useCallback, useState } from "react";
import { ByKeys, KeysToLookFor } from "../keyboard/ByKeys";
import type { Judgement } from "../keyboard/PressField";
import type { Lens } from "../shared/lens";
import { useAction } from "../shared/own/own";
import { type Choice, Part } from "../shared/Part";
import { Words } from "../shared/Words";
import type { Asked } from "./asked";
import { narrows } from "./asked";
import styles from "./Commands.module.css";
import { useChoices } from "./useCommands";

interface CommandsFiltersProps {
  lens: Lens;
  through: string;
  asked: Asked;
  order: string;
  found: number | undefined;
  change: (parts: Partial<Asked>) => void;
}

const ORDERS = ["program", "keys, as they lie", "name", "group", "task", "people", "set by"];
const STATE_WORDS: Record<string, string> = {
  "own key": "with a key of one's own",
  "no key": "without a key",
  "several keys": "with several keys",
  clashing: "that clash",
  "changed since the release": "changed since the release",
  risky: "that are risky",
  "from an add-on": "from an add-on",
  "without a task": "without a task",
  "same key twice": "whose key another one has too",
  "can't be pressed": "that can't be pressed here",
};

/** What rows are chosen by: words, a press, and a sentence whose parts are choices. */
export function CommandsFilters({ lens, through, asked, order, found, change }: CommandsFiltersProps) {
  const choices = useChoices(through).data;
  const [byKeys, setByKeys] = useState(asked.keys !== "");
  const [asks, setAsks] = useState(false);
  const onJudged = useCallback(
    (j: Judgement | null) => {
      if (j) change({ keys: j.shortcut.text });
    },
    [change],
  );
  useAction("words", () => document.getElementById("words")?.focus());
  useAction("keys", () => {
    setByKeys(true);
    setAsks(true);
  });
  const part = (
    label: string,
    name: keyof Asked,
    any: string,
    from: { id: string; name: string; rows: number }[] = [],
    say = (word: string) => word,
  ) => {
    const now = from.find((c) => c.id === asked[name]);
    const options: Choice[] = [
      { key: "", text: any, parts: { [name]: "" } },
      ...from.map((c) => ({ key: c.id, text: say(c.name), more: String(c.rows), parts: { [name]: c.id } })),
    ];
    return (
      <Part
        label={label}
        value={now ? say(now.name) : asked[name] ? say(asked[name]) : any}
        choices={options}
        chosen={asked[name]}
        change={change}
      />
    );
  };
  return (
    <search className={styles.filters} aria-label="Choose commands">
      <Words
        id="words"
        value={asked.words}
        onChange={(words) => change({ words })}
        placeholder="save, delete row, drucken ..."
        width={250}
      />
      <ByKeys
        on={byKeys}
        onSwitch={() => {
          setByKeys(!byKeys);
          setAsks(true);
          change({ keys: "" });
        }}
      />
      <p className={styles.sentence}>
        in {part("Program", "program", "all programs", choices?.programs)},{" "}
        {part("State", "state", "in any state", choices?.states, (s) => STATE_WORDS[s] ?? s)},{" "}
        {part("Scope", "scope", "anywhere in them", choices?.scopes)},{" "}
        {part("Kind", "kind", "of any kind", choices?.kinds)}, {part("Group", "group", "in any group", choices?.groups)}
        , {part("Task", "task", "for any task", choices?.tasks, (t) => `for ${t}`)},{" "}
        {part("Set by", "layer", "set by anybody", choices?.layers, (l) => `set by ${l}`)}, ordered by{" "}
        <Part
          label="Order"
          value={order}
          choices={[
            ...(asked.words ? [{ key: "best first", text: "best first", parts: { order: "" } }] : []),
            ...ORDERS.map((o) => ({ key: o, text: o, parts: { order: o } })),
          ]}
          chosen={order}
          change={change}
        />
        ,{" "}
        <Part
          label="Groups"
          value={asked.by_groups ? "by groups" : "in one list"}
          choices={[
            { key: "", text: "in one list", parts: { by_groups: "", closed: "" } },
            { key: "1", text: "by groups", parts: { by_groups: "1" } },
          ]}
          chosen={asked.by_groups}
          change={change}
        />
        {narrows(asked) && (
          <Button
            color="inherit"
            onClick={() => {
              setByKeys(false);
              change({
                ...{ words: "", program: "", state: "", scope: "", kind: "", group: "", task: "", layer: "", keys: "" },
              });
            }}
          >
            All again
          </Button>
        )}
      </p>
      <span role="status" className={styles.count}>
        {found === undefined ? "" : `${found} found`}
      </span>
      {byKeys && (
        <div className={styles.press}>
          <KeysToLookFor lens={lens} onJudged={onJudged} listening={asks} />
        </div>
      )}
    </search>
  );
}
