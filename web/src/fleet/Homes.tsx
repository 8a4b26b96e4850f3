import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import { useState } from "react";
import { momentOf } from "../shared/days";
import { Trouble, Waiting } from "../shared/states";
import { useRights } from "../shared/useSession";
import styles from "./Agents.module.css";
import type { Agent, Machine } from "./useAgents";
import { useHome, usePeopleThere, useTakeOff } from "./useAgents";

/** What an agent works in, in words. */
export function homeOf(agent: Agent): string {
  if (agent.serves === "machine") return "What is the machine's own";
  if (agent.whose !== "") return `${agent.whose}'s home`;
  return agent.account === "" ? "A home" : `The home of ${agent.account}`;
}

/** The homes of a machine: each has an agent and settings of its own. */
export function Homes({ machine, children }: { machine: Machine; children: (agent: Agent) => React.ReactNode }) {
  const told = machine.agents.length > 1 || machine.agents.some((a) => a.account !== "" || a.doubled_at !== null);
  return machine.agents.map((agent) => (
    <section key={agent.id} className={styles.home} aria-label={`${homeOf(agent)} on ${machine.name}`}>
      {told && <HomeOf agent={agent} machine={machine} />}
      {children(agent)}
    </section>
  ));
}

function HomeOf({ agent, machine }: { agent: Agent; machine: Machine }) {
  const rights = useRights();
  const takeOff = useTakeOff();
  const [asking, setAsking] = useState(false);
  return (
    <div>
      <b>{homeOf(agent)}</b>
      {agent.whose !== "" && agent.account !== "" && ` (${agent.account})`}
      {!agent.enrolled && ", whose agent was taken off"}
      {agent.enrolled && machine.agents.length > 1 && agent.heard_at && `, heard ${momentOf(agent.heard_at)}`}.{" "}
      {agent.serves === "home" && agent.whose === "" && "What most people there have counts for it. "}
      {rights.release && agent.serves === "home" && (
        <button type="button" className={styles.word} onClick={() => setAsking(true)}>
          Whose it is<span className="unseen">: {homeOf(agent)}</span>
        </button>
      )}{" "}
      {rights.release && agent.enrolled && machine.agents.length > 1 && (
        <button type="button" className={styles.word} onClick={() => takeOff.mutate(agent.id)}>
          Take its agent off<span className="unseen">: {homeOf(agent)}</span>
        </button>
      )}
      {agent.doubled_at !== null && (
        <div>
          <strong>
            Its token was used on another machine, last {momentOf(agent.doubled_at)}. There it gets nothing; where this
            machine is new hardware, make a code and enrol it anew.
          </strong>
        </div>
      )}
      {asking && <WhoseHome agent={agent} onDone={() => setAsking(false)} />}
    </div>
  );
}

/** Which of those who sit at the machine has this home. */
function WhoseHome({ agent, onDone }: { agent: Agent; onDone: () => void }) {
  const people = usePeopleThere(agent.id);
  const [whose, setWhose] = useState(agent.person);
  const home = useHome(agent.id, onDone);
  return (
    <Dialog open onClose={onDone} aria-labelledby="whose-home">
      <DialogTitle id="whose-home">Whose home is it?</DialogTitle>
      <DialogContent>
        {people.isError && <Trouble error={people.error} again={() => people.refetch()} />}
        {people.isPending && <Waiting what="who sits there" />}
        {people.data && (
          <RadioGroup aria-labelledby="whose-home" value={whose} onChange={(_, value) => setWhose(value)}>
            <FormControlLabel value="" control={<Radio />} label="Nobody's in particular" />
            {people.data.map((p) => (
              <FormControlLabel key={p.id} value={p.id} control={<Radio />} label={p.name} />
            ))}
          </RadioGroup>
        )}
        <p>What that person's layers say is wanted there from now on.</p>
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onDone} autoFocus>
          Leave it
        </Button>
        <Button
          variant="contained"
          disabled={whose === agent.person}
          loading={home.isPending}
          onClick={() => home.mutate(whose)}
        >
          It is theirs
        </Button>
      </DialogActions>
    </Dialog>
  );
}
