import type { Named } from "../../shared/fields";
import styles from "./Described.module.css";
import type { Called, Entry, Read } from "./useDescribed";
import { NEW, nameIn } from "./useDescribed";

interface ReadFromItProps {
  read: Read;
  commands: Named[];
  called: Called;
  disabled: boolean;
  onCalled: (called: Called) => void;
}

/** What a file says, a line for each entry; whose name isn't known can be said to be one of the program's commands. */
export function ReadFromIt({ read, commands, called, disabled, onCalled }: ReadFromItProps) {
  const more = read.read + read.shown - read.entries.length;
  const unknown = read.entries.filter((e) => e.state === "unknown" && !called[nameIn(e)]);
  return (
    <section aria-label="Read from it">
      <h2>Read from it</h2>
      {read.missing && <p>The file has no {read.missing}; the program may never have been started.</p>}
      {unknown.length > 1 && !disabled && (
        <p>
          {unknown.length} names are none of its commands.{" "}
          <button
            type="button"
            className={styles.all}
            onClick={() => onCalled({ ...called, ...Object.fromEntries(unknown.map((e) => [nameIn(e), NEW])) })}
          >
            Make them all new commands
          </button>
        </p>
      )}
      <ul className={styles.entries}>
        {read.unread.map((u) => (
          <li key={`unread ${u.line} ${u.says}`} data-amber>
            <span>{u.says}</span>
            <span />
            <small>line {u.line}, left alone</small>
          </li>
        ))}
        {read.entries.map((e, n) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: an entry has no other identity than its place
          <li key={n} data-amber={e.state === "unknown" || undefined} data-shown={e.shown || undefined}>
            {e.state === "off" || (e.command && !called[nameIn(e)]) ? (
              <span>{e.state === "off" ? "Does nothing" : e.name}</span>
            ) : (
              <span>
                {e.called}{" "}
                <select
                  aria-label={`What ${e.called} is`}
                  value={called[nameIn(e)] ?? ""}
                  disabled={disabled}
                  onChange={(event) => onCalled({ ...called, [nameIn(e)]: event.target.value || null })}
                >
                  <option value="">is none of its commands</option>
                  <option value={NEW}>is a new command of it</option>
                  {commands.map(({ id, name }) => (
                    <option key={id} value={id}>
                      is {name}
                    </option>
                  ))}
                </select>
              </span>
            )}
            <span>{e.keys.join(" or ") || "no key"}</span>
            <small>
              line {e.line}
              {stateInWords(e)}
            </small>
          </li>
        ))}
      </ul>
      {more > 0 && <p>and {more.toLocaleString("en")} more</p>}
    </section>
  );
}

function stateInWords({ shown, state }: Entry): string {
  if (shown) return state === "differs" ? ", shown as its default, which here is another" : ", shown as its default";
  return state === "default" ? ", as by default" : state === "differs" ? ", not the default" : "";
}
