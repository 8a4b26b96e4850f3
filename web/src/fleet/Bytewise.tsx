import { useState } from "react";
import { wordsOf } from "../shared/Says";
import styles from "./Agents.module.css";
import type { Machine } from "./useAgents";
import { useDifference } from "./useAgents";

/** Where a file would change, sign by sign. */
export function Bytewise({ file }: { file: Machine["files"][number] }) {
  const [looks, setLooks] = useState(false);
  const found = useDifference(file.id, looks);
  if (!looks) {
    return (
      <button type="button" className={styles.word} onClick={() => setLooks(true)}>
        Byte for byte<span className="unseen"> in {file.path}</span>
      </button>
    );
  }
  if (found.isError) return <span role="alert">{wordsOf(found.error).join(" ")}</span>;
  if (!found.data) return <span role="status">Looking …</span>;
  if (found.data.length === 0) return <span>Not a byte would change.</span>;
  return (
    <ol aria-label={`Byte for byte in ${file.path}`}>
      {found.data.map((d) => (
        <li key={`${d.line} ${d.before} ${d.after}`}>
          line {d.line}: {d.before === "" ? "nothing" : <code className={styles.bytes}>{d.before}</code>} becomes{" "}
          {d.after === "" ? "nothing" : <code className={styles.bytes}>{d.after}</code>}
        </li>
      ))}
    </ol>
  );
}
