import { CholeskyDecomposition, Matrix } from "ml-matrix";
import { TourneyError } from "../errors.js";
import { findComponents } from "./components.js";
import { differentiateOutcome, thresholdAt } from "./cumulative-logit.js";
import { type OutcomeScale, reduceScale, restoreCuts } from "./outcome-classes.js";

/** n ballots with the same sides and outcome. Entrants are 0-based, outcomes 1..K with 1 = left by far. */
export interface CountRow {
  left: number;
  right: number;
  outcome: number;
  n: number;
}

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
   * Square, one row a parameter.
   */
  covariance: Matrix;
}

const MOST_STEPS = 200;
const SMALLEST_STEP = 1e-10;

/**
 * Fits ratings to ballots on a K-point scale: the cumulative-logit paired-comparison model with symmetric thresholds,
 * a ridge centred within each connected component, and (with `side`) a constant for the left place.
 * Sources: Zermelo 1929, Bradley & Terry 1952 (K = 2); Rao & Kupper 1967 (K = 3); McCullagh 1980, Agresti 1992 (K > 3);
 * concavity in all parameters: Pratt 1981. Damped Newton; the cost does not depend on the number of ballots.
 *
 * Edges: an entrant without ballots has no rating; outcomes that no ballot used are merged away; when all ballots are
 * even every theta is 0 and the covariance is the prior's.
 *
 * @throws TourneyError INVALID_INPUT for malformed counts, or when without a ridge no finite maximum exists (Ford 1957).
 */
export function fitRatings(entrantCount: number, rows: readonly CountRow[], options: FitOptions): RatingFit {
  checkRows(entrantCount, rows, options);
  const used = rows.filter(({ n }) => n > 0);
  const totals = Array.from({ length: options.K + 1 }, () => 0);
  for (const { outcome, n } of used) totals[outcome]! += n;
  const scale = reduceScale(options.K, totals);
  const component = findComponents(
    entrantCount,
    used.map(({ left, right }) => [left, right] as const),
  );
  const problem = setUpProblem(component, scale, used, options);
  const { x, penalized, information } = maximise(problem);
  const covariance = invertInformation(information, problem);
  const { slot, deltaSlot, firstCutSlot, slotComponent } = problem;
  return {
    theta: Array.from(slot, (at) => (at === -1 ? null : x[at]!)),
    delta: deltaSlot === null ? null : x[deltaSlot]!,
    cuts:
      scale.reducedK <= 1
        ? restoreCuts(scale, []).map(() => null)
        : restoreCuts(scale, Array.from(x.slice(firstCutSlot))),
    component,
    logLik: evaluate(problem, x).logLik,
    penalizedLogLik: penalized,
    model: { scale, slot, slotComponent, deltaSlot, firstCutSlot, x, covariance },
  };
}

function checkRows(entrantCount: number, rows: readonly CountRow[], { K }: FitOptions): void {
  rows.forEach(({ left, right, outcome, n }, index) => {
    const isEntrant = (i: number) => Number.isInteger(i) && i >= 0 && i < entrantCount;
    const wrong =
      !isEntrant(left) || !isEntrant(right)
        ? `names entrant ${isEntrant(left) ? right : left}, but there are ${entrantCount}`
        : left === right
          ? `pairs entrant ${left} with itself`
          : !Number.isInteger(outcome) || outcome < 1 || outcome > K
            ? `has outcome ${outcome}, which is not one of 1..${K}`
            : !(n >= 0 && Number.isFinite(n))
              ? `has the count ${n}`
              : null;
    if (wrong !== null) {
      throw new TourneyError("INVALID_INPUT", {
        message: `Row ${index + 1} of the ballots ${wrong}.`,
        reason:
          "A rating can only be fitted to ballots between two different known entrants with an outcome on the scale.",
        remedy: "Correct the row or leave it out.",
      });
    }
  });
}

interface Problem {
  K: number;
  rows: readonly CountRow[];
  slot: Int32Array;
  slotComponent: Int32Array;
  componentSizes: readonly number[];
  thetaCount: number;
  deltaSlot: number | null;
  firstCutSlot: number;
  size: number;
  ridge: number;
  ridgeSide: number;
}

