import { EigenvalueDecomposition, Matrix } from "ml-matrix";
import type { BallotColumns, CountColumns } from "./ballots.js";
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

/** Counts by the cluster that the ballots belong to, numbered from 0. */
export interface ClusterCounts extends CountColumns {
  cluster: ArrayLike<number>;
}

/** The same ballots counted by voter, by prompt, and by voter and prompt together. */
export interface ClusterTallies {
  voter: ClusterCounts;
  prompt: ClusterCounts;
  /** Of voters with more than one ballot on a prompt; each such voter on such a prompt is a cluster. */
  cell: ClusterCounts;
  /** All ballots that are alone of their voter on their prompt: each is a cluster by itself. */
  single: CountColumns;
}

/**
 * How uncertain the ratings are: from the model alone, and robust to ballots that go together because they share a voter,
 * a prompt, or either. Cluster sandwich: Liang & Zeger 1986, with G/(G−1); two-way: Cameron, Gelbach & Miller 2011,
 * its theta block made positive semi-definite by setting negative eigenvalues to 0.
 *
 * @param ballots those of the fit.
 */
export function estimateCovariances(fit: RatingFit, ballots: BallotColumns): Covariances {
  const { left, right, outcome } = ballots;
  const once = { left, right, outcome, n: new Uint8Array(outcome.length).fill(1) };
  const byVoter = sortByCluster(ballots.voter);
  return combine(fit, {
    voter: { rows: once, sorted: byVoter, isOnce: true },
    prompt: { rows: once, sorted: sortByCluster(ballots.prompt), isOnce: true },
    cell: { rows: once, sorted: sortByCluster(ballots.prompt, byVoter), isOnce: true },
    single: null,
  });
}

/** The same from tallies, at a cost that does not grow with the number of ballots in them. */
export function estimateCovariancesOfTallies(fit: RatingFit, tallies: ClusterTallies): Covariances {
  const sorted = (rows: ClusterCounts) => ({ rows, sorted: sortByCluster(rows.cluster), isOnce: false });
  return combine(fit, {
    voter: sorted(tallies.voter),
    prompt: sorted(tallies.prompt),
    cell: sorted(tallies.cell),
    single: tallies.single,
  });
}

interface Clustered {
  rows: CountColumns;
  sorted: Sorted;
  /** Whether every row is one ballot. */
  isOnce: boolean;
}

function combine(
  { model, theta }: RatingFit,
  by: { voter: Clustered; prompt: Clustered; cell: Clustered; single: CountColumns | null },
): Covariances {
  const shared = theta.length ** 2 * model.scale.K <= MOST_CELLS ? new ScoreTable(model, theta.length) : null;
  const tableOf = (rows: CountColumns) => shared ?? new ScoreTable(model, theta.length, rows);
  const meatOf = (clustered: Clustered) => addClusters(model, tableOf(clustered.rows), clustered);
  const [voters, prompts, cells] = [by.voter, by.prompt, by.cell].map(({ sorted }) => sorted.starts.length - 1);
  const alone = by.single === null ? 0 : sumOf(by.single.n);
  const cellMeat = meatOf(by.cell);
  if (by.single !== null) addSingles(cellMeat, model, tableOf(by.single), by.single);
  const voter = sandwich(model, meatOf(by.voter), voters!);
  const prompt = sandwich(model, meatOf(by.prompt), prompts!);
  const cell = sandwich(model, cellMeat, cells! + alone);
  const twoWay =
    voter && prompt && cell ? repairThetaBlock(voter.combine(1, prompt, 1).combine(1, cell, -1), model) : null;
  return {
    naive: model.covariance,
    voter,
    prompt,
    twoWay,
    clusters: { voters: voters!, prompts: prompts!, intersections: cells! + alone },
  };
}

function sumOf(values: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i]!;
  return sum;
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

/** A table of this many cells is kept; of more entrants than that, every row has scores of its own. */
const MOST_CELLS = 8_000_000;

/** Two slots in one number. */
const SLOTS = 1 << 16;

/**
 * The gradient of log P(Y = k) for every pair of entrants and outcome, computed once for each that occurs. What belongs to one lies
 * together: a million ballots in the order of their voters look it up all over the place, and each look costs more than the sums.
 */
class ScoreTable {
  /** Per cell: by eta (and so by theta_left, −theta_right and delta), the slots of both sides, and by each threshold. */
  readonly records: Float64Array;
  readonly stride: number;
  readonly cutCount: number;
  private readonly cuts: Float64Array;

  /** @param own the only rows that the scores are for, where there are too many entrants for a table of all pairs. */
  constructor(
    private readonly model: FittedModel,
    private readonly entrantCount: number,
    private readonly own: CountColumns | null = null,
  ) {
    const { x, firstCutSlot, scale } = model;
    const cells = own === null ? entrantCount * entrantCount * scale.K : own.n.length;
    this.cutCount = x.length - firstCutSlot;
    this.cuts = x.slice(firstCutSlot);
    this.stride = 2 + this.cutCount;
    this.records = new Float64Array(cells * this.stride);
    for (let cell = 0; cell < cells; cell++) this.records[cell * this.stride] = Number.NaN;
  }

