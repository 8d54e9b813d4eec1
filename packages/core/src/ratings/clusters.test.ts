import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { BallotColumns } from "./ballots.js";
import { countBallots, sortBallots } from "./ballots.js";
import { sumTwoWays } from "./clusters.js";
import { fitRatings } from "./fit-ratings.js";
import { MOST_LISTED, ScoreList, ScoreTable } from "./score-table.js";

const ENTRANTS = 12;
const Ballot = fc.record({
  // Few voters, so that cells have many ballots as well as few.
  voter: fc.nat(3),
  prompt: fc.nat(2),
  left: fc.nat(ENTRANTS - 1),
  gap: fc.integer({ min: 1, max: ENTRANTS - 1 }),
  outcome: fc.integer({ min: 1, max: 5 }),
});
const Ballots = fc.array(Ballot, { minLength: 1, maxLength: 150, size: "max" }).map((ballots): BallotColumns => ({
  voter: ballots.map(({ voter }) => voter),
  prompt: ballots.map(({ prompt }) => prompt),
  left: ballots.map(({ left }) => left),
  right: ballots.map(({ left, gap }) => (left + gap) % ENTRANTS),
  outcome: ballots.map(({ outcome }) => outcome),
}));

const groupBy = (keys: ArrayLike<unknown>) => {
  const groups = new Map<unknown, number[]>();
  Array.from(keys).forEach((key, row) => groups.set(key, [...(groups.get(key) ?? []), row]));
  return [...groups.values()];
};

function addUpByHand(groups: readonly number[][], scores: readonly Float64Array[]): Float64Array {
  const size = scores[0]!.length;
  const expected = new Float64Array(size * size);
  for (const members of groups) {
    const sum = scores[0]!.map((_, i) => members.reduce((all, row) => all + scores[row]![i]!, 0));
    for (let at = 0; at < expected.length; at++) expected[at]! += sum[Math.floor(at / size)]! * sum[at % size]!;
  }
  return expected;
}

describe("sums over clusters", () => {
  it("are of the ballots of one voter, of one prompt, and of one voter on one prompt, from a table of all pairs as from scores row by row", () => {
    const cellSizes = new Set<number>();
    fc.assert(
      fc.property(Ballots, (unsorted) => {
        const ballots = sortBallots(unsorted);
        const { model } = fitRatings(ENTRANTS, countBallots(ENTRANTS, 5, ballots), {
          K: 5,
          ridge: 0.1,
          side: true,
          ridgeSide: 0.1,
        });
        const cellOf = Array.from(ballots.voter, (own, row) => `${own} ${ballots.prompt[row]}`);
        for (const { length } of groupBy(cellOf)) cellSizes.add(length);
        const [byPair, byRow] = [new ScoreTable(model, ENTRANTS), new ScoreTable(model, ENTRANTS, ballots)];
        const scores = Array.from(ballots.outcome, (_, row) => {
          const scores = new ScoreList(model);
          byRow.list(ballots, row, row + 1, scores);
          return scores.one;
        });
        for (const table of [byPair, byRow]) {
          const found = sumTwoWays({ model, table }, ballots);
          for (const [keys, { meat, count }] of [
            [ballots.voter, found.voter],
            [ballots.prompt, found.prompt],
            [cellOf, found.cell],
          ] as const) {
            const groups = groupBy(keys);
            expect(count).toBe(groups.length);
            const expected = addUpByHand(groups, scores);
            meat.data.forEach((value, at) => expect(value).toBeCloseTo(expected[at]!, 9));
          }
        }
      }),
      { numRuns: 60 },
    );
    // The two kinds are summed up in two ways.
    expect(Math.min(...cellSizes)).toBeLessThanOrEqual(MOST_LISTED);
    expect(Math.max(...cellSizes)).toBeGreaterThan(MOST_LISTED);
  });
});
