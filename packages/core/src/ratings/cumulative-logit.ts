import type { Random } from "../random.js";

/**
 * The cumulative-logit model of one ballot (McCullagh 1980; for paired comparisons Agresti 1992):
 *   P(Y ≤ k) = F(c_k + eta),  F(x) = 1/(1 + e^−x),  eta = theta_left − theta_right + delta,
 * with thresholds symmetric about 0: c_k = −c_{K−k}.
 */

const logistic = (x: number) => (x >= 0 ? 1 / (1 + Math.exp(-x)) : Math.exp(x) / (1 + Math.exp(x)));

/** Which magnitude a threshold is, and with what sign: c_k = sign × a_index, or 0 for the middle cut of an even scale. */
export function thresholdAt(k: number, K: number): { sign: -1 | 0 | 1; index: number } {
  const half = K / 2;
  if (k < half) return { sign: -1, index: Math.ceil(half) - k - 1 };
  if (k > half) return { sign: 1, index: k - Math.floor(half) - 1 };
  return { sign: 0, index: 0 };
}

/** c_k for k = 1..K−1. */
export function thresholdValue(k: number, K: number, cuts: ArrayLike<number>): number {
  const { sign, index } = thresholdAt(k, K);
  return sign === 0 ? 0 : sign * cuts[index]!;
}

/** The bounds of outcome k: eta + c_k and eta + c_{k−1}, ±Infinity at the ends. */
function boundsOf(k: number, K: number, eta: number, cuts: ArrayLike<number>): { upper: number; lower: number } {
  const at = (edge: number) => {
    if (edge === 0) return -Infinity;
    if (edge === K) return Infinity;
    return eta + thresholdValue(edge, K, cuts);
  };
  return { upper: at(k), lower: at(k - 1) };
}

export interface OutcomeDerivatives {
  logP: number;
  /** First derivatives of log P by the upper and the lower bound. */
  byUpper: number;
  byLower: number;
  /** Second derivatives. */
  byUpperUpper: number;
  byLowerLower: number;
  byUpperLower: number;
}

/**
 * log P(Y = k) and its derivatives by the two bounds, whose derivatives by the parameters are constants.
 * The difference of the two logistics is taken from the nearer tail, so that it does not cancel.
 *
 * @param k outcome 1..K, 1 = left by far.
 * @param cuts magnitudes 0 < a_1 < … < a_m in logits, m = ⌊(K−1)/2⌋.
 */
export function differentiateOutcome(k: number, K: number, eta: number, cuts: ArrayLike<number>): OutcomeDerivatives {
  const { upper, lower } = boundsOf(k, K, eta, cuts);
  const isUpperTail = upper + lower > 0;
  const p = isUpperTail ? logistic(-lower) - logistic(-upper) : logistic(upper) - logistic(lower);
  const P = Math.max(p, Number.MIN_VALUE);
  const density = (x: number) => (Number.isFinite(x) ? logistic(x) * logistic(-x) : 0);
  const slope = (x: number) => (Number.isFinite(x) ? density(x) * (logistic(-x) - logistic(x)) : 0);
  const byUpper = density(upper) / P;
  const byLower = -density(lower) / P;
  return {
    logP: Math.log(P),
    byUpper,
    byLower,
    byUpperUpper: slope(upper) / P - byUpper * byUpper,
    byLowerLower: -slope(lower) / P - byLower * byLower,
    byUpperLower: -byUpper * byLower,
  };
}

/** log(1 + e^x). */
const logOnePlusExp = (x: number) => (x > 0 ? x + Math.log1p(Math.exp(-x)) : Math.log1p(Math.exp(x)));

/** log P(Y = k) alone, by the identity of `PairLikelihood`. */
export function logProbability(k: number, K: number, eta: number, cuts: ArrayLike<number>): number {
  const upper = k < K ? thresholdValue(k, K, cuts) : Infinity;
  const lower = k > 1 ? thresholdValue(k - 1, K, cuts) : -Infinity;
  // Without a bound its part is log 1.
  return Math.log(-Math.expm1(lower - upper)) - logOnePlusExp(-eta - upper) - logOnePlusExp(eta + lower);
}

/** P(Y = k) for k = 1..K. */
export function outcomeProbabilities(K: number, eta: number, cuts: ArrayLike<number>): number[] {
  return Array.from({ length: K }, (_, i) => Math.exp(differentiateOutcome(i + 1, K, eta, cuts).logP));
}

/** The outcome 1..K of one ballot drawn from the model. */
export function drawOutcome(random: Random, K: number, eta: number, cuts: ArrayLike<number>): number {
  const u = random();
  let k = 1;
  while (k < K && u >= logistic(boundsOf(k, K, eta, cuts).upper)) k++;
  return k;
}