function setUpProblem(
  component: Int32Array,
  scale: OutcomeScale,
  rows: readonly CountRow[],
  options: FitOptions,
): Problem {
  const active = Array.from(component.keys()).filter((i) => component[i] !== -1);
  const slot = new Int32Array(component.length).fill(-1);
  active.forEach((entrant, position) => (slot[entrant] = position));
  const slotComponent = Int32Array.from(active, (entrant) => component[entrant]!);
  const componentSizes: number[] = [];
  for (const number of slotComponent) componentSizes[number] = (componentSizes[number] ?? 0) + 1;
  const thetaCount = active.length;
  const deltaSlot = options.side ? thetaCount : null;
  const firstCutSlot = thetaCount + (options.side ? 1 : 0);
  const cutCount = Math.max(0, Math.floor((scale.reducedK - 1) / 2));
  const reduced = rows.map((row) => ({ ...row, outcome: scale.toReduced[row.outcome]! }));
  const { ridge, ridgeSide } = options;
  return {
    K: scale.reducedK,
    rows: reduced,
    slot,
    slotComponent,
    componentSizes,
    thetaCount,
    deltaSlot,
    firstCutSlot,
    size: firstCutSlot + cutCount,
    ridge,
    ridgeSide,
  };
}

/** The derivative of eta + c_k by each parameter, as sparse (slot, weight) pairs: shared by gradient, Hessian and scores. */
export function boundWeights(
  edge: number,
  K: number,
  { left, right }: { left: number; right: number },
  { deltaSlot, firstCutSlot }: Pick<FittedModel, "deltaSlot" | "firstCutSlot">,
): [slot: number, weight: number][] {
  const weights: [number, number][] = [
    [left, 1],
    [right, -1],
  ];
  if (deltaSlot !== null) weights.push([deltaSlot, 1]);
  const { sign, index } = edge === 0 || edge === K ? { sign: 0, index: 0 } : thresholdAt(edge, K);
  if (sign !== 0) weights.push([firstCutSlot + index, sign]);
  return weights;
}

function evaluate(
  problem: Problem,
  x: Float64Array,
): { logLik: number; penalized: number; gradient: Float64Array; information: Matrix } {
  const { K, rows, slot, deltaSlot, firstCutSlot, size } = problem;
  const gradient = new Float64Array(size);
  const information = Matrix.zeros(size, size);
  const cuts = x.subarray(firstCutSlot);
  let logLik = 0;
  for (const row of rows) {
    if (K <= 1) continue;
    const pair = { left: slot[row.left]!, right: slot[row.right]! };
    const eta = x[pair.left]! - x[pair.right]! + (deltaSlot === null ? 0 : x[deltaSlot]!);
    const d = differentiateOutcome(row.outcome, K, eta, cuts);
    logLik += row.n * d.logP;
    const upper = boundWeights(row.outcome, K, pair, problem);
    const lower = boundWeights(row.outcome - 1, K, pair, problem);
    addScaled(gradient, upper, row.n * d.byUpper);
    addScaled(gradient, lower, row.n * d.byLower);
    addOuter(information, upper, upper, -row.n * d.byUpperUpper);
    addOuter(information, lower, lower, -row.n * d.byLowerLower);
    addOuter(information, upper, lower, -row.n * d.byUpperLower);
    addOuter(information, lower, upper, -row.n * d.byUpperLower);
  }
  const penalty = addPenalty(problem, x, gradient, information);
  symmetrize(information);
  return { logLik, penalized: logLik - penalty, gradient, information };
}

/** Removes the rounding by which sums over rows in another order differ, in place. */
function symmetrize(matrix: Matrix): void {
  for (let i = 0; i < matrix.rows; i++) {
    for (let j = 0; j < i; j++) {
      const mean = (matrix.get(i, j) + matrix.get(j, i)) / 2;
      matrix.set(i, j, mean);
      matrix.set(j, i, mean);
    }
  }
}

function addScaled(gradient: Float64Array, weights: readonly [number, number][], factor: number): void {
  for (const [at, weight] of weights) gradient[at]! += factor * weight;
}

function addOuter(
  target: Matrix,
  a: readonly [number, number][],
  b: readonly [number, number][],
  factor: number,
): void {
  if (factor === 0) return;
  for (const [i, wi] of a) for (const [j, wj] of b) target.set(i, j, target.get(i, j) + factor * wi * wj);
}

/** Adds the ridge's gradient and curvature; returns its value. Centred per component, so that an anchor never matters. */
function addPenalty(problem: Problem, x: Float64Array, gradient: Float64Array, information: Matrix): number {
  const { thetaCount, slotComponent, componentSizes, ridge, ridgeSide, deltaSlot } = problem;
  const means = componentSizes.map(() => 0);
  for (let i = 0; i < thetaCount; i++) means[slotComponent[i]!]! += x[i]! / componentSizes[slotComponent[i]!]!;
  let penalty = 0;
  for (let i = 0; i < thetaCount; i++) {
    const own = slotComponent[i]!;
    const off = x[i]! - means[own]!;
    penalty += (ridge / 2) * off * off;
    gradient[i]! -= ridge * off;
    for (let j = 0; j < thetaCount; j++) {
      if (slotComponent[j] !== own) continue;
      information.set(i, j, information.get(i, j) + ridge * ((i === j ? 1 : 0) - 1 / componentSizes[own]!));
    }
  }
  if (deltaSlot !== null) {
    penalty += (ridgeSide / 2) * x[deltaSlot]! ** 2;
    gradient[deltaSlot]! -= ridgeSide * x[deltaSlot]!;
    information.set(deltaSlot, deltaSlot, information.get(deltaSlot, deltaSlot) + ridgeSide);
  }
  return penalty;
}

