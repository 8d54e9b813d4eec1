import tCdf from "@stdlib/stats-base-dists-t-cdf";
import tQuantile from "@stdlib/stats-base-dists-t-quantile";
import { type BallotColumns, countBallots, type CountColumns, sortBallots } from "./ballots.js";
import { fitRatings, type RatingFit } from "./fit-ratings.js";
import { type Forecast, forecastSeparation } from "./forecast.js";
import { findBrackets, type PairTest, rankRanges, rejectByHolm, rejectPerComponent } from "./ranks.js";
import { type Covariances, estimateCovariances, slotError, widestStandardError } from "./uncertainty.js";

/** Names the method and its settings; stored with every result, so that a change makes old ones stale. */
export const RATING_METHOD_VERSION = "cumulative-logit/2 ridge=0.1 side=0.1 two-way-t holm";

/** Rating points per logit: 400 / ln 10, so that 400 points are odds of ten to one (Elo 1978). */
export const POINTS_PER_LOGIT = 400 / Math.LN10;
export const BASE_RATING = 1500;

/** How the product fits ballots: RATINGS, section 3. */
export const PRODUCT_OPTIONS = { K: 5, ridge: 0.1, side: true, ridgeSide: 0.1 } as const;
const ALPHA = 0.05;

/** Two entrants, by their numbers. */
export type Pair = readonly [first: number, second: number];

export interface RatedEntrant {
  rating: number | null;
  /** Half-width of the 95 % interval in rating points; null without ballots or with too few voters or prompts. */
  halfWidth: number | null;
  rankRange: [number, number] | null;
  component: number;
  ballots: number;
}

export interface Ratings {
  methodVersion: string;
  entrants: RatedEntrant[];
  /** Entrants by descending rating, those without ballots last. */
  order: number[];
  /** Positions in `order`. */
  brackets: [number, number][];
  side: { points: number; halfWidth: number } | null;
  /** What it takes to tell neighbours in the order apart that are not told apart yet, the best first. */
  forecasts: (Forecast & { first: number; second: number })[];
  /** Of the pairs that were asked for. */
  differences: Difference[];
  clusters: { voters: number; prompts: number };
}

/** How far one entrant stands above another, who are meant by their numbers. */
export interface Difference {
  first: number;
  second: number;
  /** Rating points; null where they cannot be compared. */
  points: number | null;
  /** Half-width of its 95 % interval, for this one pair by itself; null with too few voters or prompts. */
  halfWidth: number | null;
}

/** What is wanted of a fit beside the ratings. */
export interface Asked {
  /** Whose difference is wanted with an interval of its own, which the intervals of the two do not give: their errors go together. */
  pairs?: readonly Pair[];
  /** How often intervals and ranks may be wrong; 0.05 unless given. */
  alpha?: number;
}

/** What ballots come to. */
export interface RatedBallots {
  ratings: Ratings;
  fit: RatingFit;
  /** The ballots counted: all that the fit rests on. */
  counts: CountColumns;
}

/**
 * The product's ratings: the fit of all ballots, intervals for the population of prompts and voters
 * (t with min(voters, prompts) − 1 degrees of freedom times the largest of four standard errors), and the ranks that
 * hold jointly at 95 %.
 *
 * @param ballots outcome 1 = left by far … 5 = right by far.
 */
export const rateBallots = (entrantCount: number, ballots: BallotColumns, asked: Asked = {}): RatedBallots =>
  rateSorted(entrantCount, sortBallots(ballots), asked);

/** The same for ballots that are in the order of `sortBallots` already. */
export function rateSorted(entrantCount: number, sorted: BallotColumns, asked: Asked = {}): RatedBallots {
  const counts = countBallots(entrantCount, PRODUCT_OPTIONS.K, sorted);
  const fit = fitRatings(entrantCount, counts, PRODUCT_OPTIONS);
  return { fit, counts, ratings: describeFit(fit, counts, estimateCovariances(fit, sorted), asked) };
}

