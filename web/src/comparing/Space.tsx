import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { Refusal } from "../shared/Consequences";
import { useSays } from "../shared/Says";
import { useChanged } from "../shared/useHistory";
import styles from "./Comparing.module.css";

const MB = 1_000_000;

/** Bytes in words: kB below a megabyte. */
export function sizeOf(bytes: number): string {
  return bytes < MB ? `${Math.max(bytes > 0 ? 1 : 0, Math.round(bytes / 1000))} kB` : `${(bytes / MB).toFixed(1)} MB`;
}

/** What old revisions take, and dropping them by age and within a budget: told first, then done by a job. */
export function Space() {
  const [open, setOpen] = useState(false);
  const space = useQuery({ queryKey: key("line", "space"), queryFn: () => answer(api.GET("/api/space")) });
  if (!space.data) return null;
  const { revisions, bytes, one, last } = space.data;
  return (
    <section className={styles.space} aria-label="Old revisions">
      <p>
        {revisions} revisions take {sizeOf(bytes)}, {sizeOf(one)} each.
        {last?.state === "done" && ` The last thinning dropped ${last.dropped} and freed ${sizeOf(last.freed)}.`}
        {last?.state === "waiting" && " A thinning is being done."}
        {last?.state === "failed" && ` The last thinning was broken off: ${last.says}`}{" "}
        <Button color="inherit" aria-expanded={open} onClick={() => setOpen(!open)}>
          Thin them out
        </Button>
      </p>
      {open && <Thinning onBegun={() => setOpen(false)} />}
    </section>
  );
}

function Thinning({ onBegun }: { onBegun: () => void }) {
  const [all, setAll] = useState("7");
  const [daily, setDaily] = useState("91");
  const [weekly, setWeekly] = useState(true);
  const [most, setMost] = useState("");
  const rule = {
    all_days: Number(all),
    daily_days: Number(daily),
    weekly,
    budget: most.trim() === "" ? null : Math.round(Number(most) * MB),
  };
  const asked = useDeferredValue(JSON.stringify(rule));
  const fine = Object.values(rule).every((v) => typeof v !== "number" || (Number.isFinite(v) && v >= 0));
  const plan = useQuery({
    queryKey: key("plan", "space", asked),
    queryFn: () => answer(api.POST("/api/space/plan", { body: JSON.parse(asked) })),
    enabled: fine,
    retry: false,
  });
  const changed = useChanged();
  const says = useSays();
  const thin = useMutation({
    mutationFn: () => answer(api.POST("/api/space/thin", { body: rule })),
    onSuccess: async () => {
      await changed();
      says.done("The old revisions are being dropped.");
      onBegun();
    },
    onError: says.refused,
  });
  const told = plan.data;
  return (
    <>
      <div className={styles.filters}>
        <TextField label="All stay for days" type="number" value={all} onChange={(e) => setAll(e.target.value)} />
        <TextField
          label="Then one a day for days"
          type="number"
          value={daily}
          onChange={(e) => setDaily(e.target.value)}
        />
        <FormControlLabel
          control={<Switch checked={weekly} onChange={(e) => setWeekly(e.target.checked)} />}
          label="then one a week"
        />
        <TextField
          label="In all at most MB"
          type="number"
          value={most}
          onChange={(e) => setMost(e.target.value)}
          helperText="Empty: as many as they take"
        />
      </div>
      {!fine && <p role="alert">Days and megabytes are numbers from 0 on.</p>}
      {plan.isError && <Refusal error={plan.error} />}
      {told && fine && (
        <div role="status" aria-label="What would go">
          {told.drop === 0
            ? "Nothing would go."
            : `${told.drop} of ${told.count} would go for good and free ${sizeOf(told.freed)}; ${sizeOf(told.left)} stay.`}
          {told.over > 0 &&
            ` The newest, released, named and given ones alone take ${sizeOf(told.must)}: more than that.`}
          <ul>
            {told.documents.slice(0, 8).map((d) => (
              <li key={d.document}>
                {d.document}: {d.count}, from {d.oldest} to {d.newest}
              </li>
            ))}
            {told.documents.length > 8 && <li>And of {told.documents.length - 8} more.</li>}
          </ul>
        </div>
      )}
      <Button
        variant="contained"
        disabled={!fine || !told || told.drop === 0 || told.over > 0}
        loading={thin.isPending}
        onClick={() => thin.mutate()}
      >
        Drop {told?.drop ?? 0} for good
      </Button>
    </>
  );
}
