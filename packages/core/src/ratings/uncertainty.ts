import { EigenvalueDecomposition, Matrix } from "ml-matrix";
import type { BallotColumns } from "./ballots.js";
import { differentiateOutcome, thresholdAt } from "./cumulative-logit.js";
import type { FittedModel, RatingFit } from "./fit-ratings.js";
import { SquareMatrix } from "./square-matrix.js";

/** Covariances of all parameters of a fit under each view of what varies. Null where there are fewer than two clusters. */
export interface Covariances {
  naive: SquareMatrix;
  voter: SquareMatrix | null;
  prompt: SquareMatrix | null;
  twoWay: SquareMatrix | null;
  clusters: { voters: number; prompts: number; intersections: number };
}

/**
 * How uncertain the ratings are: from the model alone, and robust to ballots that go together because they share a voter,
 * a prompt, or either. Cluster sandwich: Liang & Zeger 1986, with G/(G−1); two-way: Cameron, Gelbach & Miller 2011,
 * its theta block made positive semi-definite by setting negative eigenvalues to 0.
 *
 * @param ballots those of the fit.
 */
export function estimateCovariances(fit: RatingFit, ballots: BallotColumns): Covariances {
  const { model } = fit;
  const scores = tabulateScores(model, fit.theta.length, ballots.outcome.length);
  const byVoter = sortByCluster(ballots.voter);
  const byPrompt = sortByCluster(ballots.prompt);
  const byCell = sortByCluster(ballots.prompt, byVoter);
  const voter = sandwich(model, scores, ballots, byVoter);
  const prompt = sandwich(model, scores, ballots, byPrompt);
  const cell = sandwich(model, scores, ballots, byCell);
  const twoWay =
    voter && prompt && cell ? repairThetaBlock(voter.combine(1, prompt, 1).combine(1, cell, -1), model) : null;
  const countOf = ({ starts }: Sorted) => starts.length - 1;
  return {
    naive: model.covariance,
    voter,
    prompt,
    twoWay,
    clusters: { voters: countOf(byVoter), prompts: countOf(byPrompt), intersections: countOf(byCell) },
  };
}

/** Ballots put in order of their clusters: those of cluster g are order[starts[g]] … order[starts[g + 1] − 1]. */
interface Sorted {
  order: Int32Array;
  starts: Int32Array;
}

/**
 * Sorts ballots by a column of whole numbers ≥ 0, by counting.
 *
 * @param within an earlier sort, whose clusters are divided further.
 */
function sortByCluster(cluster: ArrayLike<number>, within?: Sorted): Sorted {
  const count = cluster.length;
  let largest = -1;
  for (let b = 0; b < count; b++) if (cluster[b]! > largest) largest = cluster[b]!;
  const next = new Int32Array(largest + 2);
  for (let b = 0; b < count; b++) next[cluster[b]! + 1]!++;
  for (let g = 0; g <= largest; g++) next[g + 1]! += next[g]!;
  const order = new Int32Array(count);
  const groupOf = within && numberGroups(within);
  // Ballots of one cluster stay in the earlier order, so that equal pairs of clusters are neighbours.
  for (let i = 0; i < count; i++) {
    const b = within ? within.order[i]! : i;
    order[next[cluster[b]!]!++] = b;
  }
  const starts = new Int32Array(count + 1);
  let clusters = 0;
  for (let i = 0; i < count; i++) {
    const b = order[i]!;
    const previous = i === 0 ? -1 : order[i - 1]!;
    if (i === 0 || cluster[b] !== cluster[previous] || (groupOf && groupOf[b] !== groupOf[previous]))
      starts[clusters++] = i;
  }
  starts[clusters] = count;
  return { order, starts: starts.subarray(0, clusters + 1) };
}

function numberGroups({ order, starts }: Sorted): Int32Array {
  const group = new Int32Array(order.length);
  for (let g = 0; g + 1 < starts.length; g++) for (let i = starts[g]!; i < starts[g + 1]!; i++) group[order[i]!] = g;
  return group;
}

