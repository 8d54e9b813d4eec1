import { TourneyError } from "../errors.js";
import type { CountColumns } from "./ballots.js";
import {
  addMeans,
  createEvaluation,
  type FitOptions,
  isInside,
  meansOf,
  penaltyOf,
  type Problem,
  setUpProblem,
} from "./fit-problem.js";
import { maximise } from "./newton.js";
import { type OutcomeScale, restoreCuts } from "./outcome-classes.js";
import { groupByPair } from "./pair-counts.js";
import { factor, invertFactored, SquareMatrix } from "./square-matrix.js";

export interface RatingFit {
  /** Per entrant, in logits, mean 0 within its component; null without ballots. */
  theta: (number | null)[];
  /** Log-odds by which the left place is favoured; null when not fitted. */
  delta: number | null;
  /** a_1..a_m in logits; null where infinite or not determined. */
  cuts: (number | null)[];
  /** Per entrant the number of its component; −1 without ballots. */
  component: Int32Array;
  logLik: number;
  penalizedLogLik: number;
  /** What the uncertainty needs; parameters are the active thetas, then delta, then the cuts of the reduced scale. */
  model: FittedModel;
}

export interface FittedModel {
  scale: OutcomeScale;
  /** Parameter index of each entrant, −1 without ballots. */
  slot: Int32Array;
  /** Component of each active theta. */
  slotComponent: Int32Array;
  deltaSlot: number | null;
  firstCutSlot: number;
  /** The parameters at the optimum. */
  x: Float64Array;
  /**
   * Inverse of minus the penalised Hessian (observed information), the mean direction of each component removed.
   * One row a parameter; NaN for one that neither ballots nor a prior determine.
   */
  covariance: SquareMatrix;
}

/**
 * Fits ratings to ballots on a K-point scale: the cumulative-logit paired-comparison model with symmetric thresholds,
 * a ridge centred within each connected component, and (with `side`) a constant for the left place.
 * Sources: Zermelo 1929, Bradley & Terry 1952 (K = 2); Rao & Kupper 1967 (K = 3); McCullagh 1980, Agresti 1992 (K > 3);
 * concavity in all parameters: Pratt 1981. Damped Newton; the cost does not depend on the number of ballots.
 *
 * Edges: an entrant without ballots has no rating; outcomes that no ballot used are merged away; when all ballots are
 * even every theta is 0 and the covariance is the prior's.
 *
 * @param near a fit of nearly the same ballots: what is found is the same, sooner.
 * @throws TourneyError INVALID_INPUT for malformed counts, or when without a ridge no finite maximum exists (Ford 1957).
 */
export function fitRatings(
  entrantCount: number,
  counts: CountColumns,
  options: FitOptions,
  near: RatingFit | null = null,
): RatingFit {
  const problem = setUpProblem(entrantCount, groupByPair(entrantCount, options.K, counts), options);
  const { scale, slot, deltaSlot, firstCutSlot, slotComponent } = problem;
  const { x, penalized, covariance } =
    scale.reducedK <= 1 ? answerAllEven(problem) : fitProblem(problem, near?.model ?? null);
  return {
    theta: Array.from(slot, (at) => (at === -1 ? null : x[at]!)),
    delta: deltaSlot === null ? null : x[deltaSlot]!,
    cuts:
      scale.reducedK <= 1
        ? restoreCuts(scale, []).map(() => null)
        : restoreCuts(scale, Array.from(x.slice(firstCutSlot))),
    component: problem.component,
    logLik: penalized + penaltyOf(problem, x),
    penalizedLogLik: penalized,
    model: { scale, slot, slotComponent, deltaSlot, firstCutSlot, x, covariance },
  };
}

/**
 * Where the search begins: at a fit of nearly the same ballots if its parameters are the same. The maximum is one, wherever
 * it is looked for from, but for the means of the components: no step moves those, so they are 0 from the start.
 */
function chooseStart(problem: Problem, near: FittedModel | null): Float64Array {
  const { size, firstCutSlot, scale, slot, slotComponent } = problem;
  const isSame =
    near !== null &&
    near.x.length === size &&
    near.firstCutSlot === firstCutSlot &&
    near.scale.reducedK === scale.reducedK &&
    near.slot.every((at, entrant) => at === slot[entrant]);
  if (isSame) {
    const means = meansOf(problem, near.x);
    return near.x.map((value, at) => value - (means[slotComponent[at] ?? -1] ?? 0));
  }
  const start = new Float64Array(size);
  start.set(scale.startCuts, firstCutSlot);
  return start;
}

function fitProblem(
  problem: Problem,
  near: FittedModel | null,
): { x: Float64Array; penalized: number; covariance: SquareMatrix } {
  const found = maximise(
    {
      evaluate: createEvaluation(problem),
      isInside: (x) => isInside(problem, x),
    },
    chooseStart(problem, near),
    (x) => refuseRunaway(problem, x),
  );
  const factored = found && factor(found.at.information);
  if (found === null || factored === null) throw noFiniteMaximum("the information is singular");
  const covariance = invertFactored(factored);
  addMeans(covariance, problem, -1 / problem.meanWeight);
  return { x: found.x, penalized: found.at.value, covariance };
}

/** Ballots that are all even say nothing of anyone: what is known is the prior. */
function answerAllEven(problem: Problem): { x: Float64Array; penalized: number; covariance: SquareMatrix } {
  const { size, thetaCount, deltaSlot, ridge, ridgeSide } = problem;
  const covariance = new SquareMatrix(size);
  const variance = ridge > 0 ? 1 / ridge : Number.NaN;
  for (let i = 0; i < thetaCount; i++) covariance.add(i, i, variance);
  addMeans(covariance, problem, -variance);
  if (deltaSlot !== null) covariance.add(deltaSlot, deltaSlot, ridgeSide > 0 ? 1 / ridgeSide : Number.NaN);
  return { x: new Float64Array(size), penalized: 0, covariance };
}

/** @throws when a parameter without a prior is further out than any chain of that many ballots could put it. */
function refuseRunaway({ ballots, thetaCount, deltaSlot, ridge, ridgeSide }: Problem, x: Float64Array): void {
  const limit = 10 + 2 * Math.log(ballots + 1);
  if (ridge === 0 && x.subarray(0, thetaCount).some((theta) => Math.abs(theta) > limit)) {
    throw noFiniteMaximum("a rating runs away");
  }
  if (ridgeSide === 0 && deltaSlot !== null && Math.abs(x[deltaSlot]!) > limit) {
    throw new TourneyError("INVALID_INPUT", {
      message: "These ballots have no finite best estimate of how much the left place is favoured.",
      reason: "Nothing holds it, and as far as the ballots tell the same side always won.",
      remedy: "Set ridgeSide, such as 0.1, or fit without side.",
    });
  }
}

function noFiniteMaximum(cause: string): TourneyError {
  return new TourneyError("INVALID_INPUT", {
    message: "These ballots have no finite best rating.",
    reason: `Without a ridge every entrant must have both won and lost along a chain through all others (Ford 1957); ${cause}.`,
    remedy: "Set a ridge, such as 0.1, or collect ballots between the separated entrants.",
  });
}
