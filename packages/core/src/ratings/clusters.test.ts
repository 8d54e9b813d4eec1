import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { BallotColumns } from "./ballots.js";
import { countBallots, sortBallots } from "./ballots.js";
import { clusterCount, type Clusters, clusterTwoWays, sumOuterProducts } from "./clusters.js";
import { fitRatings } from "./fit-ratings.js";
import { ScoreTable } from "./score-table.js";

const ENTRANTS = 5;
const Ballot = fc.record({
  voter: fc.nat(6),
  prompt: fc.nat(4),
  left: fc.nat(ENTRANTS - 1),
  gap: fc.integer({ min: 1, max: ENTRANTS - 1 }),
  outcome: fc.integer({ min: 1, max: 5 }),
});
const Ballots = fc.array(Ballot, { minLength: 1, maxLength: 60 }).map((ballots): BallotColumns => ({
  voter: ballots.map(({ voter }) => voter),
  prompt: ballots.map(({ prompt }) => prompt),
  left: ballots.map(({ left }) => left),
  right: ballots.map(({ left, gap }) => (left + gap) % ENTRANTS),
  outcome: ballots.map(({ outcome }) => outcome),
}));

/** The rows of each cluster, when the place of a row is its number. */
const rowsOf = ({ places, starts }: Clusters) =>
  Array.from({ length: starts.length - 1 }, (_, g) => [...places.slice(starts[g], starts[g + 1])]);
const groupBy = (keys: ArrayLike<unknown>) => {
  const groups = new Map<unknown, number[]>();
  Array.from(keys).forEach((key, row) => groups.set(key, [...(groups.get(key) ?? []), row]));
  return [...groups.values()];
};
const sorted = (groups: number[][]) =>
  groups.map((rows) => rows.toSorted((a, b) => a - b)).toSorted((a, b) => a[0]! - b[0]!);

describe("clusters", () => {
  it("hold the ballots of one voter, of one prompt, and of one voter on one prompt", () => {
    fc.assert(
      fc.property(Ballots, (ballots) => {
        const { voter, prompt, outcome } = sortBallots(ballots);
        const numbers = Int32Array.from({ length: outcome.length }, (_, row) => row);
        const { byVoter, byPrompt, byCell } = clusterTwoWays({ voter, prompt }, numbers);
        expect(sorted(rowsOf(byVoter))).toEqual(groupBy(voter));
        expect(sorted(rowsOf(byPrompt))).toEqual(groupBy(prompt));
        expect(sorted(rowsOf(byCell))).toEqual(groupBy(Array.from(voter, (own, row) => `${own} ${prompt[row]}`)));
        expect(clusterCount(byPrompt)).toBe(new Set(Array.from(prompt)).size);
      }),
    );
  });

  it("give the same sums from a table of all pairs as from scores row by row, each added up by hand", () => {
    fc.assert(
      fc.property(Ballots, (unsorted) => {
        const ballots = sortBallots(unsorted);
        const { model } = fitRatings(ENTRANTS, countBallots(ENTRANTS, 5, ballots), {
          K: 5,
          ridge: 0.1,
          side: true,
          ridgeSide: 0.1,
        });
        const [byPair, byRow] = [new ScoreTable(model, ENTRANTS), new ScoreTable(model, ENTRANTS, ballots)];
        const size = model.x.length;
        const scores = Array.from(ballots.outcome, (_, row) => {
          const one = new Float64Array(size);
          const touching = { sum: one, touched: new Int32Array(size), isTouched: new Uint8Array(size) };
          expect(byRow.addUp({ places: byRow.find(ballots), from: row, to: row + 1 }, touching)).toBe(2);
          return one;
        });
        for (const [keys, which] of [
          [ballots.voter, "byVoter"],
          [ballots.prompt, "byPrompt"],
          [Array.from(ballots.voter, (own, row) => `${own} ${ballots.prompt[row]}`), "byCell"],
        ] as const) {
          const expected = new Float64Array(size * size);
          for (const members of groupBy(keys)) {
            const sum = Float64Array.from({ length: size }, (_, i) =>
              members.reduce((all, row) => all + scores[row]![i]!, 0),
            );
            for (let i = 0; i < size; i++) for (let j = 0; j < size; j++) expected[i * size + j]! += sum[i]! * sum[j]!;
          }
          for (const table of [byPair, byRow]) {
            const clusters = clusterTwoWays(ballots, table.find(ballots));
            const { data } = sumOuterProducts(model, table, clusters[which]);
            data.forEach((value, at) => expect(value).toBeCloseTo(expected[at]!, 9));
          }
        }
      }),
      { numRuns: 40 },
    );
  });
});
