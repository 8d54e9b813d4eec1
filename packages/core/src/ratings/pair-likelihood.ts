import { thresholdAt } from "./cumulative-logit.js";

/**
 * The log-likelihood of the ballots of one pair on one side each, by eta = theta_left − theta_right + delta and by the
 * thresholds a_1..a_m, with its first and second derivatives. This is the hot path of every fit: bounds that neighbouring
 * outcomes share are computed once, and nothing is allocated.
 */
export class PairLikelihood {
  readonly cutCount: number;
  logLik = 0;
  /** By eta. */
  slope = 0;
  curvature = 0;
  /** By each a_j. */
  readonly cutSlope: Float64Array;
  /** By eta and a_j. */
  readonly mixed: Float64Array;
  /** By a_i and a_j, row by row. */
  readonly cutCurvature: Float64Array;
  /** F, 1 − F, and density at each bound 0..K. */
  private readonly below: Float64Array;
  private readonly above: Float64Array;
  private readonly density: Float64Array;
  /** c_k = sign[k] · a[index[k]] for 0 < k < K; sign 0 elsewhere. */
  private readonly sign: Int8Array;
  private readonly index: Int32Array;

  constructor(private readonly K: number) {
    this.cutCount = Math.max(0, Math.floor((K - 1) / 2));
    this.cutSlope = new Float64Array(this.cutCount);
    this.mixed = new Float64Array(this.cutCount);
    this.cutCurvature = new Float64Array(this.cutCount * this.cutCount);
    this.below = new Float64Array(K + 1);
    this.above = new Float64Array(K + 1);
    this.density = new Float64Array(K + 1);
    this.sign = new Int8Array(K + 1);
    this.index = new Int32Array(K + 1);
    for (let k = 1; k < K; k++) {
      const { sign, index } = thresholdAt(k, K);
      this.sign[k] = sign;
      this.index[k] = index;
    }
    this.above[0] = 1;
    this.below[K] = 1;
  }

  /**
   * Computes everything for counts[first + k − 1] ballots of outcome k, k = 1..K.
   *
   * @param a the thresholds, at `firstCut` and after.
   */
  evaluate(eta: number, a: Float64Array, firstCut: number, counts: Float64Array, first: number): void {
    const { K, below, above, density, sign, index, cutSlope, mixed, cutCurvature, cutCount } = this;
    for (let k = 1; k < K; k++) {
      const u = eta + sign[k]! * (sign[k] === 0 ? 0 : a[firstCut + index[k]!]!);
      // The smaller of F(u) and F(−u), which does not cancel.
      const e = Math.exp(-Math.abs(u));
      const near = e / (1 + e);
      below[k] = u >= 0 ? 1 - near : near;
      above[k] = u >= 0 ? near : 1 - near;
      density[k] = near / (1 + e);
    }
    this.logLik = 0;
    this.slope = 0;
    this.curvature = 0;
    cutSlope.fill(0);
    mixed.fill(0);
    cutCurvature.fill(0);
    for (let k = 1; k <= K; k++) {
      const n = counts[first + k - 1]!;
      if (n === 0) continue;
      const isUpperTail = above[k]! + above[k - 1]! < below[k]! + below[k - 1]!;
      const p = isUpperTail ? above[k - 1]! - above[k]! : below[k]! - below[k - 1]!;
      const P = p > Number.MIN_VALUE ? p : Number.MIN_VALUE;
      const up = density[k]! / P;
      const low = -density[k - 1]! / P;
      const upUp = (density[k]! * (above[k]! - below[k]!)) / P - up * up;
      const lowLow = (-density[k - 1]! * (above[k - 1]! - below[k - 1]!)) / P - low * low;
      const upLow = -up * low;
      this.logLik += n * Math.log(P);
      this.slope += n * (up + low);
      this.curvature += n * (upUp + lowLow + 2 * upLow);
      if (cutCount === 0) continue;
      const [su, sl, iu, il] = [sign[k]!, sign[k - 1]!, index[k]!, index[k - 1]!];
      if (su !== 0) {
        cutSlope[iu]! += n * su * up;
        mixed[iu]! += n * su * (upUp + upLow);
        cutCurvature[iu * cutCount + iu]! += n * upUp;
      }
      if (sl !== 0) {
        cutSlope[il]! += n * sl * low;
        mixed[il]! += n * sl * (lowLow + upLow);
        cutCurvature[il * cutCount + il]! += n * lowLow;
      }
      if (su !== 0 && sl !== 0) {
        cutCurvature[iu * cutCount + il]! += n * su * sl * upLow;
        cutCurvature[il * cutCount + iu]! += n * su * sl * upLow;
      }
    }
  }
}
