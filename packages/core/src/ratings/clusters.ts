import type { BallotColumns } from "./ballots.js";
import type { FittedModel } from "./fit-ratings.js";
import { PackedSum, ScoreSum, type ScoreTable } from "./score-table.js";
import { SquareMatrix } from "./square-matrix.js";

/** Σ S_g S_g' over `count` clusters g, S_g the sum of the scores of its ballots. */
export interface Meat {
  meat: SquareMatrix;
  count: number;
}

/**
 * The sums for clusters that are voters, that are prompts, and that are cells, which are the ballots of one voter on one prompt.
 *
 * @param ballots in order of their voters, and those of each in order of their prompts.
 */
export function sumTwoWays(
  { model, table }: { model: FittedModel; table: ScoreTable },
  ballots: Pick<BallotColumns, "voter" | "prompt" | "left" | "right" | "outcome">,
): { voter: Meat; prompt: Meat; cell: Meat } {
  const { voter, prompt } = ballots;
  const size = model.x.length;
  const [byVoter, byPrompt, byCell] = [new OuterProducts(size), new OuterProducts(size), new OuterProducts(size)];
  const cellSum = new ScoreSum(model);
  const cell = new PackedSum(size);
  const voterSum = new Float64Array(size);
  const promptSums: Float64Array[] = [];
  for (let from = 0, to = 0; from < voter.length; from = to) {
    while (to < voter.length && voter[to] === voter[from] && prompt[to] === prompt[from]) to++;
    table.addUp(ballots, from, to, cellSum);
    // A cell touches few parameters: adding its sum to both costs less than going through its ballots again.
    cellSum.moveTo(cell, voterSum, (promptSums[prompt[from]!] ??= new Float64Array(size)));
    byCell.take(cell);
    if (to === voter.length || voter[to] !== voter[from]) byVoter.takeAll(voterSum);
  }
  // A prompt without ballots has no place here: `forEach` leaves it out.
  promptSums.forEach((sum) => byPrompt.takeAll(sum));
  return { voter: byVoter.finish(), prompt: byPrompt.finish(), cell: byCell.finish() };
}

/** So many sums are multiplied at once: the matrix that they are added to is then loaded a quarter as often. */
const AT_ONCE = 4;

/** Adds up s·s' of sums of scores. A cluster of few ballots touches few parameters: only those are multiplied. */
class OuterProducts {
  /** The sum is this matrix and its transpose together. */
  private readonly half: SquareMatrix;
  private readonly packed: PackedSum;
  private readonly held: Float64Array[];
  private heldCount = 0;
  private count = 0;

  constructor(size: number) {
    this.half = new SquareMatrix(size);
    this.packed = new PackedSum(size);
    this.held = Array.from({ length: AT_ONCE }, () => new Float64Array(size));
  }

  /** Takes a cluster's sum, and leaves it empty for the next. */
  take(sum: PackedSum): void {
    this.count++;
    addSparse(this.half, sum);
    sum.count = 0;
  }

  /** Takes a cluster's sum over all parameters, and leaves it empty for the next. */
  takeAll(sum: Float64Array): void {
    const { packed } = this;
    for (let slot = 0; slot < sum.length; slot++) if (sum[slot] !== 0) packed.push(slot, sum[slot]!);
    // Where most are touched, going along all of them is quicker than looking up which.
    if (2 * packed.count > sum.length) this.hold(sum);
    else this.take(packed);
    packed.count = 0;
    sum.fill(0);
  }

  finish(): Meat {
    this.addHeld();
    this.half.addTransposed();
    return { meat: this.half, count: this.count };
  }

  private hold(sum: Float64Array): void {
    this.count++;
    this.held[this.heldCount++]!.set(sum);
    if (this.heldCount === AT_ONCE) this.addHeld();
  }

  private addHeld(): void {
    if (this.heldCount === 0) return;
    for (const unused of this.held.slice(this.heldCount)) unused.fill(0);
    this.heldCount = 0;
    addFour(this.half, this.held as [Float64Array, Float64Array, Float64Array, Float64Array]);
  }
}

function addSparse({ size, data }: SquareMatrix, { slots, values, count }: PackedSum): void {
  for (let p = 0; p < count; p++) {
    const row = slots[p]! * size;
    const value = values[p]!;
    for (let q = 0; q < p; q++) data[row + slots[q]!]! += value * values[q]!;
    data[row + slots[p]!]! += (value * value) / 2;
  }
}

function addFour(
  { size, data }: SquareMatrix,
  [a, b, c, d]: [Float64Array, Float64Array, Float64Array, Float64Array],
): void {
  for (let p = 0; p < size; p++) {
    const row = p * size;
    const ap = a[p]!;
    const bp = b[p]!;
    const cp = c[p]!;
    const dp = d[p]!;
    for (let q = 0; q < p; q++) data[row + q]! += ap * a[q]! + bp * b[q]! + cp * c[q]! + dp * d[q]!;
    data[row + p]! += (ap * ap + bp * bp + cp * cp + dp * dp) / 2;
  }
}
