import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { countBallots, pickBallots, subtractCounts } from "./ballots.js";

const ENTRANTS = 4;
const ballotsOf = (rows: readonly (readonly [number, number, number])[]) => ({
  voter: rows.map(() => 0),
  prompt: rows.map(() => 0),
  left: rows.map(([left]) => left),
  right: rows.map(([left, step]) => (left + step) % ENTRANTS),
  outcome: rows.map(([, , outcome]) => outcome),
});
const row = fc.tuple(fc.nat(ENTRANTS - 1), fc.integer({ min: 1, max: ENTRANTS - 1 }), fc.integer({ min: 1, max: 5 }));

describe("subtractCounts", () => {
  it("leaves what counting the others alone would give", () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(row, fc.boolean())), (rows) => {
        const ballots = ballotsOf(rows.map(([ballot]) => ballot));
        const count = (isTaken: boolean) =>
          countBallots(
            ENTRANTS,
            5,
            pickBallots(
              ballots,
              rows.flatMap(([, taken], at) => (taken === isTaken ? [at] : [])),
            ),
          );
        expect(subtractCounts(countBallots(ENTRANTS, 5, ballots), count(true))).toEqual(count(false));
      }),
    );
  });

  it("refuses to take away what is not there", () => {
    const count = (...rows: [number, number, number][]) => countBallots(ENTRANTS, 5, ballotsOf(rows));
    expect(() => subtractCounts(count([0, 1, 3]), count([0, 1, 4]))).toThrow(RangeError);
    expect(() => subtractCounts(count([0, 1, 3]), count([0, 1, 3], [0, 1, 3]))).toThrow(RangeError);
  });
});
