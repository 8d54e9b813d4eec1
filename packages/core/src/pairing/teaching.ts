import { median } from "../stats/index.js";
import { type RatingFit, thresholdValue } from "../ratings/index.js";

/** Neighbours that are nearer than this are not told apart at all costs, in logits (20 rating points). */
const NEAREST_LOGITS = (20 * Math.LN10) / 400;
/** A gap that is this many standard errors wide is as good as told apart. */
const ENOUGH_ERRORS = 2.3;

/**
 * What one ballot between two is expected to tell of eta, from its outcome's probabilities: E[(d log P/d eta)²]. With F_k = F(c_k + eta), F_0 = 0 and F_K = 1, outcome k has
 * the probability F_k − F_{k−1} and the derivative 1 − F_k − F_{k−1}.
 */
export function expectedInformation(eta: number, K: number, cuts: ArrayLike<number>): number {
  let information = 0;
  let below = 0;
  for (let k = 1; k <= K; k++) {
    const upTo = k === K ? 1 : 1 / (1 + Math.exp(-eta - thresholdValue(k, K, cuts)));
    information += (upTo - below) * (1 - upTo - below) ** 2;
    below = upTo;
  }
  return information;
}

interface Neighbours {
  /** Slots of the higher and the lower rated. */
  high: number;
  low: number;
  /** The variance at which they would be told apart. */
  target: number;
}

/**
 * Which pair of entrants it is worth asking about next. Uniform pairing is near optimal when all contrasts matter alike, because the
 * information-weighted mean of what a ballot teaches is the same for all designs (Foster 1949); what can be gained comes from asking
 * more where neighbours in the order are close for their uncertainty. The value of a pair is by how much one ballot on it is
 * expected to lower Σ (variance / target)² over neighbours of the fitted order.
 *
 * Ballots that were asked for and are not counted yet are taken into account by updating the covariance by each
 * (Sherman & Morrison 1950).
 */
export class Teacher {
  private readonly size: number;
  /** Covariance of the thetas. */
  private readonly V: Float64Array;
  private readonly eta0: Float64Array;
  private readonly component: Int32Array;
  private readonly cuts: Float64Array;
  private readonly K: number;
  private readonly neighbours: Neighbours[] = [];
  /** Room for how a ballot moves each slot. */
  private readonly step: Float64Array;
  /** Per slot and neighbours c'V. */
  private readonly reach: Float64Array;
  /** Per neighbours 1/target², and their variance. */
  private readonly weight: Float64Array;
  private readonly variance: Float64Array;
  /** Per pair of slots; NaN where it has not been asked for yet. */
  private readonly information: Float64Array;

  constructor(private readonly fit: Pick<RatingFit, "model" | "theta">) {
    const { slot, slotComponent, x, covariance, firstCutSlot, scale } = fit.model;
    this.size = slotComponent.length;
    this.component = slotComponent;
    this.K = scale.reducedK;
    this.cuts = x.slice(firstCutSlot);
    this.eta0 = x.slice(0, this.size);
    this.V = new Float64Array(this.size * this.size);
    this.step = new Float64Array(this.size);
    this.information = new Float64Array(this.size * this.size).fill(Number.NaN);
    for (let i = 0; i < this.size; i++)
      for (let j = 0; j < this.size; j++) this.V[i * this.size + j] = covariance.get(i, j);
    const order = Array.from(slot)
      .filter((at) => at !== -1)
      .toSorted((a, b) => this.component[a]! - this.component[b]! || x[b]! - x[a]!);
    for (const [position, low] of order.entries()) {
      const high = order[position - 1];
      if (high === undefined || this.component[high] !== this.component[low]) continue;
      const gap = Math.max(x[high]! - x[low]!, NEAREST_LOGITS);
      this.neighbours.push({ high, low, target: (gap / ENOUGH_ERRORS) ** 2 });
    }
    this.weight = Float64Array.from(this.neighbours, ({ target }) => 1 / target ** 2);
    this.variance = new Float64Array(this.neighbours.length);
    this.reach = new Float64Array(this.size * this.neighbours.length);
    this.measureReach();
  }

  private measureReach(): void {
    const { V, size, neighbours, reach, variance } = this;
    for (const [c, { high, low }] of neighbours.entries()) {
      for (let s = 0; s < size; s++) reach[s * neighbours.length + c] = V[high * size + s]! - V[low * size + s]!;
      variance[c] = reach[high * neighbours.length + c]! - reach[low * neighbours.length + c]!;
    }
  }

  /** Whether a fit says anything of both, in one component. */
  knows(a: number, b: number): boolean {
    const [i, j] = [this.fit.model.slot[a]!, this.fit.model.slot[b]!];
    return this.K > 1 && i !== -1 && j !== -1 && this.component[i] === this.component[j];
  }

  /** How far an entrant's rating is from the middle of those it can be compared with, in logits; infinite where the fit does not know it. */
  fromMiddle(a: number): number {
    const slot = this.fit.model.slot[a]!;
    if (slot === -1) return Infinity;
    const own = this.eta0.filter((_, other) => this.component[other] === this.component[slot]);
    return Math.abs(this.eta0[slot]! - median(Array.from(own))!);
  }

  /** What one more ballot between two entrants is worth; 0 where the fit does not know them. */
  valueOf(a: number, b: number): number {
    if (!this.knows(a, b)) return 0;
    const { information, spread, i, j } = this.measure(a, b);
    const shrink = information / (1 + information * spread);
    const { reach, weight, variance } = this;
    const [fromI, fromJ] = [i * weight.length, j * weight.length];
    let value = 0;
    for (let c = 0; c < weight.length; c++) {
      const along = reach[fromI + c]! - reach[fromJ + c]!;
      const lowering = shrink * along * along;
      // variance² − (variance − lowering)², over target².
      value += weight[c]! * lowering * (2 * variance[c]! - lowering);
    }
    return value;
  }

  /** Takes ballots into account that have been asked for, each between two, whatever they will say. What a further one is worth is measured once, after the last. */
  expect(pairs: readonly (readonly [number, number])[]): void {
    for (const [a, b] of pairs) if (this.knows(a, b)) this.lowerCovariance(a, b);
    this.measureReach();
  }

  private lowerCovariance(a: number, b: number): void {
    const { V, size, step } = this;
    const { information, spread, i, j } = this.measure(a, b);
    const shrink = information / (1 + information * spread);
    for (let s = 0; s < size; s++) step[s] = V[s * size + i]! - V[s * size + j]!;
    for (let r = 0, at = 0; r < size; r++) {
      const own = shrink * step[r]!;
      for (let s = 0; s < size; s++) V[at++]! -= own * step[s]!;
    }
  }

  private measure(a: number, b: number) {
    const { V, size, eta0, information } = this;
    const [i, j] = [this.fit.model.slot[a]!, this.fit.model.slot[b]!];
    if (Number.isNaN(information[i * size + j]!))
      information[i * size + j] = expectedInformation(eta0[i]! - eta0[j]!, this.K, this.cuts);
    return {
      i,
      j,
      information: information[i * size + j]!,
      spread: V[i * size + i]! + V[j * size + j]! - 2 * V[i * size + j]!,
    };
  }
}
