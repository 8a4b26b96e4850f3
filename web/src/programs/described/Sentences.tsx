import { type ReactNode, useState } from "react";
import type { Platform } from "../making/useCatalogue";
import { PLATFORMS } from "../making/useCatalogue";
import styles from "./Described.module.css";
import type { Described } from "./useDescribed";

const CONTAINERS = [
  ["json", "JSON"],
  ["yaml", "YAML"],
  ["toml", "TOML"],
  ["xml", "XML"],
  ["ini", "INI"],
  ["store", "the text export of a settings store"],
  ["properties", "properties"],
  ["table", "a table"],
  ["lines", "lines"],
] as const;
const ENCODINGS = [
  "utf-8",
  "utf-16-le",
  "utf-16-be",
  "cp1252",
  "cp1250",
  "cp1251",
  "iso-8859-1",
  "iso-8859-15",
] as const;
const LETTERS = [
  ["small", "small"],
  ["capital", "capital"],
  ["as they are", "as they are typed"],
  ["case is shift", "capital where Shift is held"],
] as const;
const ROOTS = [
  ["home", "each person's home"],
  ["machine", "what is everybody's on the machine"],
] as const;
const MODIFIERS = ["Control", "Alt", "Shift", "Meta"] as const;

export function containerName(how: Described): string {
  return CONTAINERS.find(([id]) => id === how.container)?.[1] ?? how.container;
}

interface SentencesProps {
  how: Described;
  platforms: Platform[];
  disabled: boolean;
  onChange: (how: Described) => void;
}

/** A description told in sentences; every underlined word can be another one. */
export function Sentences({ how, platforms, disabled, onChange }: SentencesProps) {
  const set = (part: Partial<Described>) => onChange({ ...how, ...part });
  const keys = (part: Partial<Described["keys"]>) => set({ keys: { ...how.keys, ...part } });
  const dialect = (part: Partial<Described["dialect"]>) => set({ dialect: { ...how.dialect, ...part } });
  const typed = (label: string, value: string, onText: (text: string) => void, none = "nothing") => (
    <Typed label={label} value={value} none={none} disabled={disabled} onText={onText} />
  );
  const at = how.at ?? [];
  return (
    <div className={styles.sentences}>
      <p>
        The file is{" "}
        <Chosen
          label="Kind of file"
          value={how.container}
          disabled={disabled}
          onChoose={(container) => set({ container })}
        >
          {CONTAINERS}
        </Chosen>{" "}
        in{" "}
        <Chosen
          label="Encoding"
          value={how.encoding ?? "utf-8"}
          disabled={disabled}
          onChoose={(encoding) => set({ encoding })}
        >
          {ENCODINGS.map((e) => [e, e.toUpperCase()] as const)}
        </Chosen>
        {how.options?.template !== undefined && (
          <>
            , each line{" "}
            {typed("Line", how.options.template, (template) => set({ options: { ...how.options, template } }))}
          </>
        )}
        {platforms.map((p, n) => (
          <span key={p}>
            {n === 0 ? ", at " : " and "}
            {typed(
              `Path on ${nameOf(p)}`,
              how.path?.[p] ?? "",
              (text) => set({ path: withPath(how.path, p, text) }),
              "a place not yet said",
            )}{" "}
            on {nameOf(p)}
          </span>
        ))}
        {Object.keys(how.path ?? {}).length > 0 && (
          <>
            , below{" "}
            <Chosen
              label="Below what it lies"
              value={how.root ?? "home"}
              disabled={disabled}
              onChoose={(root) => set({ root: root as Described["root"] })}
            >
              {ROOTS}
            </Chosen>
          </>
        )}
        .
      </p>
      <p>
        {at.length === 0 ? "The entries stand at its root" : "The entries stand in "}
        {at.map((step, n) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a step has no other identity than its place
          <span key={n}>
            {n > 0 && ", there in "}
            {typed(`Step ${n + 1}`, step, (text) => set({ at: at.map((s, i) => (i === n ? text : s)) }))}
          </span>
        ))}
        {how.record !== undefined && <>, each called {typed("Called", how.record, (record) => set({ record }))}</>}. The{" "}
        {typed("Where the command stands", how.command, (command) => set({ command }))} is the command, the{" "}
        {typed("Where the keys stand", how.keys.at, (where) => keys({ at: where }))} its keys
        {how.keys.form === "split" && (
          <>
            ; {typed("Between several", how.keys.between ?? ";", (between) => keys({ between }))} stands between several
          </>
        )}
        {how.keys.form === "list" && "; several are a list"}
        {how.keys.at === "name" && (
          <>
            ; a command{" "}
            <Chosen
              label="Defaults beside its keys"
              value={how.keys.beside_defaults ? "yes" : "no"}
              disabled={disabled}
              onChoose={(text) => keys({ beside_defaults: text === "yes" })}
            >
              {[
                ["no", "has these in place of its defaults"],
                ["yes", "has these beside its defaults"],
              ]}
            </Chosen>
            , and{" "}
            {typed(
              "What keys that do nothing say",
              how.keys.off ?? "",
              (off) => set({ keys: withOff(how.keys, off) }),
              "nothing",
            )}{" "}
            says that keys do nothing
          </>
        )}
        {how.context !== undefined && (
          <>
            . {typed("Where it says where a command is live", how.context, (context) => set({ context }))} names the
            scope
          </>
        )}
        .
      </p>
      <p>
        Modifiers are{" "}
        {MODIFIERS.map((m, n) => (
          <span key={m}>
            {n > 0 && " "}
            {typed(
              `${m} is written`,
              (how.dialect.modifiers[m] ?? []).join(" "),
              (text) => dialect({ modifiers: withModifier(how.dialect.modifiers, m, text) }),
              `no ${m}`,
            )}
          </span>
        ))}
        , letters{" "}
        <Chosen
          label="Letters"
          value={how.dialect.letters ?? "as they are"}
          disabled={disabled}
          onChoose={(letters) => dialect({ letters })}
        >
          {LETTERS}
        </Chosen>
        .{" "}
        {typed(
          "Words that mean no key",
          (how.keys.words ?? []).join(" "),
          (text) => keys({ words: text.split(" ").filter(Boolean) }),
          "No word",
        )}{" "}
        means no key; a command that isn't there has its default,{" "}
        {typed(
          "Sign before a default that is only shown",
          how.shown_behind ?? "",
          (shown_behind) => set({ shown_behind: shown_behind.trimStart() }),
          "nowhere",
        )}{" "}
        {how.shown_behind ? "before each that is shown" : "shown in the file"}. The program{" "}
        <Chosen
          label="When the program writes it"
          value={how.rewrites_at_exit ? "yes" : "no"}
          disabled={disabled}
          onChoose={(text) => set({ rewrites_at_exit: text === "yes" })}
        >
          {[
            ["no", "leaves it alone"],
            ["yes", "writes it anew"],
          ]}
        </Chosen>{" "}
        when it ends
        {how.rewrites_at_exit && (
          <>
            , so nothing is written while{" "}
            {typed(
              "What its processes are called",
              (how.runs_as ?? []).join(", "),
              (text) => set({ runs_as: listed(text) }),
              "a process not yet named",
            )}{" "}
            runs
          </>
        )}
        . It has the commands of{" "}
        {typed(
          "Scopes whose commands it has",
          (how.holds ?? []).join(", "),
          (text) => set({ holds: listed(text) }),
          "every scope that no other file of the program has",
        )}
        .
      </p>
    </div>
  );
}

