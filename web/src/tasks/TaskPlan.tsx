import type { Schemas } from "../api/client";
import { SomeLines } from "../shared/SomeLines";
import styles from "./Tasks.module.css";

export type Plan = Schemas["TaskPlanOut"];

interface TaskPlanProps {
  plan: Plan;
  says: string;
}

/** What a change of tasks would do, before it is saved: `says` what it touches; then agreement, clashes, what is worth a look. */
export function TaskPlan({ plan, says }: TaskPlanProps) {
  const more = [gone(plan), apart(plan), agreementThen(plan)].filter(Boolean).join(" ");
  const quiet = !more && plan.made + plan.solved + plan.coming + plan.going === 0;
  return (
    <div role="status" className={styles.plan}>
      <p>
        {says} {more}
        {quiet && "No line, no agreement and no clash changes with it."}
      </p>
      <SomeLines title={counted(plan.made, "clash made", "clashes made")} lines={plan.makes} bad />
      <SomeLines title={counted(plan.solved, "clash solved", "clashes solved")} lines={plan.solves} />
      <SomeLines title={`${plan.coming} more worth a look in the standard`} lines={plan.come} bad />
      <SomeLines title={`${plan.going} no longer worth a look`} lines={plan.go} />
    </div>
  );
}

/** The commands and lines that a change touches. */
export function touched(plan: Pick<Plan, "commands" | "programs" | "lines">): string {
  const where = plan.programs.length > 0 ? ` in ${plan.programs.join(", ")}` : "";
  return `${counted(plan.commands, "command", "commands")}${where} and ${counted(plan.lines, "line", "lines")} of the standard`;
}

export function counted(count: number, one: string, more: string): string {
  return `${count} ${count === 1 ? one : more}`;
}

function gone(plan: Plan): string {
  return plan.lines_gone > 0 ? `${counted(plan.lines_gone, "line is", "lines are")} gone then.` : "";
}

function apart(plan: Plan): string {
  if (plan.lines_apart === plan.lines_apart_then) return "";
  return `${counted(plan.lines_apart_then, "line says", "lines say")} another key than the usual one then, ${plan.lines_apart} now.`;
}

/** How far things agree before and after, where that is another figure. */
function agreementThen(plan: Plan): string {
  if (plan.agree === plan.agree_then && plan.could === plan.could_then) return "";
  const share = (agree: number, could: number) => (could === 0 ? "nothing" : `${((100 * agree) / could).toFixed(1)} %`);
  return `Of what could follow the standard, ${share(plan.agree, plan.could)} agrees now and ${share(plan.agree_then, plan.could_then)} then.`;
}