  /** Where the scores of each row begin. */
  find(rows: CountColumns): Int32Array {
    const { entrantCount, own, records, stride } = this;
    const { K } = this.model.scale;
    const { left, right, outcome } = rows;
    const places = new Int32Array(rows.n.length);
    for (let row = 0; row < places.length; row++) {
      const cell = own === null ? (left[row]! * entrantCount + right[row]!) * K + outcome[row]! - 1 : row;
      places[row] = cell * stride;
      if (Number.isNaN(records[cell * stride]!)) this.prepare(cell * stride, left[row]!, right[row]!, outcome[row]!);
    }
    return places;
  }

  private prepare(at: number, leftEntrant: number, rightEntrant: number, outcome: number): void {
    const { records, cuts } = this;
    const { slot, x, deltaSlot, scale } = this.model;
    const [l, r] = [slot[leftEntrant]!, slot[rightEntrant]!];
    records[at] = 0;
    records[at + 1] = l * SLOTS + r;
    if (scale.reducedK <= 1) return;
    const k = scale.toReduced[outcome]!;
    const d = differentiateOutcome(k, scale.reducedK, x[l]! - x[r]! + (deltaSlot === null ? 0 : x[deltaSlot]!), cuts);
    records[at] = d.byUpper + d.byLower;
    for (const [edge, slope] of [
      [k, d.byUpper],
      [k - 1, d.byLower],
    ] as const) {
      if (edge === 0 || edge === scale.reducedK) continue;
      const { sign, index } = thresholdAt(edge, scale.reducedK);
      if (sign !== 0) records[at + 2 + index]! += sign * slope;
    }
  }
}

/** Σ S_g S_g' over clusters g, S_g the sum of the unpenalised, uncentred scores of its ballots. */
function addClusters(model: FittedModel, table: ScoreTable, { rows, sorted, isOnce }: Clustered): SquareMatrix {
  const { x, deltaSlot, firstCutSlot, slotComponent } = model;
  const { order, starts } = sorted;
  const size = x.length;
  const half = new SquareMatrix(size);
  const sum = new Float64Array(size);
  // A cluster of few ballots touches few parameters: only those are multiplied.
  const touched = new Int32Array(size);
  const isTouched = new Uint8Array(size);
  const { records, cutCount } = table;
  const places = table.find(rows);
  for (let g = 0; g + 1 < starts.length; g++) {
    let count = 0;
    for (let i = starts[g]!; i < starts[g + 1]!; i++) {
      const row = order[i]!;
      const at = places[row]!;
      const times = isOnce ? 1 : rows.n[row]!;
      const slope = times * records[at]!;
      const slots = records[at + 1]!;
      // As whole numbers of the machine, which are quicker to look up by.
      const l = (slots / SLOTS) | 0;
      const r = (slots - l * SLOTS) | 0;
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
      for (let j = 0; j < cutCount; j++) sum[firstCutSlot + j]! += times * records[at + 2 + j]!;
    }
    // Delta and the thresholds are touched by every ballot.
    for (let at = slotComponent.length; at < size; at++) touched[count++] = at;
    addHalfProduct(half, sum, touched, count);
    for (let p = 0; p < count; p++) {
      sum[touched[p]!] = 0;
      isTouched[touched[p]!] = 0;
    }
  }
  for (let i = 0; i < size; i++) half.data[i * (size + 1)]! /= 2;
  half.addTransposed();
  return half;
}

/** The same for ballots that are clusters of one each: n times s·s' of each row, added to what there is. */
function addSingles(meat: SquareMatrix, model: FittedModel, table: ScoreTable, rows: CountColumns): void {
  const order = Int32Array.from({ length: rows.n.length }, (_, row) => row);
  // The root of n of each, so that the product has n.
  const rooted = { ...rows, n: Float64Array.from(rows.n, Math.sqrt) };
  const starts = Int32Array.from({ length: order.length + 1 }, (_, row) => row);
  const whole = addClusters(model, table, { rows: rooted, sorted: { order, starts }, isOnce: false });
  for (let at = 0; at < meat.data.length; at++) meat.data[at]! += whole.data[at]!;
}

/** Adds the half of s·s' for the first `count` of the listed places, at which alone s is not 0: each two places once. */
function addHalfProduct({ size, data }: SquareMatrix, s: Float64Array, places: Int32Array, count: number): void {
  for (let p = 0; p < count; p++) {
    const value = s[places[p]!]!;
    const row = places[p]! * size;
    for (let q = 0; q <= p; q++) data[row + places[q]!]! += value * s[places[q]!]!;
  }
}

/** H⁻¹ · G/(G−1) · meat · H⁻¹, or null for fewer than two clusters. */
function sandwich({ x, covariance }: FittedModel, meat: SquareMatrix, clusters: number): SquareMatrix | null {
  if (clusters < 2 || x.length === 0) return null;
  const correction = clusters / (clusters - 1);
  for (let i = 0; i < meat.data.length; i++) meat.data[i]! *= correction;
  return covariance.times(meat).times(covariance);
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
