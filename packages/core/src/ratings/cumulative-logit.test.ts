import fc from "fast-check";
import { expect, it } from "vitest";
import { differentiateOutcome, logProbability } from "./cumulative-logit.js";

it("tells the log-probability of an outcome alone as with its derivatives, and far out too", () => {
  const cuts = fc
    .array(fc.double({ min: 0.05, max: 3, noNaN: true }), { maxLength: 3 })
    .map((gaps) => gaps.map((_, j) => gaps.slice(0, j + 1).reduce((sum, gap) => sum + gap, 0)));
  fc.assert(
    fc.property(cuts, fc.boolean(), fc.double({ min: -30, max: 30, noNaN: true }), (a, hasMiddleCut, eta) => {
      const K = 2 * a.length + (hasMiddleCut ? 2 : 1);
      for (let k = 1; k <= K; k++)
        expect(logProbability(k, K, eta, a)).toBeCloseTo(differentiateOutcome(k, K, eta, a).logP, 8);
    }),
  );
  expect(logProbability(1, 5, -900, [0.4, 1.5])).toBeCloseTo(-901.5, 9);
  expect(logProbability(5, 5, -900, [0.4, 1.5])).toBeCloseTo(0, 9);
});
