import type { CountColumns } from "./ballots.js";
import { thresholdAt, thresholdValue } from "./cumulative-logit.js";
import type { FittedModel } from "./fit-ratings.js";

/** Sides and outcomes of ballots, a row each. */
type Outcomes = Pick<CountColumns, "left" | "right" | "outcome">;

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

  /** Lists the scores of the rows from … to − 1, which are at most `MOST_LISTED`. */
  list(rows: Outcomes, from: number, to: number, into: ScoreList): void {
    const { scores, stride } = this;
    const { slot, deltaSlot } = this.model;
    const { left, right } = rows;
    const { left: leftSlots, right: rightSlots, slope: slopes, shared, one, other } = into;
    const beforeCuts = shared.length - stride;
    let favour = 0;
    shared.fill(0);
    for (let row = from, b = 0; row < to; row++, b++) {
      const leftSlot = slot[left[row]!]!;
      const rightSlot = slot[right[row]!]!;
      const at = this.find(rows, row);
      const slope = scores[at]!;
      leftSlots[b] = leftSlot;
      rightSlots[b] = rightSlot;
      slopes[b] = slope;
      one[leftSlot]! += slope;
      one[rightSlot]! -= slope;
      other[leftSlot]! += slope;
      other[rightSlot]! -= slope;
      favour += slope;
      for (let j = 1; j < stride; j++) shared[beforeCuts + j]! += scores[at + j]!;
    }
    if (deltaSlot !== null) shared[0] = favour;
    const first = one.length - shared.length;
    for (let j = 0; j < shared.length; j++) {
      one[first + j]! += shared[j]!;
      other[first + j]! += shared[j]!;
    }
    into.count = to - from;
  }

  /** Where a row's score is; it is prepared when it is first looked for. */
  private find({ left, right, outcome }: Outcomes, row: number): number {
    const { own, entrantCount, model } = this;
    const l = left[row]!;
    const r = right[row]!;
    const place = own === null ? (l * entrantCount + r) * model.scale.K + outcome[row]! - 1 : row;
    const at = place * this.stride;
    if (Number.isNaN(this.scores[at])) this.prepare(at, model.slot[l]!, model.slot[r]!, outcome[row]!);
    return at;
  }

  /** Adds the scores of the rows from … to − 1 to a sum over all parameters. */
  addUp(rows: Outcomes, from: number, to: number, sum: Float64Array): void {
    const { scores, stride } = this;
    const { slot, deltaSlot } = this.model;
    const { left, right } = rows;
    const beforeCuts = sum.length - stride;
    let favour = 0;
    for (let row = from; row < to; row++) {
      const leftSlot = slot[left[row]!]!;
      const rightSlot = slot[right[row]!]!;
      const at = this.find(rows, row);
      const slope = scores[at]!;
      sum[leftSlot]! += slope;
      sum[rightSlot]! -= slope;
      favour += slope;
      for (let j = 1; j < stride; j++) sum[beforeCuts + j]! += scores[at + j]!;
    }
    if (deltaSlot !== null) sum[deltaSlot]! += favour;
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

/** So many scores are listed at most. */
export const MOST_LISTED = 12;

/** The scores of a few ballots. */
export class ScoreList {
  count = 0;
  /** By ballot, the slots of its sides, and the derivative by the left one's theta: by the right one's it is the same with its sign turned. */
  readonly left = new Int32Array(MOST_LISTED);
  readonly right = new Int32Array(MOST_LISTED);
  readonly slope = new Float64Array(MOST_LISTED);
  /** What those of all of them come to by delta and the thresholds, whose slots are the last. */
  readonly shared: Float64Array;
  /** Two sums over all parameters, which scores are added to while they are listed. */
  one: Float64Array;
  other: Float64Array;

  constructor({ x, slotComponent }: FittedModel) {
    this.shared = new Float64Array(x.length - slotComponent.length);
    this.one = new Float64Array(x.length);
    this.other = new Float64Array(x.length);
  }
}
