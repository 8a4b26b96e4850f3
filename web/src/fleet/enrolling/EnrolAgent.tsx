import Button from "@mui/material/Button";
import { useRights } from "../../shared/useSession";
import styles from "./Enrolling.module.css";
import { useAgentPackage, useCode } from "./useEnrolling";

interface EnrolAgentProps {
  machine: string;
  name: string;
  children?: string;
}

/** A code with which a machine's agent enrols once. */
export function EnrolAgent({ machine, name, children = "Make a code for its agent" }: EnrolAgentProps) {
  const rights = useRights();
  const code = useCode(machine);
  if (!rights.release) return null;
  if (code.data) {
    return (
      <div className={styles.given}>
        The agent of {name} enrols once with this code within seven days; it is not shown again.
        <code>{code.data.code}</code>
        <AgentShown />
        <KeyShown fingerprint={code.data.fingerprint} />
      </div>
    );
  }
  return (
    <Button variant="outlined" color="inherit" loading={code.isPending} onClick={() => code.mutate()}>
      {children}
    </Button>
  );
}

/** The agent to take along, and how it is known to be the right one. */
export function AgentShown() {
  const found = useAgentPackage();
  if (!found.data) return null;
  return (
    <span>
      <a href="/api/agents/package.zip" download>
        The agent
      </a>{" "}
      for {found.data.made_for} ({(found.data.size / 1_048_576).toFixed(1)} MB). Its SHA-256 is{" "}
      <code>{found.data.digest}</code>
    </span>
  );
}

/** By what people at a machine know that its agent obeys this organisation and nobody else. */
export function KeyShown({ fingerprint }: { fingerprint: string }) {
  return (
    <span>
      {fingerprint === "none" ? (
        "This server has no signing key yet, so the agent would be given no orders."
      ) : (
        <>
          When it has enrolled it shows the key that it obeys. It has to be <code>{fingerprint}</code>
        </>
      )}
    </span>
  );
}
