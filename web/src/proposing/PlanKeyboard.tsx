import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useMemo, useState } from "react";
import { Board } from "../keyboard/Board";
import { useLens } from "../shared/lens";
import { Trouble, Waiting } from "../shared/states";
import { useAddress } from "../shared/useAddress";
import styles from "./Propose.module.css";
import { type AskedOf, usePlanKeyboard } from "./useProposals";

interface PlanKeyboardProps {
  proposal: string;
  point: number;
  platform: AskedOf["platform"];
}

/** The plan as it lies on the keys: whose task each one is, and which have another one than now. */
export function PlanKeyboard({ proposal, point, platform }: PlanKeyboardProps) {
  const [lens] = useLens();
  const [params, change] = useAddress();
  const [hot, setHot] = useState<string | null>(null);
  const found = usePlanKeyboard(proposal, point, platform, lens?.setup.setup ?? null, params.get("held"));
  const differing = useMemo(() => new Set(found.data?.differs), [found.data]);
  if (found.isError) return <Trouble error={found.error} again={() => found.refetch()} />;
  if (!found.data) return <Waiting what="the keyboard" />;
  const { choices, held, keys, setup_name } = found.data;
  const now = choices.find((c) => c.held === (held.join(",") || "alone"));
  const looked = keys.find((k) => k.code === hot);
  return (
    <section className={styles.keyboard} aria-label="Keyboard of the plan">
      <ToggleButtonGroup
        exclusive
        size="small"
        value={now?.held ?? null}
        aria-label="Held"
        onChange={(_, next: string | null) => next && change({ held: next }, true)}
      >
        {choices.map((c) => (
          <ToggleButton key={c.held} value={c.held}>
            {c.caps.join(" ") || "alone"} {c.tasks}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Board
        width={found.data.width}
        rows={found.data.rows}
        keys={keys}
        held={held}
        hot={hot}
        reach={false}
        differing={differing}
        onlyDiffers={false}
        onLook={setHot}
        onPress={(k) => setHot(k.code)}
      />
      <p role="status">
        {looked
          ? `${looked.cap || "Space"}: ${looked.sentence}`
          : `On the keyboard of ${setup_name}. Marked: keys that have another task than now.`}
      </p>
    </section>
  );
}
