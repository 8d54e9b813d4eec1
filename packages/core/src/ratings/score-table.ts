import type { CountColumns } from "./ballots.js";
import { differentiateOutcome, thresholdAt } from "./cumulative-logit.js";
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
  private readonly cuts: Float64Array;
  private readonly stride: number;

  /**
   * @param entrantCount as many entrants as the model was fitted to.
   * @param own the only rows that the scores are for, where there are too many entrants for a table of all pairs.
   */
  constructor(
    private readonly model: FittedModel,
    private readonly entrantCount: number,
    private readonly own: CountColumns | null = null,
  ) {
    const places = own === null ? entrantCount * entrantCount * model.scale.K : own.n.length;
    this.cuts = model.x.slice(model.firstCutSlot);
    this.stride = 1 + this.cuts.length;
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

  /**
   * Adds up the scores of some places: the sum over all parameters, and which entrants' slots it touches.
   *
   * @param touched slots that are touched, from `count` on; each once.
   * @returns the count with them.
   */
  addUp(
    { places, times, from, to }: { places: Int32Array; times: ArrayLike<number> | null; from: number; to: number },
    { sum, touched, isTouched }: { sum: Float64Array; touched: Int32Array; isTouched: Uint8Array },
  ): number {
    const { scores, stride, slots } = this;
    const { deltaSlot, firstCutSlot } = this.model;
    let count = 0;
    let favour = 0;
    for (let i = from; i < to; i++) {
      const place = places[i]!;
      const n = times === null ? 1 : times[i]!;
      const at = place * stride;
      const slope = n * scores[at]!;
      const left = slots[place]! >>> SLOT_BITS;
      const right = slots[place]! & SLOT_MASK;
      sum[left]! += slope;
      sum[right]! -= slope;
      favour += slope;
      for (let j = 1; j < stride; j++) sum[firstCutSlot + j - 1]! += n * scores[at + j]!;
      if (isTouched[left] === 0) touched[count++] = left;
      isTouched[left] = 1;
      if (isTouched[right] === 0) touched[count++] = right;
      isTouched[right] = 1;
    }
    if (deltaSlot !== null) sum[deltaSlot] = favour;
    return count;
  }

  private prepare(place: number, leftEntrant: number, rightEntrant: number, outcome: number): void {
    const { scores, cuts, stride } = this;
    const { slot, x, deltaSlot, scale } = this.model;
    const [l, r] = [slot[leftEntrant]!, slot[rightEntrant]!];
    this.slots[place] = (l << SLOT_BITS) | r;
    if (scale.reducedK <= 1) return;
    const k = scale.toReduced[outcome]!;
    const d = differentiateOutcome(k, scale.reducedK, x[l]! - x[r]! + (deltaSlot === null ? 0 : x[deltaSlot]!), cuts);
    scores[place * stride] = d.byUpper + d.byLower;
    for (const [edge, slope] of [
      [k, d.byUpper],
      [k - 1, d.byLower],
    ] as const) {
      if (edge === 0 || edge === scale.reducedK) continue;
      const { sign, index } = thresholdAt(edge, scale.reducedK);
      if (sign !== 0) scores[place * stride + 1 + index]! += sign * slope;
    }
  }
}