function nameOf(platform: Platform): string {
  return PLATFORMS.find((p) => p.id === platform)?.name ?? platform;
}

function withPath(paths: Described["path"], platform: Platform, text: string): Described["path"] {
  const { [platform]: _, ...rest } = paths ?? {};
  return text ? { ...rest, [platform]: text } : rest;
}

function listed(text: string): string[] {
  return text
    .split(",")
    .map((part) => part.trim())
    .filter(Boolean);
}

function withOff(keys: Described["keys"], off: string): Described["keys"] {
  const { off: _, ...rest } = keys;
  return off ? { ...rest, off } : rest;
}

function withModifier(modifiers: Record<string, string[]>, name: string, text: string): Record<string, string[]> {
  const { [name]: _, ...rest } = modifiers;
  const texts = text.split(" ").filter(Boolean);
  return texts.length > 0 ? { ...rest, [name]: texts } : rest;
}

interface TypedProps {
  label: string;
  value: string;
  none: string;
  disabled: boolean;
  onText: (text: string) => void;
}

/** An underlined word that is typed over. */
function Typed({ label, value, none, disabled, onText }: TypedProps) {
  // As long as it is typed in, it shows what was typed: a blank at the end would go at once otherwise.
  const [typed, setTyped] = useState<string | null>(null);
  const shown = typed ?? value;
  return (
    <input
      className={styles.word}
      aria-label={label}
      title={label}
      value={shown}
      placeholder={none}
      disabled={disabled}
      size={Math.max(1, Math.min(48, (shown || none).length))}
      spellCheck={false}
      onChange={(e) => {
        setTyped(e.target.value);
        onText(e.target.value);
      }}
      onBlur={() => setTyped(null)}
    />
  );
}

interface ChosenProps {
  label: string;
  value: string;
  disabled: boolean;
  children: readonly (readonly [string, ReactNode])[];
  onChoose: (value: string) => void;
}

/** An underlined word that is one of some. */
function Chosen({ label, value, disabled, children, onChoose }: ChosenProps) {
  return (
    <select
      className={styles.word}
      aria-label={label}
      title={label}
      value={value}
      disabled={disabled}
      onChange={(e) => onChoose(e.target.value)}
    >
      {children.map(([id, words]) => (
        <option key={id} value={id}>
          {words}
        </option>
      ))}
    </select>
  );
}
