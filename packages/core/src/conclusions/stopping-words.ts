import type { StoppingGoal, StoppingPlan, StoppingState } from "../contract/index.js";
import { count } from "../format.js";

/** What ballots are cast for, as in: the first three are told apart. */
export function describeGoal(goal: StoppingGoal): string {
  if (goal.kind === "within") return `every rating is within ± ${goal.points} points`;
  return goal.count === 1 ? "the first is told apart from the rest" : `the first ${goal.count} are told apart`;
}

/** A plan in a sentence. */
export const describePlan = ({
  goal,
  looks,
  mostBallots,
}: Pick<StoppingPlan, "goal" | "looks" | "mostBallots">): string =>
  `Vote until ${describeGoal(goal)}, or ${count(mostBallots, "ballot")} count; ${count(looks, "look")}.`;

/** How far a plan is: met, over without being met, or when it is looked again. */
export function describeProgress({ plan, looks, metAfter, ballots }: StoppingState): string {
  if (plan === null) return "";
  if (metAfter !== null) return `Met at the look after ${count(metAfter, "ballot")}: voting can stop.`;
  const next = looks.find(({ isMet }) => isMet === null);
  if (next === undefined) return `Not met, and all looks are taken: ${count(plan.mostBallots, "ballot")} did not tell.`;
  const taken = looks.filter(({ isMet }) => isMet !== null).length;
  const soFar = taken === 0 ? "No look is taken yet" : `Not met at ${count(taken, "look")}`;
  return `${soFar}; the next is after ${count(next.ballots, "ballot")}, ${next.ballots - ballots} from now.`;
}
