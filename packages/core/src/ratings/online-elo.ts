import { TourneyError } from "../errors.js";

export interface EloOptions {
  /** Number of outcomes, ≥ 2. */
  K: number;
  base: number;
  /** How many points a ballot moves at most. */
  kFactor: number;
  /** Points by which the left place is favoured. */
  sideElo: number;
}

/** One ballot of the sequence; indices 0-based, outcome 1..K with 1 = left by far. */
export interface EloBallot {
  left: number;
  right: number;
  outcome: number;
}

/**
 * Ratings moved ballot by ballot (Elo 1978), for display only: they depend on the order of the ballots and have no interval.
 * Both updates use the ratings from before the ballot, so their sum is conserved.
 *
 * @returns per ballot all ratings after it; the last ones are the final ratings, `base` each without ballots.
 * @throws TourneyError INVALID_INPUT for a ballot that cannot be one.
 */
export function playOnlineElo(
  entrantCount: number,
  ballots: readonly EloBallot[],
  { K, base, kFactor, sideElo }: EloOptions,
): { final: number[]; history: number[][] } {
  const ratings = Array.from({ length: entrantCount }, () => base);
  const history = ballots.map(({ left, right, outcome }, index) => {
    if (
      left === right ||
      ratings[left] === undefined ||
      ratings[right] === undefined ||
      !(outcome >= 1 && outcome <= K)
    )
      throw new TourneyError("INVALID_INPUT", {
        message: `Ballot ${index + 1} of the sequence is not one between two known entrants with an outcome of 1..${K}.`,
        reason: `It says left ${left}, right ${right}, outcome ${outcome}; there are ${entrantCount} entrants, numbered from 0.`,
        remedy: "Correct the ballot or leave it out.",
      });
    const expected = 1 / (1 + 10 ** ((ratings[right] - ratings[left] - sideElo) / 400));
    const score = (K - outcome) / (K - 1);
    const move = kFactor * (score - expected);
    ratings[left] += move;
    ratings[right] -= move;
    return [...ratings];
  });
  return { final: ratings, history };
}
