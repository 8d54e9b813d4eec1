import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type BallotColumns, pickBallots, sortBallots } from "./ballots.js";
import { rateBallots } from "./rate-ballots.js";

const ENTRANTS = 4;
const ballot = fc
  .record({
    voter: fc.nat(5),
    prompt: fc.nat(4),
    left: fc.nat(ENTRANTS - 1),
    right: fc.nat(ENTRANTS - 1),
    outcome: fc.integer({ min: 1, max: 5 }),
  })
  .filter(({ left, right }) => left !== right);

const toColumns = (rows: readonly Record<keyof BallotColumns, number>[]): BallotColumns => ({
  voter: rows.map(({ voter }) => voter),
  prompt: rows.map(({ prompt }) => prompt),
  left: rows.map(({ left }) => left),
  right: rows.map(({ right }) => right),
  outcome: rows.map(({ outcome }) => outcome),
});

describe("ballots in an order of their own", () => {
  it("are the same ballots, and rated to the same last digit in whatever order they came", () => {
    const shuffled = fc
      .array(ballot, { minLength: 1, maxLength: 60 })
      .chain((rows) => fc.tuple(fc.constant(rows), fc.shuffledSubarray([...rows.keys()], { minLength: rows.length })));
    fc.assert(
      fc.property(shuffled, ([rows, order]) => {
        const ballots = toColumns(rows);
        const other = pickBallots(ballots, order);
        const lines = ({ voter, prompt, left, right, outcome }: BallotColumns) =>
          Array.from(outcome, (k, b) => `${voter[b]} ${prompt[b]} ${left[b]} ${right[b]} ${k}`);
        expect(lines(sortBallots(other))).toEqual(lines(ballots).toSorted());
        expect(rateBallots(ENTRANTS, other).ratings).toEqual(rateBallots(ENTRANTS, ballots).ratings);
      }),
    );
  });

  it("are sorted by numbers of any size", () => {
    const [small, large] = [
      { voter: 7, prompt: 2 ** 30, left: 1, right: 0, outcome: 5 },
      { voter: 2 ** 30, prompt: 2 ** 30, left: 1, right: 0, outcome: 1 },
    ];
    expect(Array.from(sortBallots(toColumns([large, small])).voter)).toEqual([7, 2 ** 30]);
  });

  it("stay as they are where they are in order", () => {
    const ballots = toColumns([
      { voter: 0, prompt: 1, left: 1, right: 0, outcome: 5 },
      { voter: 1, prompt: 0, left: 0, right: 1, outcome: 1 },
    ]);
    expect(sortBallots(ballots)).toBe(ballots);
  });
});
