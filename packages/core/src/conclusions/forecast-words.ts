import type { Forecast } from "../contract/index.js";
import { count } from "../format.js";

/** Two significant digits: a forecast is no better than that. */
const roughly = (n: number): number => Number(n.toPrecision(n < 10 ? 1 : 2));
const formatRough = (n: number) => roughly(n).toLocaleString("en");

/** What it takes to tell two apart, in a sentence or two. */
export function describeForecast({ ballots: { low, likely, high }, voters, prompts, needs }: Forecast): string {
  if (likely === null || voters === null || prompts === null)
    return "Too close to call: if they differ as little as it looks, no number of ballots that one could collect tells them apart.";
  const range = `${low === null ? "0" : formatRough(low)} to ${high === null ? "no number" : formatRough(high)}`;
  const about = `About ${count(roughly(likely), "more ballot")} (${range} if the difference is one error larger or smaller)`;
  const newVoters = count(roughly(voters), "new voter");
  const newPrompts = count(roughly(prompts), "new prompt");
  const whence: Record<Forecast["needs"], string> = {
    ballots: "by any voters, on any prompts",
    voters: `from ${newVoters}: more by the same ones do not help`,
    prompts: `on ${newPrompts}: more on the same ones do not help`,
    "voters and prompts": `from ${newVoters}, on ${newPrompts}: more of the same do not help`,
  };
  return `${about}, ${whence[needs]}.`;
}
