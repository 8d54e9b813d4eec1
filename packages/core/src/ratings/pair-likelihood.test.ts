import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { differentiateOutcome, thresholdAt } from "./cumulative-logit.js";
import { PairLikelihood } from "./pair-likelihood.js";

/** The same sums outcome by outcome, from the derivatives by the two bounds of each. */
function addUp(K: number, eta: number, cuts: readonly number[], counts: readonly number[]) {
  const m = cuts.length;
  const sums = { logLik: 0, slope: 0, curvature: 0 };
  const cutSlope = new Array<number>(m).fill(0);
  const mixed = new Array<number>(m).fill(0);
  const cutCurvature = new Array<number>(m * m).fill(0);
  for (let k = 1; k <= K; k++) {
    const n = counts[k - 1]!;
    const d = differentiateOutcome(k, K, eta, cuts);
    const weightsOf = (edge: number) => {
      const weights = new Array<number>(m).fill(0);
      if (edge > 0 && edge < K) {
        const { sign, index } = thresholdAt(edge, K);
        if (sign !== 0) weights[index] = sign;
      }
      return weights;
    };
    const [up, low] = [weightsOf(k), weightsOf(k - 1)];
    sums.logLik += n === 0 ? 0 : n * d.logP;
    sums.slope += n * (d.byUpper + d.byLower);
    sums.curvature += n * (d.byUpperUpper + d.byLowerLower + 2 * d.byUpperLower);
    for (let i = 0; i < m; i++) {
      cutSlope[i]! += n * (up[i]! * d.byUpper + low[i]! * d.byLower);
      mixed[i]! += n * (up[i]! * (d.byUpperUpper + d.byUpperLower) + low[i]! * (d.byLowerLower + d.byUpperLower));
      for (let j = 0; j < m; j++) {
        cutCurvature[i * m + j]! +=
          n *
          (up[i]! * up[j]! * d.byUpperUpper +
            low[i]! * low[j]! * d.byLowerLower +
            (up[i]! * low[j]! + low[i]! * up[j]!) * d.byUpperLower);
      }
    }
  }
  return { ...sums, cutSlope, mixed, cutCurvature };
}

describe("the likelihood of a pair", () => {
  it("is what its outcomes add up to, for any scale", () => {
    const cases = fc.integer({ min: 2, max: 9 }).chain((K) =>
      fc.record({
        K: fc.constant(K),
        eta: fc.double({ min: -12, max: 12, noNaN: true }),
        gaps: fc.array(fc.double({ min: 0.05, max: 3, noNaN: true }), {
          minLength: Math.floor((K - 1) / 2),
          maxLength: Math.floor((K - 1) / 2),
        }),
        counts: fc.array(fc.nat(50), { minLength: K, maxLength: K }),
      }),
    );
    fc.assert(
      fc.property(cases, ({ K, eta, gaps, counts }) => {
        const cuts = gaps.map((_, j) => gaps.slice(0, j + 1).reduce((sum, gap) => sum + gap, 0));
        // Beside a pair of the same ballots but another eta, which shares the thresholds.
        const other = eta / 2 - 1;
        const likelihood = new PairLikelihood(K, Float64Array.of(...counts, ...counts));
        const logLik = likelihood.evaluate(Float64Array.of(eta, other), cuts);
        const [first, second] = [eta, other].map((own) => addUp(K, own, cuts, counts));
        const close = (a: number, b: number) => expect(Math.abs(a - b)).toBeLessThan(1e-7 * (1 + Math.abs(b)));
        close(logLik, first!.logLik + second!.logLik);
        for (const [pair, own] of [first!, second!].entries()) {
          close(likelihood.slope[pair]!, own.slope);
          close(likelihood.curvature[pair]!, own.curvature);
          own.mixed.forEach((value, j) => close(likelihood.mixed[pair * cuts.length + j]!, value));
        }
        first!.cutSlope.forEach((value, j) => close(likelihood.cutSlope[j]!, value + second!.cutSlope[j]!));
        first!.cutCurvature.forEach((value, j) => close(likelihood.cutCurvature[j]!, value + second!.cutCurvature[j]!));
      }),
    );
  });

  it("stays exact far out", () => {
    const [a1, a2] = [0.4, 1.5];
    const far = new PairLikelihood(5, Float64Array.of(0, 0, 0, 0, 1e9, 0, 1, 0, 0, 0));
    // One ballot in two billion against all others, and an outcome whose chance is about e^−40.
    const logLik = far.evaluate(Float64Array.of(-21, 40), [a1, a2]);
    const wanted = -1e9 * Math.log1p(Math.exp(a2 - 21)) + (-(40 - a2) + Math.log1p(-Math.exp(-(a2 - a1))));
    expect(logLik / wanted).toBeCloseTo(1, 12);
    const slope = -1e9 / (1 + Math.exp(21 - a2));
    expect(far.slope[0]! / slope).toBeCloseTo(1, 12);
    for (const eta of [-800, -300, 300, 800]) {
      const likelihood = new PairLikelihood(5, Float64Array.of(1, 1, 1, 1, 1));
      const value = likelihood.evaluate(Float64Array.of(eta), [a1, a2]);
      expect(value / -(4 * Math.abs(eta))).toBeCloseTo(1, 1);
      for (const each of [likelihood.slope, likelihood.curvature, likelihood.mixed, likelihood.cutCurvature])
        expect(each.every(Number.isFinite)).toBe(true);
    }
  });
});