/** The gradient of log P(Y = k) for every pair of entrants and outcome, computed once for each that can occur. */
interface Scores {
  /** Where the scores of ballot b stand. */
  cellOf: (left: number, right: number, outcome: number, b: number) => number;
  /** By eta, and so by theta_left, by −theta_right and by delta: NaN where it has not been asked for yet. */
  byEta: Float64Array;
  /** By each threshold, `cutCount` numbers a cell. */
  byCut: Float64Array;
  cutCount: number;
  prepare: (left: number, right: number, outcome: number, cell: number) => void;
}

/** A table of this many cells is kept; of more entrants than that, every ballot has scores of its own. */
const MOST_CELLS = 8_000_000;

function tabulateScores(model: FittedModel, entrantCount: number, ballots: number): Scores {
  const { scale, slot, x, deltaSlot, firstCutSlot } = model;
  const { K, reducedK, toReduced } = scale;
  const cutCount = x.length - firstCutSlot;
  const isTable = entrantCount * entrantCount * K <= MOST_CELLS;
  const cells = isTable ? entrantCount * entrantCount * K : ballots;
  const byEta = new Float64Array(cells).fill(Number.NaN);
  const byCut = new Float64Array(cells * cutCount);
  const cuts = x.slice(firstCutSlot);
  const delta = deltaSlot === null ? 0 : x[deltaSlot]!;
  return {
    cellOf: isTable
      ? (left, right, outcome) => (left * entrantCount + right) * K + outcome - 1
      : (_left, _right, _outcome, b) => b,
    byEta,
    byCut,
    cutCount,
    prepare(left, right, outcome, cell) {
      byEta[cell] = 0;
      if (reducedK <= 1) return;
      const k = toReduced[outcome]!;
      const d = differentiateOutcome(k, reducedK, x[slot[left]!]! - x[slot[right]!]! + delta, cuts);
      byEta[cell] = d.byUpper + d.byLower;
      for (const [edge, slope] of [
        [k, d.byUpper],
        [k - 1, d.byLower],
      ] as const) {
        if (edge === 0 || edge === reducedK) continue;
        const { sign, index } = thresholdAt(edge, reducedK);
        if (sign !== 0) byCut[cell * cutCount + index]! += sign * slope;
      }
    },
  };
}

/** H⁻¹ · G/(G−1) Σ S_g S_g' · H⁻¹, with S_g the sum of the unpenalised, uncentred scores of a cluster's ballots. */
function sandwich(
  model: FittedModel,
  scores: Scores,
  { left, right, outcome }: BallotColumns,
  { order, starts }: Sorted,
): SquareMatrix | null {
  const { slot, x, deltaSlot, firstCutSlot, covariance } = model;
  const size = x.length;
  const clusters = starts.length - 1;
  if (clusters < 2 || size === 0) return null;
  const meat = new SquareMatrix(size);
  const sum = new Float64Array(size);
  // A cluster of few ballots touches few parameters: only those are multiplied.
  const touched = new Int32Array(size);
  const isTouched = new Uint8Array(size);
  const { cellOf, byEta, byCut, cutCount } = scores;
  const sharedFrom = model.slotComponent.length;
  for (let g = 0; g < clusters; g++) {
    let count = 0;
    for (let i = starts[g]!; i < starts[g + 1]!; i++) {
      const b = order[i]!;
      const cell = cellOf(left[b]!, right[b]!, outcome[b]!, b);
      if (Number.isNaN(byEta[cell]!)) scores.prepare(left[b]!, right[b]!, outcome[b]!, cell);
      const slope = byEta[cell]!;
      const l = slot[left[b]!]!;
      const r = slot[right[b]!]!;
      if (isTouched[l] === 0) {
        isTouched[l] = 1;
        touched[count++] = l;
      }
      if (isTouched[r] === 0) {
        isTouched[r] = 1;
        touched[count++] = r;
      }
      sum[l]! += slope;
      sum[r]! -= slope;
      if (deltaSlot !== null) sum[deltaSlot]! += slope;
      for (let j = 0; j < cutCount; j++) sum[firstCutSlot + j]! += byCut[cell * cutCount + j]!;
    }
    // Delta and the thresholds are touched by every ballot.
    for (let at = sharedFrom; at < size; at++) touched[count++] = at;
    addOuterProduct(meat, sum, touched, count);
    for (let p = 0; p < count; p++) {
      sum[touched[p]!] = 0;
      isTouched[touched[p]!] = 0;
    }
  }
  const correction = clusters / (clusters - 1);
  for (let i = 0; i < meat.data.length; i++) meat.data[i]! *= correction;
  return covariance.times(meat).times(covariance);
}

