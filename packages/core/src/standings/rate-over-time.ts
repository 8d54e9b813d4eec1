import type { RatingsOverTime } from "../contract/index.js";
import { type BallotColumns, type Numbers, orderBallots, pickBallots, rateSorted } from "../ratings/index.js";

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
  // Sorted once: whichever of them are taken, they are in order. From the last moment to the first, each takes from those that the one after it took.
  const places = orderBallots(ballots);
  const sorted = pickBallots(ballots, places);
  let taken = all;
  for (const count of [...counts].toReversed()) {
    if (count === 0) continue;
    yield;
    const keep = (column: Numbers) => keepFirst(column, places, { taken, count });
    const first = {
      ...{ voter: keep(sorted.voter), prompt: keep(sorted.prompt), outcome: keep(sorted.outcome) },
      ...{ left: keep(sorted.left), right: keep(sorted.right) },
    };
    // Last, since the others go by them.
    keep(places);
    taken = count;
    const { entrants } = rateSorted(versionIds.length, first).ratings;
    steps.push({
      ballots: count,
      at: new Date(at[count - 1]! * 1000).toISOString(),
      ratings: entrants.map(({ rating, halfWidth }) => ({ rating, halfWidth })),
    });
  }
  return { versionIds: [...versionIds], steps: steps.toReversed() };
}

/** Moves what was taken of the first ballots to the front of a column, where `taken` of a later moment stand. @returns these */
function keepFirst(column: Numbers, places: Int32Array, { taken, count }: { taken: number; count: number }): Numbers {
  let kept = 0;
  for (let b = 0; b < taken; b++) if (places[b]! < count) column[kept++] = column[b]!;
  return column.subarray(0, kept);
}
