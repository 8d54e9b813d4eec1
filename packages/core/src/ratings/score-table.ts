import type { CountColumns } from "./ballots.js";
import { thresholdAt, thresholdValue } from "./cumulative-logit.js";
import type { FittedModel } from "./fit-ratings.js";

/** A table of this many cells is kept; of more entrants than that, every row has scores of its own. */
export const MOST_CELLS = 8_000_000;

/** Slots of two entrants in one number. */
const SLOT_BITS = 16;
const SLOT_MASK = (1 << SLOT_BITS) - 1;

/**
 * The score of a ballot, which is the gradient of its log P(Y = k), unpenalised, by all parameters of a fitted model: computed once for
 * every pair of entrants and outcome that occurs, however many ballots share it. A score has few parts that are not 0: those of
 * the two entrants, which are opposite, of delta, and of the thresholds.
 */
export class ScoreTable {
  /** Per place: the derivative by eta, then by each threshold. */
  private readonly scores: Float64Array;
  /** Per place: the slots of both sides. */
  private readonly slots: Int32Array;
  private readonly stride: number;
  /** c_1 … c_{K−1}, by their numbers; 0 has no meaning. */
  private readonly thresholds: Float64Array;
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
    this.closeness = Float64Array.from({ length: K + 1 }, (_, k) =>
      k <= 1 || k === K ? 0 : 1 / Math.expm1(this.thresholds[k]! - this.thresholds[k - 1]!),
    );
    this.scores = new Float64Array(places * this.stride);
    // Two entrants never share a slot, so that 0 stands for a place not yet prepared.
    this.slots = new Int32Array(places);
  }

  /** The place of each row's score. */
  find(rows: Pick<CountColumns, "left" | "right" | "outcome">): Int32Array {
    const { entrantCount, own, slots } = this;
    const { K } = this.model.scale;
    const { left, right, outcome } = rows;
    const places = new Int32Array(outcome.length);
    for (let row = 0; row < places.length; row++) {
      const place = own === null ? (left[row]! * entrantCount + right[row]!) * K + outcome[row]! - 1 : row;
      places[row] = place;
      if (slots[place] === 0) this.prepare(place, left[row]!, right[row]!, outcome[row]!);
    }
    return places;
  }

  /** Adds up the scores at places[from] … places[to − 1]. */
  addUp(places: Int32Array, from: number, to: number, into: ScoreSum): void {
    const { scores, stride, slots } = this;
    const { deltaSlot, firstCutSlot } = this.model;
    const { values, touched, isTouched } = into;
    let { count } = into;
    let favour = 0;
    for (let i = from; i < to; i++) {
      const place = places[i]!;
      const at = place * stride;
      const slope = scores[at]!;
      const left = slots[place]! >>> SLOT_BITS;
      const right = slots[place]! & SLOT_MASK;
      values[left]! += slope;
      values[right]! -= slope;
      favour += slope;
      for (let j = 1; j < stride; j++) values[firstCutSlot + j - 1]! += scores[at + j]!;
      if (isTouched[left] === 0) touched[count++] = left;
      isTouched[left] = 1;
      if (isTouched[right] === 0) touched[count++] = right;
      isTouched[right] = 1;
    }
    if (deltaSlot !== null) values[deltaSlot]! += favour;
    into.count = count;
  }

  /**
   * By the identity of `PairLikelihood`: log P(Y = k) = log F(u_k) + log(1 − F(u_{k−1})) + log(1 − e^−(u_k − u_{k−1})), u_k = c_k + eta, without what has no
   * bound at the ends.
   */
  private prepare(place: number, leftEntrant: number, rightEntrant: number, outcome: number): void {
    const { scores, stride, thresholds, closeness } = this;
    const { slot, x, deltaSlot, scale } = this.model;
    const [l, r] = [slot[leftEntrant]!, slot[rightEntrant]!];
    this.slots[place] = (l << SLOT_BITS) | r;
    if (scale.reducedK <= 1) return;
    const k = scale.toReduced[outcome]!;
    const eta = x[l]! - x[r]! + (deltaSlot === null ? 0 : x[deltaSlot]!);
    const near = closeness[k]!;
    const byUpper = k === scale.reducedK ? 0 : 1 / (1 + Math.exp(eta + thresholds[k]!)) + near;
    const byLower = k === 1 ? 0 : -1 / (1 + Math.exp(-eta - thresholds[k - 1]!)) - near;
    scores[place * stride] = byUpper + byLower;
    if (k < scale.reducedK) this.addEdge(place, k, byUpper);
    if (k > 1) this.addEdge(place, k - 1, byLower);
  }

  private addEdge(place: number, edge: number, slope: number): void {
    const { sign, index } = thresholdAt(edge, this.model.scale.reducedK);
    if (sign !== 0) this.scores[place * this.stride + 1 + index]! += sign * slope;
  }
}

/** A sum of scores over all parameters, with which entrants' slots it touches. */
export class ScoreSum {
  readonly values: Float64Array;
  /** The first `count` are slots that are touched, each once. */
  readonly touched: Int32Array;
  readonly isTouched: Uint8Array;
  count = 0;
  private readonly thetas: number;

  constructor({ x, slotComponent }: FittedModel) {
    this.values = new Float64Array(x.length);
    this.touched = new Int32Array(x.length);
    this.isTouched = new Uint8Array(x.length);
    this.thetas = slotComponent.length;
  }

  addAll(other: ScoreSum): void {
    const { values, touched, isTouched } = this;
    for (let p = 0; p < other.count; p++) {
      const slot = other.touched[p]!;
      values[slot]! += other.values[slot]!;
      if (isTouched[slot] === 0) touched[this.count++] = slot;
      isTouched[slot] = 1;
    }
    for (let slot = this.thetas; slot < values.length; slot++) values[slot]! += other.values[slot]!;
  }

  empty(): void {
    for (let p = 0; p < this.count; p++) {
      this.values[this.touched[p]!] = 0;
      this.isTouched[this.touched[p]!] = 0;
    }
    this.values.fill(0, this.thetas);
    this.count = 0;
  }
}
