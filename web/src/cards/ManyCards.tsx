import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import { Refusal } from "../shared/Consequences";
import type { Wish } from "./asked";
import styles from "./Cards.module.css";
import { useManyCards } from "./useCards";

/** A card like this one for every role on every keyboard that its people type on, made by a worker. */
export function ManyCards({ wish }: { wish: Wish }) {
  const { make, batch } = useManyCards();
  const { language, paper, most } = wish;
  return (
    <section aria-label="Cards of all roles">
      <h2>For all roles</h2>
      {make.isError && <Refusal error={make.error} />}
      {batch?.state === "working" && (
        <>
          <LinearProgress
            variant="determinate"
            value={(100 * batch.done) / batch.of}
            aria-label="Cards that are made"
          />
          <p role="status">
            {batch.done} of {batch.of} cards are made. You can leave meanwhile.
          </p>
        </>
      )}
      {batch?.state === "done" && (
        <p role="status">
          <a href={`/api/cards/many/${batch.id}/cards.zip`}>Fetch the {batch.of} cards</a> {batch.says}
        </p>
      )}
      {batch?.state === "failed" && <p role="status">They couldn't be made: {batch.says}</p>}
      {batch?.state !== "working" && (
        <div className={styles.many}>
          <Button
            color="inherit"
            variant="outlined"
            loading={make.isPending}
            onClick={() => make.mutate({ language, paper, most, form: "pdf" })}
          >
            Make a card for every role
          </Button>
        </div>
      )}
    </section>
  );
}
