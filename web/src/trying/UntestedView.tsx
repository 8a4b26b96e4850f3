import { Link, useLocation } from "react-router";
import { Caps } from "../keyboard/Caps";
import { Empty, Trouble, Waiting } from "../shared/states";
import { again } from "./RecordsView";
import styles from "./Try.module.css";
import { useUntested } from "./useTry";

/** What should be pressed on a real machine: what was changed since, and tests whose answer is another one by now. */
export function UntestedView() {
  const found = useUntested();
  const { search } = useLocation();
  if (found.isError) return <Trouble error={found.error} again={() => found.refetch()} />;
  if (!found.data) return <Waiting what="what is untested" />;
  if (found.data.length === 0) {
    return (
      <Empty title="Everything that was changed has been tested.">
        <p>
          What is changed from now on stands here until somebody presses it on a real machine and keeps what they saw.
        </p>
      </Empty>
    );
  }
  return (
    <ul className={styles.records} aria-label="Untested">
      {found.data.map((u) => (
        <li key={`${u.why}${u.setup}${u.shortcut.text}${u.says}`}>
          <Caps shortcut={u.shortcut} />
          <span>
            <b>{u.expects}</b> in {u.program_name}
            {u.scope_name && `, ${u.scope_name}`}, {u.setup_name}
            <small>
              {u.says} {u.was && `It was: ${u.was}.`} {u.by}, {new Date(u.at).toLocaleString()}
            </small>
          </span>
          <Link to={{ search: again(search, { ...u, shortcut: u.shortcut.text }) }}>
            Try it<span className="unseen">: {u.shortcut.words}</span>
          </Link>
        </li>
      ))}
    </ul>
  );
}
