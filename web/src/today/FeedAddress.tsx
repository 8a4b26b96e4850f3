import Button from "@mui/material/Button";
import styles from "./Matters.module.css";
import { useFeed } from "./useToday";

/** The same list for a feed reader or another program: its address is shown once, and ended at any time. */
export function FeedAddress({ has }: { has: boolean }) {
  const { make, end } = useFeed();
  return (
    <section className={styles.feed} aria-label="Read it elsewhere">
      {make.data ? (
        <p role="status">
          Whoever has this address reads your day without signing in; it isn't shown again:{" "}
          <code>{make.data.address}</code>
        </p>
      ) : (
        <p>
          {has
            ? "You have a feed (Atom) of this page. A new address ends the old one."
            : "This page is also a feed (Atom), by an address of your own; on the server, amberkey today --json tells the same."}
        </p>
      )}
      <Button color="inherit" variant="outlined" loading={make.isPending} onClick={() => make.mutate()}>
        {has || make.data ? "A new address" : "Make an address"}
      </Button>
      {(has || make.data) && (
        <Button color="inherit" loading={end.isPending} onClick={() => end.mutate()}>
          End it
        </Button>
      )}
    </section>
  );
}
