import Button from "@mui/material/Button";
import { useMemo, useState } from "react";
import { Caps } from "../keyboard/Caps";
import { One } from "../shared/fields";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import { DraftChoice } from "./DraftChoice";
import { many, PlanTold } from "./PlanTold";
import styles from "./Standard.module.css";
import type { LineIn, Platform, Standard } from "./useStandard";
import { useCarried, usePlan, useSaveLines } from "./useStandard";

const PLATFORMS: { id: Platform; name: string }[] = [
  { id: "windows", name: "Windows" },
  { id: "macos", name: "macOS" },
  { id: "linux", name: "Linux" },
];

function nameOf(platform: Platform): string {
  return PLATFORMS.find((p) => p.id === platform)?.name ?? platform;
}

interface CarryViewProps {
  data: Standard;
  draft: number | null;
  onDraft: (id: number | null) => void;
}

/** Lines of one platform carried to another by the modifiers that stand for each other; what fails says why, with a proposal. */
export function CarryView({ data, draft, onDraft }: CarryViewProps) {
  const origin = data.platform;
  const [target, setTarget] = useState<Platform>(origin === "macos" ? "windows" : "macos");
  const to = target === origin ? (PLATFORMS.find((p) => p.id !== origin)?.id ?? "macos") : target;
  const carried = useCarried(origin, to);
  const rights = useRights();
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [instead, setInstead] = useState<ReadonlySet<string>>(new Set());
  const save = useSaveLines();
  const lines = useMemo<LineIn[]>(
    () =>
      (carried.data ?? []).flatMap((c) => {
        const chosen = c.keys && !left.has(c.task) ? c.keys : instead.has(c.task) ? c.proposal : null;
        return chosen
          ? [
              {
                task: c.task,
                platform: to,
                layouts: [],
                keys: chosen.text,
                reason: `Carried over from ${nameOf(origin)}`,
              },
            ]
          : [];
      }),
    [carried.data, left, instead, to, origin],
  );
  const asked = useMemo(() => lines.map((v) => ({ ...v, reason: "" })), [lines]);
  const plan = usePlan(asked, false, data.digest);
  if (carried.isError) return <Trouble error={carried.error} again={() => carried.refetch()} />;
  const can = (carried.data ?? []).filter((c) => c.keys);
  const fails = (carried.data ?? []).filter((c) => !c.keys);
  const toggle = (set: ReadonlySet<string>, keep: (s: ReadonlySet<string>) => void, task: string) => {
    const next = new Set(set);
    if (!next.delete(task)) next.add(task);
    keep(next);
  };
  return (
    <div className={styles.findings}>
      <div className={styles.how}>
        <span>Lines for {nameOf(origin)}, carried to</span>
        <div className={styles.select}>
          <One
            label="Platform"
            value={to}
            choices={PLATFORMS.filter((p) => p.id !== origin)}
            onChange={(id) => setTarget(id as Platform)}
          />
        </div>
      </div>
      {!carried.data ? (
        <Waiting what="what can be carried over" />
      ) : can.length + fails.length === 0 ? (
        <Empty title="Nothing to carry over">
          <p>
            Every line for {nameOf(origin)} has one for {nameOf(to)} already, with the keys that stand for each other.
          </p>
        </Empty>
      ) : (
        <>
          {can.length > 0 && (
            <section aria-label="Can be carried over">
              <h2>
                Can be carried over <small>{can.length}</small>
              </h2>
              <ul>
                {can.map((c) => (
                  <li key={c.task}>
                    <label className={styles.tick}>
                      <input
                        type="checkbox"
                        checked={!left.has(c.task)}
                        onChange={() => toggle(left, setLeft, c.task)}
                      />
                      <b>{c.name}</b>
                      <span className={styles.carried}>
                        <Caps shortcut={c.origin} /> becomes {c.keys && <Caps shortcut={c.keys} />}
                      </span>
                    </label>
                  </li>
                ))}
              </ul>
            </section>
          )}
          {fails.length > 0 && (
            <section aria-label="Can't be as they are">
              <h2>
                Can't be as they are <small>{fails.length}</small>
              </h2>
              <ul>
                {fails.map((c) => (
                  <li key={c.task}>
                    <b>{c.name}</b>
                    <span className={styles.carried}>
                      <Caps shortcut={c.origin} /> {c.why}
                    </span>
                    {c.proposal && (
                      <label className={styles.tick}>
                        <input
                          type="checkbox"
                          checked={instead.has(c.task)}
                          onChange={() => toggle(instead, setInstead, c.task)}
                        />
                        <Caps shortcut={c.proposal} /> instead
                      </label>
                    )}
                  </li>
                ))}
              </ul>
            </section>
          )}
          {lines.length > 0 && <PlanTold plan={plan.data} error={plan.error} withLines />}
          {rights.edit && (
            <div className={styles.acts}>
              <Button
                variant="contained"
                disabled={lines.length === 0}
                loading={save.isPending}
                onClick={() => save.mutate({ lines, family: false, seen: data.digest, chosen: [] })}
              >
                Save {many(lines.length, "line")}
              </Button>
              <DraftChoice
                lines={lines}
                family={false}
                draft={draft}
                onDraft={onDraft}
                onKept={() => undefined}
                name={`${nameOf(origin)} to ${nameOf(to)}`}
              />
            </div>
          )}
        </>
      )}
    </div>
  );
}
