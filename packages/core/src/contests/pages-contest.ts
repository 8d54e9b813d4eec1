import type { PagesContest } from "../contract/index.js";
import { numberAll, rateBallots } from "../ratings/index.js";
import type { ContestBallot } from "./forms-contest.js";

/** Ratings of pages after so many mends, or after an earlier turn, by the product's method, from the ballots of that contest alone. */
export function ratePages(pages: string, ballots: readonly ContestBallot[]): PagesContest {
  const sides = numberAll(ballots.flatMap(({ leftVersionId, rightVersionId }) => [leftVersionId, rightVersionId]));
  const versionIds = [...sides.numberOf.keys()];
  const { entrants, order } = rateBallots(versionIds.length, {
    voter: numberAll(ballots.map(({ voterId }) => voterId)).columns,
    prompt: numberAll(ballots.map(({ promptId }) => promptId)).columns,
    left: ballots.map((_, ballot) => sides.columns[2 * ballot]!),
    right: ballots.map((_, ballot) => sides.columns[2 * ballot + 1]!),
    outcome: ballots.map(({ lean }) => lean + 3),
  }).ratings;
  return {
    pages,
    ballots: ballots.length,
    rows: order.flatMap((index) => {
      const { rating, halfWidth, rankRange, ballots: played } = entrants[index]!;
      return rating === null ? [] : [{ versionId: versionIds[index]!, rating, halfWidth, rankRange, ballots: played }];
    }),
  };
}
