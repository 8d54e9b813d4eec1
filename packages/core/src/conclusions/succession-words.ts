import type { Succession } from "../contract/index.js";
import { count } from "../format.js";

/** Whether the newer one is told from its predecessor, and by how much, in a sentence. */
export function describeSuccession({ points, halfWidth }: Pick<Succession, "points" | "halfWidth">): string {
  if (points === null) return "No ballots connect the two, so they cannot be compared.";
  const by = count(Math.round(Math.abs(points)), "point");
  if (halfWidth === null)
    return `${by} ${points < 0 ? "lower" : "higher"}; an interval needs two voters and two prompts.`;
  const isTold = Math.abs(points) > halfWidth;
  const sure = `± ${Math.round(halfWidth)}`;
  if (!isTold) return `Not told apart: ${by} ${points < 0 ? "lower" : "higher"}, ${sure}.`;
  return `${points > 0 ? "Better" : "Worse"} by ${by}, ${sure}.`;
}
