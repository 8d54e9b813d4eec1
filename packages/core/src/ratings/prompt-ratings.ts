import { finish } from "../steps.js";
import { type ClusterCounts, orderBy } from "./ballots.js";
import { reduceCounts } from "./fit-problem.js";
import type { RatingFit } from "./fit-ratings.js";
import { type Evaluation, maximise } from "./newton.js";
import { pickNumbers } from "./numbers.js";
import { groupByPair } from "./pair-counts.js";
import { PairLikelihood } from "./pair-likelihood.js";
import { BASE_RATING, POINTS_PER_LOGIT } from "./rate-ballots.js";
import { factor, invertFactored } from "./square-matrix.js";

/** An entrant on one prompt. */
export interface PromptRating {
  /** In rating points, drawn towards the entrant's rating over all prompts. */
  rating: number;
  /** Standard error of the departure from that rating, in rating points, the rating itself taken as known. */
  error: number;
  ballots: number;
}

/** 1/σ² of how far an entrant is on one prompt from its rating, in 1/logit²: σ is 174 points, as for kinds (RATINGS, section 7). */
const RIDGE = 1;

/**
 * Ratings on each prompt: theta_m + u_{m,p}, with theta, the thresholds and the left place's favour as all ballots have them and the mode of u under a normal prior.
 * One prompt after the other, at the cost of a small fit each: the joint fit of `fitCategories` has entrants × prompts parameters, too many for a hundred prompts.
 * Few ballots on a prompt move little: the empirical Bayes argument (Efron & Morris, 1975).
 *
 * @param counts ballots by prompt (`cluster`), pair and outcome; prompts are numbered from 0.
 * @returns by prompt and entrant; null for an entrant without a ballot on the prompt.
 */
export const ratePrompts = (fit: RatingFit, counts: ClusterCounts, promptCount: number): (PromptRating | null)[][] =>
  finish(ratePromptsInSteps(fit, counts, promptCount));

/** The same, one prompt at a step, for whoever has something else to do in between. */
export function* ratePromptsInSteps(
  fit: RatingFit,
  counts: ClusterCounts,
  promptCount: number,
): Generator<undefined, (PromptRating | null)[][]> {
  const order = orderBy([counts.cluster]);
  const rated: (PromptRating | null)[][] = [];
  for (let prompt = 0, from = 0, to = 0; prompt < promptCount; prompt++, from = to) {
    while (to < order.length && counts.cluster[order[to]!] === prompt) to++;
    rated.push(ratePrompt(fit, counts, order.subarray(from, to)));
    yield undefined;
  }
  return rated;
}

function ratePrompt(fit: RatingFit, counts: ClusterCounts, rows: Int32Array): (PromptRating | null)[] {
  const played = fit.theta.map(() => 0);
  for (const r of rows) {
    played[counts.left[r]!]! += counts.n[r]!;
    played[counts.right[r]!]! += counts.n[r]!;
  }
  const active = [...played.keys()].filter((entrant) => played[entrant]! > 0);
  const slot = new Map(active.map((entrant, at) => [entrant, at]));
  const { departures, errors } = findDepartures(fit, counts, { rows, slot });
  return played.map((ballots, entrant) => {
    const at = slot.get(entrant);
    if (at === undefined) return null;
    const theta = fit.theta[entrant]! + departures[at]!;
    return { rating: BASE_RATING + POINTS_PER_LOGIT * theta, error: POINTS_PER_LOGIT * errors[at]!, ballots };
  });
}

/** The most likely departures of the entrants that have a slot, in logits, and their standard errors. */
function findDepartures(
  fit: RatingFit,
  counts: ClusterCounts,
  { rows, slot }: { rows: Int32Array; slot: ReadonlyMap<number, number> },
): { departures: Float64Array; errors: Float64Array } {
  const { scale, firstCutSlot, x } = fit.model;
  const size = slot.size;
  // Where every ballot is even nobody departs from anything, and the prior alone says how surely.
  if (scale.reducedK <= 1)
    return { departures: new Float64Array(size), errors: new Float64Array(size).fill(1 / Math.sqrt(RIDGE)) };
  const pairs = groupByPair(fit.theta.length, scale.K, {
    left: pickNumbers(counts.left, rows),
    right: pickNumbers(counts.right, rows),
    outcome: pickNumbers(counts.outcome, rows),
    n: Float64Array.from(rows, (r) => counts.n[r]!),
  });
  const likelihood = new PairLikelihood(scale.reducedK, reduceCounts(pairs.counts, scale));
  const cuts = x.subarray(firstCutSlot);
  const sides = Array.from(pairs.left, (left, at) => [left, pairs.right[at]!] as const);
  const known = sides.map(([left, right]) => fit.theta[left]! - fit.theta[right]! + (fit.delta ?? 0));
  const slots = sides.map(([left, right]) => [slot.get(left)!, slot.get(right)!] as const);
  const evaluate = (u: Float64Array, into: Evaluation): void => {
    const { gradient, information } = into;
    gradient.fill(0);
    information.data.fill(0);
    const eta = Float64Array.from(slots, ([left, right], at) => known[at]! + u[left]! - u[right]!);
    let value = likelihood.evaluate(eta, cuts);
    for (const [at, [left, right]] of slots.entries()) {
      const [slope, curvature] = [likelihood.slope[at]!, -likelihood.curvature[at]!];
      gradient[left]! += slope;
      gradient[right]! -= slope;
      information.add(left, left, curvature);
      information.add(right, right, curvature);
      information.add(left, right, -curvature);
      information.add(right, left, -curvature);
    }
    for (let at = 0; at < size; at++) {
      value -= (RIDGE / 2) * u[at]! ** 2;
      gradient[at]! -= RIDGE * u[at]!;
      information.add(at, at, RIDGE);
    }
    into.value = value;
  };
  // With a prior on each departure there always is one best.
  const found = maximise({ evaluate, isInside: () => true }, new Float64Array(size))!;
  const covariance = invertFactored(factor(found.at.information)!);
  return {
    departures: found.x,
    errors: Float64Array.from({ length: size }, (_, at) => Math.sqrt(covariance.data[at * size + at]!)),
  };
}