function describeFit(
  fit: RatingFit,
  counts: CountColumns,
  covariances: Covariances,
  { pairs = [], alpha = ALPHA }: Asked,
): Ratings {
  const { voters, prompts } = covariances.clusters;
  const degrees = Math.min(voters, prompts) - 1;
  const significant =
    degrees < 1
      ? []
      : rejectPerComponent(testPairs(fit, covariances, { degrees, alpha }), fit.component, (own) =>
          rejectByHolm(own, alpha),
        );
  const ranges = rankRanges(fit.component, significant);
  const halfWidthOf = takeHalfWidths({ degrees, alpha });
  const played = countPlayed(fit.theta.length, counts);
  const order = Array.from(fit.theta.keys()).sort(
    (a, b) => (fit.theta[b] ?? -Infinity) - (fit.theta[a] ?? -Infinity) || a - b,
  );
  return {
    methodVersion: RATING_METHOD_VERSION,
    entrants: fit.theta.map((theta, i) => ({
      rating: theta === null ? null : BASE_RATING + POINTS_PER_LOGIT * theta,
      halfWidth: halfWidthOf(widestStandardError(covariances, fit.model, i)),
      rankRange: ranges[i]!,
      component: fit.component[i]!,
      ballots: played[i]!,
    })),
    order,
    brackets: findBrackets(order, fit.component, significant),
    side: describeSide(fit),
    forecasts: forecastNeighbours(fit, covariances, { order, significant, counts }),
    differences: pairs.map(([first, second]) => {
      const [a, b] = [fit.theta[first] ?? null, fit.theta[second] ?? null];
      const isComparable = a !== null && b !== null && fit.component[first] === fit.component[second];
      return {
        ...{ first, second, points: isComparable ? POINTS_PER_LOGIT * (a - b) : null },
        halfWidth: halfWidthOf(widestStandardError(covariances, fit.model, first, second)),
      };
    }),
    clusters: { voters, prompts },
  };
}

/** What it takes to tell each entrant from the next, where they are not told apart. Entrants are meant by their numbers. */
function forecastNeighbours(
  fit: RatingFit,
  covariances: Covariances,
  { order, significant, counts }: { order: readonly number[]; significant: readonly PairTest[]; counts: CountColumns },
): Ratings["forecasts"] {
  const toldApart = new Set(significant.flatMap(({ i, j }) => [`${i} ${j}`, `${j} ${i}`]));
  const sizes = new Map<number, number>();
  for (const component of fit.component) sizes.set(component, (sizes.get(component) ?? 0) + 1);
  let ballots = 0;
  for (let r = 0; r < counts.n.length; r++) ballots += counts.n[r]!;
  return order.slice(0, -1).flatMap((first) => {
    const component = fit.component[first]!;
    // The next of those it can be compared with.
    const second = order.slice(order.indexOf(first) + 1).find((other) => fit.component[other] === component);
    if (component === -1 || second === undefined || toldApart.has(`${first} ${second}`)) return [];
    const size = sizes.get(component)!;
    const comparisons = (size * (size - 1)) / 2;
    const forecast = forecastSeparation(fit, covariances, { i: first, j: second, ballots, comparisons });
    return forecast === null ? [] : [{ first, second, ...forecast }];
  });
}

function countPlayed(entrantCount: number, { left, right, n }: CountColumns): number[] {
  const played = Array.from({ length: entrantCount }, () => 0);
  for (let r = 0; r < n.length; r++) {
    played[left[r]!]! += n[r]!;
    played[right[r]!]! += n[r]!;
  }
  return played;
}

/** Of what intervals and tests are made: degrees of freedom, and how often they may be wrong. */
interface Level {
  degrees: number;
  alpha: number;
}

/** From standard errors in logits to half-widths in rating points. The quantile is found once for all of them. */
function takeHalfWidths({ degrees, alpha }: Level): (standardError: number | null) => number | null {
  if (degrees < 1) return () => null;
  const quantile = tQuantile(1 - alpha / 2, degrees);
  return (standardError) => (standardError === null ? null : quantile * standardError * POINTS_PER_LOGIT);
}

/**
 * The tests of all pairs. A pair that any correction for so many leaves significant has the largest p of such a pair in place of its own: to find it takes longer than all the rest, and
 * changes no decision.
 */
function testPairs(fit: RatingFit, covariances: Covariances, { degrees, alpha }: Level): PairTest[] {
  const tests: (Omit<PairTest, "p"> & { error: number })[] = [];
  for (let i = 0; i < fit.theta.length; i++) {
    for (let j = i + 1; j < fit.theta.length; j++) {
      const error = widestStandardError(covariances, fit.model, i, j);
      if (error !== null) tests.push({ i, j, difference: fit.theta[i]! - fit.theta[j]!, error });
    }
  }
  const strictest = alpha / tests.length;
  const sure = tQuantile(1 - strictest / 2, degrees);
  return tests.map(({ i, j, difference, error }) => {
    const distance = Math.abs(difference) / error;
    if (distance >= sure) return { i, j, difference, p: strictest };
    const p = error === 0 ? (difference === 0 ? 1 : 0) : 2 * (1 - tCdf(distance, degrees));
    return { i, j, difference, p };
  });
}

function describeSide(fit: RatingFit): Ratings["side"] {
  const { deltaSlot, covariance, x } = fit.model;
  if (deltaSlot === null || x.length === 1) return null;
  const error = slotError(covariance, deltaSlot)!;
  return { points: x[deltaSlot]! * POINTS_PER_LOGIT, halfWidth: 1.959964 * error * POINTS_PER_LOGIT };
}
