import type { RatingsOverTime } from "../contract/index.js";
import { type BallotColumns, orderBallots, pickBallots, rateSorted } from "../ratings/index.js";

/** So many moments, evenly spaced in ballots. */
const STEPS = 16;

/**
 * Ratings after the first sixteenth of the ballots, after two, and so on. Yields before each fit.
 *
 * @param at of each ballot, in seconds since 1970; ballots are in that order.
 */
export function* rateOverTime(
  versionIds: readonly string[],
  ballots: BallotColumns,
  at: ArrayLike<number>,
): Generator<undefined, RatingsOverTime> {
  const all = at.length;
  const counts = new Set(Array.from({ length: STEPS }, (_, step) => Math.ceil((all * (step + 1)) / STEPS)));
  const steps: RatingsOverTime["steps"] = [];
  // Sorted once: whichever of them are taken, they are in order.
  const places = orderBallots(ballots);
  for (const count of counts) {
    if (count === 0) continue;
    yield;
    const first = pickBallots(
      ballots,
      places.filter((place) => place < count),
    );
    const { entrants } = rateSorted(versionIds.length, first).ratings;
    steps.push({
      ballots: count,
      at: new Date(at[count - 1]! * 1000).toISOString(),
      ratings: entrants.map(({ rating, halfWidth }) => ({ rating, halfWidth })),
    });
  }
  return { versionIds: [...versionIds], steps };
}