/**
 * Adds factor·11'/n for each component. Moving a whole component by a constant changes no probability, so the constant
 * vectors are the information's null directions: this makes it invertible without changing anything else.
 */
function fixMeans(matrix: Matrix, { thetaCount, slotComponent, componentSizes }: Problem, factor: number): Matrix {
  const fixed = matrix.clone();
  for (let i = 0; i < thetaCount; i++) {
    for (let j = 0; j < thetaCount; j++) {
      if (slotComponent[i] === slotComponent[j]) {
        fixed.set(i, j, fixed.get(i, j) + factor / componentSizes[slotComponent[i]!]!);
      }
    }
  }
  return fixed;
}

/** The size of the information's own entries: a factor for `fixMeans` that loses no digits whatever the counts. */
function typicalSize(information: Matrix, { thetaCount }: Problem): number {
  let sum = 0;
  for (let i = 0; i < thetaCount; i++) sum += information.get(i, i);
  return sum > 0 ? sum / thetaCount : 1;
}

function noFiniteMaximum(cause: string): TourneyError {
  return new TourneyError("INVALID_INPUT", {
    message: "These ballots have no finite best rating.",
    reason: `Without a ridge every entrant must have both won and lost along a chain through all others (Ford 1957); ${cause}.`,
    remedy: "Set a ridge, such as 0.1, or collect ballots between the separated entrants.",
  });
}

function maximise(problem: Problem): { x: Float64Array; penalized: number; information: Matrix } {
  const { size, firstCutSlot } = problem;
  const x = new Float64Array(size);
  for (let j = firstCutSlot; j < size; j++) x[j] = 0.7 * (j - firstCutSlot + 1);
  let current = evaluate(problem, x);
  for (let step = 0; step < MOST_STEPS && size > 0; step++) {
    const fixed = fixMeans(current.information, problem, typicalSize(current.information, problem));
    const cholesky = new CholeskyDecomposition(fixed);
    if (!cholesky.isPositiveDefinite()) throw noFiniteMaximum("the information is singular");
    const move = cholesky.solve(Matrix.columnVector(current.gradient)).to1DArray();
    const next = takeStep(problem, x, move, current.penalized);
    if (next === null) break;
    x.set(next.x);
    current = next.evaluation;
    if (problem.ridge === 0 && hasRunAway(problem, x)) throw noFiniteMaximum("a rating runs away");
    if (next.largest < SMALLEST_STEP) break;
  }
  return { x, penalized: current.penalized, information: current.information };
}

/** Whether a rating is further out than any chain of that many ballots could put it. */
function hasRunAway({ rows, thetaCount }: Problem, x: Float64Array): boolean {
  const ballots = rows.reduce((sum, { n }) => sum + n, 0);
  return x.subarray(0, thetaCount).some((theta) => Math.abs(theta) > 10 + 2 * Math.log(ballots + 1));
}

/** The Newton step, halved until the thresholds stay in order and the objective does not fall; null when none is left. */
function takeStep(problem: Problem, x: Float64Array, move: readonly number[], penalized: number) {
  const { firstCutSlot } = problem;
  for (let factor = 1; factor > 1e-12; factor /= 2) {
    const tried = Float64Array.from(x, (value, i) => value + factor * move[i]!);
    const cuts = tried.subarray(firstCutSlot);
    const inOrder = cuts.every((cut, j) => cut > (j === 0 ? 0 : cuts[j - 1]!));
    if (!inOrder) continue;
    const evaluation = evaluate(problem, tried);
    // Rounding in a sum of this size may hide a true rise; a fall within it is accepted.
    if (evaluation.penalized >= penalized - 1e-12 * (1 + Math.abs(penalized))) {
      return { x: tried, evaluation, largest: factor * Math.max(...move.map(Math.abs)) };
    }
  }
  return null;
}

function invertInformation(information: Matrix, problem: Problem): Matrix {
  if (problem.size === 0) return Matrix.zeros(0, 0);
  const factor = typicalSize(information, problem);
  const cholesky = new CholeskyDecomposition(fixMeans(information, problem, factor));
  if (!cholesky.isPositiveDefinite()) throw noFiniteMaximum("the information is singular");
  const inverse = cholesky.solve(Matrix.eye(problem.size));
  return fixMeans(inverse, problem, -1 / factor);
}
