import { rateBallots } from "../ratings/index.js";
import type { BallotTable } from "./ballot-table.js";

/** The standings of a table of ballots, as the standings page would show them. */
export function rateTable(table: BallotTable) {
  const { entrants, ballots, works } = table.finish();
  const { ratings } = rateBallots(entrants.length, ballots);
  const { order, entrants: rated, forecasts, methodVersion, brackets, side, clusters } = ratings;
  const shown = new Float64Array(entrants.length);
  const worked = new Float64Array(entrants.length);
  for (const side of ["left", "right"] as const) {
    for (let b = 0; b < ballots.outcome.length; b++) {
      shown[ballots[side][b]!]!++;
      worked[ballots[side][b]!]! += works[side][b]!;
    }
  }
  return {
    ...{ methodVersion, brackets, side, clusters },
    forecasts: forecasts.map(({ first, second, ...forecast }) => ({
      ...{ first: entrants[first]!, second: entrants[second]! },
      ...forecast,
    })),
    ballots: ballots.outcome.length,
    standings: order.map((index) => ({
      entrant: entrants[index]!,
      ...rated[index]!,
      worksShare: worked[index]! / shown[index]!,
    })),
  };
}
