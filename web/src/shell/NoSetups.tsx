import { Link } from "react-router";
import { Empty } from "../shared/states";

/** Where nothing can be looked through yet: what is missing, and where it is made. */
export function NoSetups() {
  return (
    <Empty whole title="There is nothing to look through yet">
      <p>
        What a press does is told for people at machines. Nobody sits at one so far: bring in or enter{" "}
        <Link to="/organisation/people">people</Link> and <Link to="/organisation/machines">machines</Link>, say which
        programs run on them, and seat the people. Every screen then speaks of them.
      </p>
    </Empty>
  );
}
