import { TourneyError } from "../errors.js";
import type { CountColumns } from "./ballots.js";
import { findComponents } from "./components.js";
import { type Evaluation, maximise } from "./newton.js";
import { type OutcomeScale, reduceScale, restoreCuts } from "./outcome-classes.js";
import { groupByPair, type PairCounts } from "./pair-counts.js";
import { PairLikelihood } from "./pair-likelihood.js";
import { factor, invertFactored, SquareMatrix } from "./square-matrix.js";

export interface FitOptions {
  /** Number of outcomes, ≥ 2. */
  K: number;
  /** 1/σ² of the prior on theta in 1/logit², centred within each component; 0 for none. */
  ridge: number;
  /** Whether the left place may be favoured. */
  side: boolean;
  /** 1/σ² of the prior on delta. */
  ridgeSide: number;
}

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

interface Problem extends FitOptions {
  scale: OutcomeScale;
  component: Int32Array;
  slot: Int32Array;
  slotComponent: Int32Array;
  componentSizes: readonly number[];
  thetaCount: number;
  deltaSlot: number | null;
  firstCutSlot: number;
  size: number;
  ballots: number;
  /** The sides of each ordered pair that met, as slots, and its ballots per outcome that is left after merging. */
  pairs: { left: Int32Array; right: Int32Array; counts: Float64Array };
  /**
   * Moving a whole component by a constant changes no probability, so the constant vectors are the information's null
   * directions: this much of 11'/n is added for each, which makes it invertible and changes nothing else. It is of the size of the
   * information's own entries, so that no digits are lost whatever the counts.
   */
  meanWeight: number;
}

function setUpProblem(entrantCount: number, grouped: PairCounts, options: FitOptions): Problem {
  const { left, right, totals } = grouped;
  const scale = reduceScale(options.K, totals);
  const component = findComponents(entrantCount, left, right);
  const active = Array.from(component.keys()).filter((i) => component[i] !== -1);
  const slot = new Int32Array(entrantCount).fill(-1);
  active.forEach((entrant, position) => (slot[entrant] = position));
  const slotComponent = Int32Array.from(active, (entrant) => component[entrant]!);
  const componentSizes: number[] = [];
  for (const number of slotComponent) componentSizes[number] = (componentSizes[number] ?? 0) + 1;
  const thetaCount = active.length;
  const ballots = totals.reduce((sum, n) => sum + n, 0);
  const firstCutSlot = thetaCount + (options.side ? 1 : 0);
  return {
    ...options,
    scale,
    component,
    slot,
    slotComponent,
    componentSizes,
    thetaCount,
    deltaSlot: options.side ? thetaCount : null,
    firstCutSlot,
    size: firstCutSlot + Math.max(0, Math.floor((scale.reducedK - 1) / 2)),
    ballots,
    pairs: {
      left: left.map((entrant) => slot[entrant]!),
      right: right.map((entrant) => slot[entrant]!),
      counts: reduceCounts(grouped.counts, scale),
    },
    meanWeight: options.ridge + (0.4 * ballots) / Math.max(1, thetaCount),
  };
}

