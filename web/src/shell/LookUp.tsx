import Popper from "@mui/material/Popper";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { KeyboardEvent } from "react";
import { useId, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { Caps } from "../keyboard/Caps";
import { Marked } from "../shared/Marked";
import { useAction } from "../shared/own/own";
import { useSettled } from "../shared/useSettled";
import styles from "./LookUp.module.css";

type Thing = Schemas["FoundThingOut"];

/** How long fingers rest between two letters, in milliseconds. */
const RESTS = 90;

/** One field for everything there is: commands, keys, people, machines, profiles, things to do, help. Arrows walk, Enter goes there. */
export function LookUp() {
  const [words, setWords] = useState("");
  const [open, setOpen] = useState(false);
  const [at, setAt] = useState(0);
  const field = useRef<HTMLInputElement>(null);
  const id = useId();
  const navigate = useNavigate();
  const { search } = useLocation();
  const asked = useSettled(words.trim(), RESTS);
  const found = useQuery({
    queryKey: key("lookup", asked),
    queryFn: () => answer(api.GET("/api/lookup", { params: { query: { words: asked } } })),
    enabled: asked !== "",
    placeholderData: keepPreviousData,
    staleTime: 30_000,
  });
  useAction("lookup", () => field.current?.focus());
  const groups = asked === "" ? [] : (found.data ?? []);
  const things = groups.flatMap((g) => g.things);
  const shown = open && words.trim() !== "";
  const here = Math.min(at, things.length - 1);
  const go = (thing: Thing | undefined) => {
    if (!thing) return;
    setOpen(false);
    setWords("");
    field.current?.blur();
    if (!thing.to.startsWith("?")) return navigate(thing.to);
    // Help opens beside whatever screen is there.
    const next = new URLSearchParams(search);
    for (const [name, value] of new URLSearchParams(thing.to)) next.set(name, value);
    return navigate({ search: next.toString() });
  };
  const onKey = (event: KeyboardEvent) => {
    const steps: Record<string, number> = { ArrowDown: 1, ArrowUp: -1 };
    const step = steps[event.key];
    if (step !== undefined && things.length > 0) setAt((here + step + things.length) % things.length);
    else if (event.key === "Enter" && shown) go(things[here]);
    else if (event.key === "Escape") {
      if (words === "") field.current?.blur();
      setWords("");
    } else return;
    event.preventDefault();
  };
  let n = -1;
  return (
    <div className={styles.lookUp}>
      <input
        ref={field}
        className={styles.field}
        role="combobox"
        aria-label="Look up"
        aria-expanded={shown}
        aria-controls={shown ? `${id}-list` : undefined}
        aria-autocomplete="list"
        aria-activedescendant={shown && here >= 0 ? `${id}-${here}` : undefined}
        placeholder="Look up"
        title="A command, key, task, person, machine, profile, thing to do"
        maxLength={400}
        value={words}
        onChange={(e) => {
          setWords(e.target.value);
          setAt(0);
          setOpen(true);
        }}
        onFocus={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onKeyDown={onKey}
      />
      <Popper
        open={shown}
        anchorEl={field.current}
        placement="bottom-start"
        className={styles.popper}
        disablePortal
        role="presentation"
        popperOptions={{ strategy: "fixed" }}
      >
        <div role="listbox" id={`${id}-list`} aria-label="What was found" className={styles.found}>
          {groups.map((group) => (
            <div key={group.kind} role="group" aria-label={group.title}>
              <div className={styles.kind} aria-hidden="true">
                {group.title}
                {group.count > group.things.length && <small>{group.count} in all</small>}
              </div>
              {group.things.map((thing) => {
                n += 1;
                const place = n;
                return (
                  // biome-ignore lint/a11y/useFocusableInteractive: see above
                  // biome-ignore lint/a11y/useKeyWithClickEvents: the field has the keys
                  <div
                    key={`${thing.to} ${thing.name}`}
                    id={`${id}-${place}`}
                    role="option"
                    aria-selected={place === here}
                    className={place === here ? styles.here : styles.thing}
                    onMouseDown={(e) => e.preventDefault()}
                    onClick={() => go(thing)}
                  >
                    <span>
                      <b>
                        <Marked text={thing.name} marks={thing.marks} />
                      </b>
                      <small>
                        {thing.says}
                        {thing.also && `${thing.says ? "; " : ""}${thing.also}`}
                      </small>
                    </span>
                    {thing.keys.map((k) => (
                      <Caps key={k.text} shortcut={k} />
                    ))}
                  </div>
                );
              })}
            </div>
          ))}
          {groups.length === 0 && (
            <p className={styles.none} role="status">
              {found.isFetching || asked !== words.trim() ? "Looking …" : "Nothing here is called that."}
            </p>
          )}
        </div>
      </Popper>
    </div>
  );
}
