import type { CountColumns } from "./ballots.js";
import { thresholdAt, thresholdValue } from "./cumulative-logit.js";
import type { FittedModel } from "./fit-ratings.js";

/** A table of this many cells is kept; of more entrants than that, every row has scores of its own. */
export const MOST_CELLS = 8_000_000;

/**
 * The score of a ballot, which is the gradient of its log P(Y = k), unpenalised, by all parameters of a fitted model: computed once for
 * every pair of entrants and outcome that occurs, however many ballots share it. A score has few parts that are not 0: those of
 * the two entrants, which are opposite, of delta, and of the thresholds.
 */
export class ScoreTable {
  /** Per place: the derivative by eta, then by each threshold. NaN by eta stands for a score that is not prepared yet. */
  private readonly scores: Float64Array;
  private readonly stride: number;
  /** c_1 … c_{K−1}, by their numbers; 0 has no meaning. */
  private readonly thresholds: Float64Array;
  /** Which threshold each of them is, by their numbers. */
  private readonly edges: ReturnType<typeof thresholdAt>[];
  /** By outcome 1/(e^d − 1), with d how far its bounds are apart: how fast the third part of log P grows with d. 0 for an outcome with one bound. */
  private readonly closeness: Float64Array;

  /**
   * @param entrantCount as many entrants as the model was fitted to.
   * @param own the only rows that the scores are for, where there are too many entrants for a table of all pairs.
   */
  constructor(
    private readonly model: FittedModel,
    private readonly entrantCount: number,
    private readonly own: Pick<CountColumns, "outcome"> | null = null,
  ) {
    const places = own === null ? entrantCount * entrantCount * model.scale.K : own.outcome.length;
    const cuts = model.x.slice(model.firstCutSlot);
    this.stride = 1 + cuts.length;
    const K = model.scale.reducedK;
    this.thresholds = new Float64Array(K);
    for (let k = 1; k < K; k++) this.thresholds[k] = thresholdValue(k, K, cuts);
    this.edges = Array.from({ length: K }, (_, k) => thresholdAt(k, K));
    this.closeness = Float64Array.from({ length: K + 1 }, (_, k) =>
      k <= 1 || k === K ? 0 : 1 / Math.expm1(this.thresholds[k]! - this.thresholds[k - 1]!),
    );
    this.scores = new Float64Array(places * this.stride).fill(NaN);
  }

  /** Adds up the scores of the rows from … to − 1. */
  addUp(rows: Pick<CountColumns, "left" | "right" | "outcome">, from: number, to: number, into: ScoreSum): void {
    const { scores, stride, entrantCount, own } = this;
    const { slot, deltaSlot, firstCutSlot, scale } = this.model;
    const { left, right, outcome } = rows;
    const { values, touched, slots } = into;
    let { count } = into;
    let favour = 0;
    for (let row = from; row < to; row++) {
      const place = own === null ? (left[row]! * entrantCount + right[row]!) * scale.K + outcome[row]! - 1 : row;
      const at = place * stride;
      const leftSlot = slot[left[row]!]!;
      const rightSlot = slot[right[row]!]!;
      if (Number.isNaN(scores[at])) this.prepare(at, leftSlot, rightSlot, outcome[row]!);
      const slope = scores[at]!;
      values[leftSlot]! += slope;
      values[rightSlot]! -= slope;
      favour += slope;
      for (let j = 1; j < stride; j++) values[firstCutSlot + j - 1]! += scores[at + j]!;
      if (touched[leftSlot] === 0) {
        touched[leftSlot] = 1;
        slots[count++] = leftSlot;
      }
      if (touched[rightSlot] === 0) {
        touched[rightSlot] = 1;
        slots[count++] = rightSlot;
      }
    }
    into.count = count;
    if (deltaSlot !== null) values[deltaSlot]! += favour;
  }

  /**
   * By the identity of `PairLikelihood`: log P(Y = k) = log F(u_k) + log(1 − F(u_{k−1})) + log(1 − e^−(u_k − u_{k−1})), u_k = c_k + eta, without what has no
   * bound at the ends.
   */
  private prepare(at: number, left: number, right: number, outcome: number): void {
    const { scores, stride, thresholds, closeness } = this;
    const { x, deltaSlot, scale } = this.model;
    scores.fill(0, at, at + stride);
    if (scale.reducedK <= 1) return;
    const k = scale.toReduced[outcome]!;
    const eta = x[left]! - x[right]! + (deltaSlot === null ? 0 : x[deltaSlot]!);
    const near = closeness[k]!;
    const byUpper = k === scale.reducedK ? 0 : 1 / (1 + Math.exp(eta + thresholds[k]!)) + near;
    const byLower = k === 1 ? 0 : -1 / (1 + Math.exp(-eta - thresholds[k - 1]!)) - near;
    scores[at] = byUpper + byLower;
    if (k < scale.reducedK) this.addEdge(at, k, byUpper);
    if (k > 1) this.addEdge(at, k - 1, byLower);
  }

  private addEdge(at: number, edge: number, slope: number): void {
    const { sign, index } = this.edges[edge]!;
    if (sign !== 0) this.scores[at + 1 + index]! += sign * slope;
  }
}

/** A sum of scores over all parameters, with which entrants' slots it touches. */
export class ScoreSum {
  readonly values: Float64Array;
  /** By slot, 1 where it is touched. */
  readonly touched: Uint8Array;
  /** The first `count` are those that are touched. */
  readonly slots: Int32Array;
  count = 0;
  private readonly thetas: number;

  constructor({ x, slotComponent }: FittedModel) {
    this.values = new Float64Array(x.length);
    this.thetas = slotComponent.length;
    this.touched = new Uint8Array(x.length);
    this.slots = new Int32Array(x.length);
  }

  /** Packs what is touched, adds it to others over all parameters, and leaves this sum empty for the next. */
  moveTo(packed: PackedSum, one: Float64Array, other: Float64Array): void {
    const { values, touched, slots, thetas } = this;
    // Delta and the thresholds are touched by every ballot.
    for (let slot = thetas; slot < values.length; slot++) slots[this.count++] = slot;
    const { count } = this;
    for (let at = 0; at < count; at++) {
      const slot = slots[at]!;
      const value = values[slot]!;
      values[slot] = 0;
      one[slot]! += value;
      other[slot]! += value;
      touched[slot] = 0;
      packed.slots[at] = slot;
      packed.values[at] = value;
    }
    packed.count = count;
    this.count = 0;
  }
}

/** The parts of a sum of scores that may not be 0: the first `count` slots and values. */
export class PackedSum {
  readonly slots: Int32Array;
  readonly values: Float64Array;
  count = 0;

  /** @param parameters how many a sum is over. */
  constructor(parameters: number) {
    this.slots = new Int32Array(parameters);
    this.values = new Float64Array(parameters);
  }

  push(slot: number, value: number): void {
    this.slots[this.count] = slot;
    this.values[this.count++] = value;
  }
}