/** Counts by the outcomes that are left after merging. */
export function reduceCounts(counts: Float64Array, { K, reducedK, toReduced }: OutcomeScale): Float64Array {
  if (reducedK === K) return counts;
  const reduced = new Float64Array((counts.length / K) * reducedK);
  for (let at = 0; at < counts.length; at++) {
    const k = toReduced[(at % K) + 1]!;
    if (k > 0) reduced[Math.floor(at / K) * reducedK + k - 1] = counts[at]!;
  }
  return reduced;
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
  const { size, firstCutSlot } = problem;
  const found = maximise(
    {
      evaluate: createEvaluation(problem),
      isInside: (x) => {
        for (let j = firstCutSlot; j < size; j++) if (!(x[j]! > (j === firstCutSlot ? 0 : x[j - 1]!))) return false;
        return true;
      },
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

/** The penalised log-likelihood with its derivatives, as a function of the parameters. */
function createEvaluation(problem: Problem): (x: Float64Array, into: Evaluation) => void {
  const { pairs, scale, deltaSlot, firstCutSlot } = problem;
  const { left, right } = pairs;
  const likelihood = new PairLikelihood(scale.reducedK, pairs.counts);
  const eta = new Float64Array(left.length);
  return (x, into) => {
    const delta = deltaSlot === null ? 0 : x[deltaSlot]!;
    for (let p = 0; p < eta.length; p++) eta[p] = x[left[p]!]! - x[right[p]!]! + delta;
    const logLik = likelihood.evaluate(eta, x.subarray(firstCutSlot));
    collect(problem, likelihood, into);
    addPenalty(problem, x, into.gradient, into.information);
    addMeans(into.information, problem, problem.meanWeight);
    into.value = logLik - penaltyOf(problem, x);
  };
}

/** Puts the derivatives by eta and by the thresholds together as those by the parameters. */
function collect(
  { pairs, size, deltaSlot, firstCutSlot }: Problem,
  likelihood: PairLikelihood,
  into: Evaluation,
): void {
  const { slope, curvature, mixed, cutCount, cutSlope, cutCurvature } = likelihood;
  const { left, right } = pairs;
  const { gradient, information } = into;
  const at = information.data;
  gradient.fill(0);
  at.fill(0);
  // The half of each entry goes where the order of the pairs takes it, mostly along a row; the other is added at the end.
  for (let p = 0; p < left.length; p++) {
    const l = left[p]!;
    const r = right[p]!;
    gradient[l]! += slope[p]!;
    gradient[r]! -= slope[p]!;
    at[l * size + r]! += curvature[p]!;
    at[l * (size + 1)]! -= curvature[p]! / 2;
    at[r * (size + 1)]! -= curvature[p]! / 2;
  }
  const addRow = (row: number, values: Float64Array, first: number, step: number) => {
    for (let p = 0; p < left.length; p++) {
      const value = values[p * step + first]!;
      at[row * size + left[p]!]! -= value;
      at[row * size + right[p]!]! += value;
      if (deltaSlot !== null) at[row * size + deltaSlot]! -= row === deltaSlot ? value / 2 : value;
    }
  };
  if (deltaSlot !== null) {
    gradient[deltaSlot] = sumOf(slope);
    addRow(deltaSlot, curvature, 0, 1);
  }
  for (let j = 0; j < cutCount; j++) {
    gradient[firstCutSlot + j] = cutSlope[j]!;
    addRow(firstCutSlot + j, mixed, j, cutCount);
    for (let i = 0; i < cutCount; i++)
      at[(firstCutSlot + j) * size + firstCutSlot + i] = -cutCurvature[j * cutCount + i]! / 2;
  }
  information.addTransposed();
}

function sumOf(values: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i]!;
  return sum;
}

function meansOf({ thetaCount, slotComponent, componentSizes }: Problem, x: Float64Array): number[] {
  const means = componentSizes.map(() => 0);
  for (let i = 0; i < thetaCount; i++) means[slotComponent[i]!]! += x[i]! / componentSizes[slotComponent[i]!]!;
  return means;
}

/** The ridge's value. Centred per component, so that an anchor never matters. */
function penaltyOf(problem: Problem, x: Float64Array): number {
  const { thetaCount, slotComponent, ridge, ridgeSide, deltaSlot } = problem;
  const means = meansOf(problem, x);
  let penalty = deltaSlot === null ? 0 : (ridgeSide / 2) * x[deltaSlot]! ** 2;
  for (let i = 0; i < thetaCount; i++) penalty += (ridge / 2) * (x[i]! - means[slotComponent[i]!]!) ** 2;
  return penalty;
}

function addPenalty(problem: Problem, x: Float64Array, gradient: Float64Array, information: SquareMatrix): void {
  const { thetaCount, slotComponent, ridge, ridgeSide, deltaSlot } = problem;
  const means = meansOf(problem, x);
  for (let i = 0; i < thetaCount; i++) {
    gradient[i]! -= ridge * (x[i]! - means[slotComponent[i]!]!);
    information.add(i, i, ridge);
  }
  addMeans(information, problem, -ridge);
  if (deltaSlot === null) return;
  gradient[deltaSlot]! -= ridgeSide * x[deltaSlot]!;
  information.add(deltaSlot, deltaSlot, ridgeSide);
}

/** Adds weight·11'/n for each component. */
function addMeans(matrix: SquareMatrix, { thetaCount, slotComponent, componentSizes }: Problem, weight: number): void {
  for (let i = 0; i < thetaCount; i++) {
    const own = slotComponent[i]!;
    for (let j = 0; j < thetaCount; j++) if (slotComponent[j] === own) matrix.add(i, j, weight / componentSizes[own]!);
  }
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
