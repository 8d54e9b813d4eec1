import type { FittedModel } from "./fit-ratings.js";
import { ScoreSum, type ScoreTable } from "./score-table.js";
import { SquareMatrix } from "./square-matrix.js";

/** Σ S_g S_g' over `count` clusters g, S_g the sum of the scores of its ballots. */
export interface Meat {
  meat: SquareMatrix;
  count: number;
}

/** Ballots in cells, which are those of one voter on one prompt: the ballots of cell c are at starts[c] … starts[c + 1] − 1. */
interface Cells {
  starts: Int32Array;
  voter: Int32Array;
  prompt: Int32Array;
}

/** @param ballots in order of their voters, and those of each in order of their prompts. */
function findCells({ voter, prompt }: { voter: ArrayLike<number>; prompt: ArrayLike<number> }): Cells {
  const starts = new Int32Array(voter.length + 1);
  let count = 0;
  for (let b = 0; b < voter.length; b++)
    if (b === 0 || voter[b] !== voter[b - 1] || prompt[b] !== prompt[b - 1]) starts[count++] = b;
  starts[count] = voter.length;
  const firstOf = (column: ArrayLike<number>) => starts.subarray(0, count).map((b) => column[b]!);
  return { starts: starts.slice(0, count + 1), voter: firstOf(voter), prompt: firstOf(prompt) };
}

/**
 * The sums for clusters that are voters, that are prompts, and that are cells.
 *
 * @param ballots in order of their voters, and those of each in order of their prompts.
 * @param places of their scores.
 */
export function sumTwoWays(
  { model, table }: { model: FittedModel; table: ScoreTable },
  ballots: { voter: ArrayLike<number>; prompt: ArrayLike<number> },
  places: Int32Array,
): { voter: Meat; prompt: Meat; cell: Meat } {
  const { starts, voter, prompt } = findCells(ballots);
  const [byVoter, byPrompt, byCell] = [new OuterProducts(model), new OuterProducts(model), new OuterProducts(model)];
  const cellSum = new ScoreSum(model);
  const voterSum = new ScoreSum(model);
  const promptSums: ScoreSum[] = [];
  for (let c = 0; c < voter.length; c++) {
    if (c > 0 && voter[c] !== voter[c - 1]) byVoter.take(voterSum);
    table.addUp(places, starts[c]!, starts[c + 1]!, cellSum);
    // A cell touches few parameters: adding its sum to both costs less than going through its ballots again.
    voterSum.addAll(cellSum);
    (promptSums[prompt[c]!] ??= new ScoreSum(model)).addAll(cellSum);
    byCell.take(cellSum);
  }
  if (voter.length > 0) byVoter.take(voterSum);
  // A prompt without ballots has no place here: `forEach` leaves it out.
  promptSums.forEach((sum) => byPrompt.take(sum));
  return { voter: byVoter.finish(), prompt: byPrompt.finish(), cell: byCell.finish() };
}

/** So many full rows are held, to be multiplied at once: each entry is then loaded and stored a quarter as often. */
const HELD = 4;

/** Adds up s·s' of sums of scores. A cluster of few ballots touches few parameters: only those are multiplied. */
class OuterProducts {
  /** Below the diagonal, and half of it on the diagonal. */
  private readonly half: SquareMatrix;
  private readonly values: Float64Array;
  private readonly held: Float64Array[];
  private heldCount = 0;
  private count = 0;

  constructor(private readonly model: FittedModel) {
    const size = model.x.length;
    this.half = new SquareMatrix(size);
    this.values = new Float64Array(size);
    this.held = Array.from({ length: HELD }, () => new Float64Array(size));
  }

  /** Takes a cluster's sum, and leaves it empty for the next. */
  take(sum: ScoreSum): void {
    this.count++;
    const { values, touched } = sum;
    const size = values.length;
    let count = sum.count;
    // Delta and the thresholds are touched by every ballot.
    for (let slot = this.model.slotComponent.length; slot < size; slot++) touched[count++] = slot;
    // Where most are touched, going along all of them is quicker than looking up which.
    if (2 * count > size) this.holdRow(values);
    else {
      for (let p = 0; p < count; p++) this.values[p] = values[touched[p]!]!;
      addSparse(this.half, { slots: touched, values: this.values, count });
    }
    sum.empty();
  }

  finish(): Meat {
    this.addHeld();
    this.half.addTransposed();
    return { meat: this.half, count: this.count };
  }

  private holdRow(values: Float64Array): void {
    this.held[this.heldCount++]!.set(values);
    if (this.heldCount === HELD) this.addHeld();
  }

  private addHeld(): void {
    if (this.heldCount === 0) return;
    for (const unused of this.held.slice(this.heldCount)) unused.fill(0);
    this.heldCount = 0;
    addFour(this.half, this.held as [Float64Array, Float64Array, Float64Array, Float64Array]);
  }
}

function addSparse(
  { size, data }: SquareMatrix,
  { slots, values, count }: { slots: Int32Array; values: Float64Array; count: number },
): void {
  for (let p = 0; p < count; p++) {
    const value = values[p]!;
    const row = slots[p]! * size;
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
    const [ap, bp, cp, dp] = [a[p]!, b[p]!, c[p]!, d[p]!];
    for (let q = 0; q < p; q++) data[row + q]! += ap * a[q]! + bp * b[q]! + cp * c[q]! + dp * d[q]!;
    data[row + p]! += (ap * ap + bp * bp + cp * cp + dp * dp) / 2;
  }
}