/** Adds s·s' for the first `count` of the listed places, at which alone s is not 0. */
function addOuterProduct({ size, data }: SquareMatrix, s: Float64Array, places: Int32Array, count: number): void {
  for (let p = 0; p < count; p++) {
    const value = s[places[p]!]!;
    const row = places[p]! * size;
    for (let q = 0; q < count; q++) data[row + places[q]!]! += value * s[places[q]!]!;
  }
}

function repairThetaBlock(covariance: SquareMatrix, model: FittedModel): SquareMatrix {
  const count = model.slotComponent.length;
  const block = new Matrix(
    Array.from({ length: count }, (_, i) =>
      // Symmetric but for rounding, which the decomposition must not see.
      Array.from({ length: count }, (__, j) => (covariance.get(i, j) + covariance.get(j, i)) / 2),
    ),
  );
  const { eigenvectorMatrix, realEigenvalues } = new EigenvalueDecomposition(block, { assumeSymmetric: true });
  if (realEigenvalues.every((value) => value >= 0)) return covariance;
  const kept = Matrix.diag(realEigenvalues.map((value) => Math.max(0, value)));
  const repaired = eigenvectorMatrix.mmul(kept).mmul(eigenvectorMatrix.transpose());
  const result = covariance.clone();
  for (let i = 0; i < count; i++) for (let j = 0; j < count; j++) result.data[i * result.size + j] = repaired.get(i, j);
  return result;
}

const rootOf = (variance: number): number | null => (Number.isNaN(variance) ? null : Math.sqrt(Math.max(0, variance)));

/** The standard error of the parameter in a slot, in logits; null where nothing determines it. */
export const slotError = (covariance: SquareMatrix, slot: number): number | null => rootOf(covariance.get(slot, slot));

/** Standard error in logits of theta_i (relative to its component's mean), or of theta_i − theta_j; null without ballots. */
export function standardError(
  covariance: SquareMatrix,
  model: FittedModel,
  i: number,
  j: number | null = null,
): number | null {
  const a = model.slot[i]!;
  if (a === -1) return null;
  if (j === null) return slotError(covariance, a);
  const b = model.slot[j]!;
  if (b === -1 || model.slotComponent[a] !== model.slotComponent[b]) return null;
  return rootOf(covariance.get(a, a) + covariance.get(b, b) - covariance.get(a, b) - covariance.get(b, a));
}

/**
 * The standard error that the product stands behind: the largest of the four, or null when voters or prompts are too few
 * for a robust one. The naive figure alone would be too small by far: more ballots do not help, more voters and prompts do.
 */
export function widestStandardError(
  covariances: Covariances,
  model: FittedModel,
  i: number,
  j: number | null = null,
): number | null {
  const { naive, voter, prompt, twoWay } = covariances;
  if (voter === null || prompt === null || twoWay === null) return null;
  const errors = [naive, voter, prompt, twoWay].map((covariance) => standardError(covariance, model, i, j));
  return errors.some((error) => error === null) ? null : Math.max(...(errors as number[]));
}
