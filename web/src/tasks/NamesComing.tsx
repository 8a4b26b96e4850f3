import Button from "@mui/material/Button";
import { Trouble, Waiting } from "../shared/states";
import styles from "./Tasks.module.css";
import { useNamesComing, useTakeNames } from "./useTasks";

interface NamesComingProps {
  file: File;
  onLeave: () => void;
}

/** What a sheet of names would change, before it is taken. */
export function NamesComing({ file, onLeave }: NamesComingProps) {
  const coming = useNamesComing(file);
  const take = useTakeNames(onLeave);
  return (
    <section className={styles.names} aria-label={`Names from ${file.name}`}>
      <h2>Names from {file.name}</h2>
      {coming.isError && <Trouble error={coming.error} again={() => coming.refetch()} />}
      {coming.isPending && <Waiting what="the sheet" />}
      {coming.data && (
        <>
          <p role="status">
            {coming.data.count === 0
              ? "All names of the sheet are those that there are: nothing would change."
              : `${coming.data.count} ${coming.data.count === 1 ? "name" : "names"} of ${coming.data.things} ${coming.data.things === 1 ? "task or command" : "tasks and commands"} would change.`}
          </p>
          <ul>
            {coming.data.changes.map((c) => (
              <li key={`${c.of} ${c.language}`}>
                <b>{c.of}</b> in {c.language}: {c.before && <s>{c.before}</s>} {c.after || "no name of its own"}
              </li>
            ))}
          </ul>
          {coming.data.count > coming.data.changes.length && (
            <p>and {coming.data.count - coming.data.changes.length} more</p>
          )}
        </>
      )}
      <div>
        <Button
          variant="contained"
          autoFocus
          disabled={!coming.data?.count}
          loading={take.isPending}
          onClick={() => take.mutate(file)}
        >
          Take these names
        </Button>
        <Button color="inherit" onClick={onLeave}>
          Leave it
        </Button>
      </div>
    </section>
  );
}
