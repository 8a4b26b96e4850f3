import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../../api/client";
import { key } from "../../api/keys";
import { useDone } from "../../shared/useDone";
import { useRights } from "../../shared/useSession";
import styles from "./Behaviour.module.css";

/** That newer facts of a system ship with this Amber Key: what they change, what stays as it was corrected, and taking them in. */
export function NewerFacts({ program, version }: { program: string; version: string }) {
  const rights = useRights();
  const facts = useQuery({ queryKey: key("facts"), queryFn: () => answer(api.GET("/api/facts")) });
  const take = useDone((_: null) =>
    answer(api.POST("/api/facts/{program}/{version}", { params: { path: { program, version } } })),
  );
  const found = facts.data?.find((f) => f.program === program && f.version === version);
  if (!found) return null;
  const others = found.changes - found.says.length;
  return (
    <Alert
      severity="info"
      sx={{ mb: 1.5 }}
      action={
        rights.edit && (
          <Button color="inherit" loading={take.isPending} onClick={() => take.mutate(null)}>
            Take them in
          </Button>
        )
      }
    >
      Newer facts of {found.name} came with this Amber Key: {found.changes} {found.changes === 1 ? "change" : "changes"}
      .{found.stays.length > 0 && ` What you corrected yourselves stays: ${found.stays.join(", ")}.`}
      <details>
        <summary>What they change</summary>
        <ul className={styles.news}>
          {found.says.map((s) => (
            <li key={s}>{s}</li>
          ))}
          {others > 0 && <li>And {others} more.</li>}
        </ul>
      </details>
    </Alert>
  );
}
