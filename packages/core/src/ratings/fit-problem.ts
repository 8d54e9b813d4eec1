import type { Evaluation } from "./newton.js";
import { findComponents } from "./components.js";
import { type OutcomeScale, reduceScale } from "./outcome-classes.js";
import type { PairCounts } from "./pair-counts.js";
import { PairLikelihood } from "./pair-likelihood.js";
import type { SquareMatrix } from "./square-matrix.js";

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

/** What a fit of some ballots looks for, and what it looks at. */
export interface Problem extends FitOptions {
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

export function setUpProblem(entrantCount: number, grouped: PairCounts, options: FitOptions): Problem {
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
  // Written out, since V8 does not keep code that is compiled for objects made by spreading others.
  return {
    K: options.K,
    ridge: options.ridge,
    side: options.side,
    ridgeSide: options.ridgeSide,
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

/** Whether the thresholds rise from above 0. */
export function isInside({ size, firstCutSlot }: Problem, x: Float64Array): boolean {
  for (let j = firstCutSlot; j < size; j++) if (!(x[j]! > (j === firstCutSlot ? 0 : x[j - 1]!))) return false;
  return true;
}

/**
 * The penalised log-likelihood with its derivatives, as a function of the parameters.
 *
 * @param withValue without it only the derivatives are computed, which needs no logarithms, and the value is NaN.
 */
export function createEvaluation(
  problem: Problem,
  { withValue = true }: { withValue?: boolean } = {},
): (x: Float64Array, into: Evaluation) => void {
  const { pairs, scale, deltaSlot, firstCutSlot } = problem;
  const { left, right } = pairs;
  const likelihood = new PairLikelihood(scale.reducedK, pairs.counts);
  const eta = new Float64Array(left.length);
  return (x, into) => {
    const delta = deltaSlot === null ? 0 : x[deltaSlot]!;
    for (let p = 0; p < eta.length; p++) eta[p] = x[left[p]!]! - x[right[p]!]! + delta;
    const logLik = likelihood.evaluate(eta, x.subarray(firstCutSlot), withValue);
    collect(problem, likelihood, into);
    addPenalty(problem, x, into.gradient, into.information);
    addMeans(into.information, problem, problem.meanWeight);
    into.value = logLik - penaltyOf(problem, x);
  };
}

/** Puts the derivatives by eta and by the thresholds together as those by the parameters. */
function collect(problem: Problem, likelihood: PairLikelihood, into: Evaluation): void {
  const { pairs, size, deltaSlot, firstCutSlot } = problem;
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
  if (deltaSlot !== null) {
    gradient[deltaSlot] = sumOf(slope);
    addRow(problem, at, deltaSlot, { values: curvature, first: 0, step: 1 });
  }
  for (let j = 0; j < cutCount; j++) {
    gradient[firstCutSlot + j] = cutSlope[j]!;
    addRow(problem, at, firstCutSlot + j, { values: mixed, first: j, step: cutCount });
    for (let i = 0; i < cutCount; i++)
      at[(firstCutSlot + j) * size + firstCutSlot + i] = -cutCurvature[j * cutCount + i]! / 2;
  }
  information.addTransposed();
}

/** Adds to a row what a value of each pair comes to for its sides. */
function addRow(
  { pairs: { left, right }, size, deltaSlot }: Problem,
  information: Float64Array,
  row: number,
  { values, first, step }: { values: Float64Array; first: number; step: number },
): void {
  for (let p = 0; p < left.length; p++) {
    const value = values[p * step + first]!;
    information[row * size + left[p]!]! -= value;
    information[row * size + right[p]!]! += value;
    if (deltaSlot !== null) information[row * size + deltaSlot]! -= row === deltaSlot ? value / 2 : value;
  }
}

function sumOf(values: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i]!;
  return sum;
}

export function meansOf({ thetaCount, slotComponent, componentSizes }: Problem, x: Float64Array): number[] {
  const means = componentSizes.map(() => 0);
  for (let i = 0; i < thetaCount; i++) means[slotComponent[i]!]! += x[i]! / componentSizes[slotComponent[i]!]!;
  return means;
}

/** The ridge's value. Centred per component, so that an anchor never matters. */
export function penaltyOf(problem: Problem, x: Float64Array): number {
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
export function addMeans(
  matrix: SquareMatrix,
  { thetaCount, slotComponent, componentSizes }: Problem,
  weight: number,
): void {
  for (let i = 0; i < thetaCount; i++) {
    const own = slotComponent[i]!;
    for (let j = 0; j < thetaCount; j++) if (slotComponent[j] === own) matrix.add(i, j, weight / componentSizes[own]!);
  }
}
