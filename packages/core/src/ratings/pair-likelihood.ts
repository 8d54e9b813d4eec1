import { thresholdAt, thresholdValue } from "./cumulative-logit.js";

/** Beyond this e^u is not far from what a number can hold. */
const FARTHEST = 300;

/**
 * The log-likelihood of ballots by the eta = theta_left − theta_right + delta of each pair and by the thresholds a_1..a_m, with its
 * first and second derivatives.
 *
 * This is the hot path of every fit, and rests on an identity of the logistic: for two bounds v < u
 *   F(u) − F(v) = F(u) · (1 − F(v)) · (1 − e^−(u−v)).
 * With u_k = c_k + eta the log-likelihood falls apart into one logistic regression for each bound, n_k·log F(u_k) +
 * n_{k+1}·log(1 − F(u_k)), and a part that depends on how far the thresholds are apart and on nothing else, computed once for all
 * pairs. Nothing cancels, nothing is allocated, and e^u is the product of one exponential a pair and one a threshold.
 */
export class PairLikelihood {
  /** Number of thresholds a_j. */
  readonly cutCount: number;
  /** Per pair the first and the second derivative by its eta. */
  readonly slope: Float64Array;
  readonly curvature: Float64Array;
  /** The second derivative by the eta of a pair and a_j, at pair · m + j. */
  readonly mixed: Float64Array;
  /** Of all pairs together: the first derivatives by a_j, and the second by a_i and a_j, m×m, row by row. */
  readonly cutSlope: Float64Array;
  readonly cutCurvature: Float64Array;
  private readonly totals: Float64Array;
  /** Of each bound 1..K−1: where it is, and first and second derivative of the pair in hand. */
  private readonly threshold: Float64Array;
  private readonly boundSlope: Float64Array;
  private readonly boundCurvature: Float64Array;

  /**
   * @param K outcomes; 0 where there is no ballot at all.
   * @param counts counts[pair · K + k − 1] ballots of outcome k = 1..K.
   */
  constructor(
    private readonly K: number,
    private readonly counts: Float64Array,
  ) {
    const pairs = K === 0 ? 0 : counts.length / K;
    const bounds = Math.max(0, K - 1);
    this.cutCount = Math.max(0, Math.floor((K - 1) / 2));
    this.slope = new Float64Array(pairs);
    this.curvature = new Float64Array(pairs);
    this.mixed = new Float64Array(pairs * this.cutCount);
    this.cutSlope = new Float64Array(this.cutCount);
    this.cutCurvature = new Float64Array(this.cutCount * this.cutCount);
    this.totals = new Float64Array(K);
    this.threshold = new Float64Array(bounds);
    this.boundSlope = new Float64Array(bounds);
    this.boundCurvature = new Float64Array(bounds);
    for (let at = 0; at < counts.length; at += K) for (let k = 0; k < K; k++) this.totals[k]! += counts[at + k]!;
  }

  /**
   * Computes all derivatives.
   *
   * @param eta of each pair.
   * @param a the thresholds a_1..a_m, rising from above 0.
   * @returns the log-likelihood, or NaN where it is not wanted, which saves its logarithms.
   */
  evaluate(eta: Float64Array, a: ArrayLike<number>, withValue = true): number {
    const { K, threshold } = this;
    this.cutSlope.fill(0);
    this.cutCurvature.fill(0);
    for (let k = 1; k < K; k++) threshold[k - 1] = thresholdValue(k, K, a);
    return this.addBounds(eta, withValue) + this.addDistances();
  }

  private addBounds(eta: Float64Array, withValue: boolean): number {
    const { K, counts, threshold, boundSlope, boundCurvature, cutCount, mixed, cutSlope, cutCurvature } = this;
    const bounds = K - 1;
    const outermost = Math.abs(threshold[0] ?? 0);
    const powers = threshold.map(Math.exp);
    let logLik = 0;
    for (let pair = 0; pair < eta.length; pair++) {
      const own = eta[pair]!;
      const power = Math.exp(own);
      const isFar = Math.abs(own) + outermost > FARTHEST;
      let slopes = 0;
      let curvatures = 0;
      for (let j = 0; j < bounds; j++) {
        const lower = counts[pair * K + j]!;
        const higher = counts[pair * K + j + 1]!;
        const together = lower + higher;
        const u = own + threshold[j]!;
        const e = isFar ? Math.exp(Math.max(-2 * FARTHEST, Math.min(2 * FARTHEST, u))) : power * powers[j]!;
        const above = 1 / (1 + e);
        const below = e * above;
        // Of log F(u) and log(1 − F(u)) one is log1p of the nearer tail, the other differs from it by u.
        if (withValue) logLik += (u < 0 ? lower : -higher) * u + together * Math.log1p(-(u < 0 ? below : above));
        const slope = lower * above - higher * below;
        const curvature = -together * below * above;
        boundSlope[j] = slope;
        boundCurvature[j] = curvature;
        slopes += slope;
        curvatures += curvature;
      }
      this.slope[pair] = slopes;
      this.curvature[pair] = curvatures;
      // a_j moves one bound up and its mirror image down.
      for (let j = 0; j < cutCount; j++) {
        const low = cutCount - 1 - j;
        const high = bounds - 1 - low;
        mixed[pair * cutCount + j] = boundCurvature[high]! - boundCurvature[low]!;
        cutSlope[j]! += boundSlope[high]! - boundSlope[low]!;
        cutCurvature[j * cutCount + j]! += boundCurvature[high]! + boundCurvature[low]!;
      }
    }
    return withValue ? logLik : NaN;
  }

  private addDistances(): number {
    const { K, totals, threshold, cutCount, cutSlope, cutCurvature } = this;
    let logLik = 0;
    for (let k = 2; k < K; k++) {
      const n = totals[k - 1]!;
      if (n === 0) continue;
      const distance = threshold[k - 1]! - threshold[k - 2]!;
      const rate = 1 / Math.expm1(distance);
      logLik += n * Math.log(-Math.expm1(-distance));
      const ends = [
        { ...thresholdAt(k, K), by: 1 },
        { ...thresholdAt(k - 1, K), by: -1 },
      ].map(({ sign, index, by }) => ({ index, weight: sign * by }));
      for (const { index, weight } of ends) {
        cutSlope[index]! += n * weight * rate;
        for (const other of ends)
          cutCurvature[index * cutCount + other.index]! -= n * weight * other.weight * rate * (1 + rate);
      }
    }
    return logLik;
  }
}
