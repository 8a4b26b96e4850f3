import { memo, useRef } from "react";
import { Link } from "react-router";
import type { Lens, LensSetup } from "../shared/lens";
import { useLens, useLenses } from "../shared/lens";
import { useAction } from "../shared/own/own";
import { Part } from "../shared/Part";
import part from "../shared/Part.module.css";
import styles from "./Frame.module.css";

function firstOfEach(setups: LensSetup[], by: (s: LensSetup) => string): LensSetup[] {
  return setups.filter((s, n) => setups.findIndex((other) => by(other) === by(s)) === n);
}

/** The lens as a sentence; every underlined part is a choice. */
export function LensBar() {
  const [lens, change] = useLens();
  const lenses = useLenses().data;
  if (lenses?.length === 0) {
    return (
      <div className={styles.sentence}>
        <span>Seen by nobody yet: people at machines make</span>{" "}
        <Link to="/organisation/people">a keyboard to look through</Link>
      </div>
    );
  }
  if (!lens || !lenses) return null;
  return <Sentence lens={lens} lenses={lenses} change={change} />;
}

interface SentenceProps {
  lens: Lens;
  lenses: LensSetup[];
  change: (parts: Record<string, string>) => void;
}

const Sentence = memo(function Sentence({ lens, lenses, change }: SentenceProps) {
  const { setup, against } = lens;
  // Holding the lens against another one begins with the setup that differs least: of the same platform, if there is one.
  const rival = lenses.find((s) => s !== setup && s.platform === setup.platform) ?? lenses.find((s) => s !== setup);
  const hold = () => change(against ? { against: "" } : { against: rival?.setup ?? "", seen: "" });
  const whole = useRef<HTMLDivElement>(null);
  useAction("lens", () => whole.current?.querySelector("button")?.click()); // the setup is the first part of the sentence
  useAction("everywhere", () => change({ seen: lens.everywhere ? "" : "all", against: "" }));
  useAction("pin", hold);
  const same = lenses.filter((s) => s.system === setup.system);
  const focus = setup.focuses.flatMap((f) =>
    f.scopes.map((s) => ({
      key: `${f.program}/${s.id}`,
      text: `${f.name}, ${s.name}`,
      more: s.takes_text ? "takes text" : undefined,
      parts: { program: f.program, scope: s.id },
    })),
  );
  return (
    <div ref={whole} className={styles.sentence}>
      <span>Seen by</span>
      <Part
        label="Setup"
        value={lens.everywhere ? `all ${lenses.length} setups in use` : setup.short}
        choices={[
          {
            key: "all",
            text: "All setups in use",
            more: `${lenses.length} setups`,
            parts: { seen: "all", against: "" },
          },
          ...lenses.map((s) => ({
            key: s.setup,
            text: s.name,
            more: s.people === 1 ? "1 person" : `${s.people} people`,
            parts: { setup: s.setup, seen: "" },
          })),
        ]}
        chosen={lens.everywhere ? "all" : setup.setup}
        change={change}
      />
      {lens.everywhere ? (
        <span>as on</span>
      ) : (
        <>
          <span className={styles.count}>
            ({setup.people} {setup.people === 1 ? "person" : "people"}
            {setup.unknown.length > 0 && <span title={setup.unknown.join(" ")}>, edition not known</span>})
          </span>
          <span>on</span>
        </>
      )}
      <Part
        label="System"
        value={setup.system}
        choices={firstOfEach(lenses, (s) => s.system).map((s) => ({
          key: s.system,
          text: s.system,
          parts: { setup: s.setup },
        }))}
        chosen={setup.system}
        change={change}
      />
      <span>with a</span>
      <Part
        label="Keyboard"
        value={`${setup.layout_name} keyboard`}
        choices={firstOfEach(same, (s) => s.layout).map((s) => ({
          key: s.layout,
          text: `${s.layout_name} keyboard`,
          more: s.body_name,
          parts: { setup: s.setup },
        }))}
        change={change}
      />
      <span>in</span>
      <Part label="Focus" value={`${lens.programName}, ${lens.scopeName}`} choices={focus} change={change} />
      {against ? (
        <>
          <span>held against</span>
          <Part
            label="Against"
            value={against.name}
            choices={lenses
              .filter((s) => s !== setup)
              .map((s) => ({
                key: s.setup,
                text: s.name,
                more: s.people === 1 ? "1 person" : `${s.people} people`,
                parts: { against: s.setup },
              }))}
            chosen={against.setup}
            change={change}
          />
          <button
            type="button"
            className={part.part}
            aria-pressed={lens.onlyDiffers}
            onClick={() => change({ differs: lens.onlyDiffers ? "" : "1" })}
          >
            {lens.onlyDiffers ? "only what differs" : "all of it"}
          </button>
          <button type="button" className={part.part} onClick={hold}>
            let go
          </button>
        </>
      ) : (
        !lens.everywhere &&
        rival && (
          <button type="button" className={styles.hold} onClick={hold}>
            hold against
          </button>
        )
      )}
    </div>
  );
});
