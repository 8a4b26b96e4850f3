import Button from "@mui/material/Button";
import { useRights } from "../shared/useSession";
import { useCode } from "./useAgents";

/** A code with which a machine's agent enrols once. */
export function EnrolAgent({ machine, name }: { machine: string; name: string }) {
  const rights = useRights();
  const code = useCode(machine);
  if (!rights.release) return null;
  if (code.data) {
    return (
      <p>
        The agent of {name} enrols once with <code>{code.data.code}</code> within seven days. It is not shown again.
      </p>
    );
  }
  return (
    <div>
      <Button variant="outlined" color="inherit" loading={code.isPending} onClick={() => code.mutate()}>
        Make a code for its agent
      </Button>
    </div>
  );
}
