import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { countBallots } from "./ballots.js";
import { differentiateOutcome, thresholdAt } from "./cumulative-logit.js";
import { fitRatings } from "./fit-ratings.js";
import { ScoreList, ScoreTable } from "./score-table.js";

describe("scores of ballots", () => {
  it("are the derivatives of log P(Y = k), also far out and where outcomes are merged away", () => {
    const ballots = fc.array(fc.record({ outcome: fc.integer({ min: 1, max: 5 }), isTurned: fc.boolean() }), {
      minLength: 1,
      maxLength: 40,
    });
    fc.assert(
      fc.property(ballots, fc.constantFrom(0.1, 1e-6), (list, ridge) => {
        const columns = {
          left: list.map(({ isTurned }) => Number(isTurned)),
          right: list.map(({ isTurned }) => Number(!isTurned)),
          outcome: list.map(({ outcome }) => outcome),
        };
        const { model } = fitRatings(2, countBallots(2, 5, columns), { K: 5, ridge, side: true, ridgeSide: 0.1 });
        const { scale, x, deltaSlot, firstCutSlot } = model;
        fc.pre(scale.reducedK > 1);
        const table = new ScoreTable(model, 2);
        for (let b = 0; b < list.length; b++) {
          const scores = new ScoreList(model);
          table.list(columns, b, b + 1, scores);
          const sum = scores.one;
          expect(scores.other).toEqual(sum);
          const added = new Float64Array(x.length).fill(1);
          table.addUp(columns, b, b + 1, added);
          added.forEach((value, at) => expect(value).toBeCloseTo(1 + sum[at]!, 8));
          const [l, r] = [columns.left[b]!, columns.right[b]!];
          const k = scale.toReduced[columns.outcome[b]!]!;
          const eta = x[l]! - x[r]! + x[deltaSlot!]!;
          const { byUpper, byLower } = differentiateOutcome(k, scale.reducedK, eta, x.subarray(firstCutSlot));
          const expected = new Float64Array(x.length);
          expected[l] = byUpper + byLower;
          expected[r] = -byUpper - byLower;
          expected[deltaSlot!] = byUpper + byLower;
          for (const [edge, slope] of [
            [k, byUpper],
            [k - 1, byLower],
          ] as const) {
            if (edge === 0 || edge === scale.reducedK) continue;
            const { sign, index } = thresholdAt(edge, scale.reducedK);
            if (sign !== 0) expected[firstCutSlot + index]! += sign * slope;
          }
          sum.forEach((value, at) => expect(value).toBeCloseTo(expected[at]!, 8));
        }
      }),
    );
  });
});
