import type { BallotColumns } from "./ballots.js";
import type { FittedModel } from "./fit-ratings.js";
import { MOST_LISTED, ScoreList, type ScoreTable } from "./score-table.js";
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
  const sums = new TwoWaySums(model, table, ballots);
  sums.takeCells();
  return sums.finish();
}

/** In methods, since V8 keeps what it has compiled of a method; of a long loop with something after it, it would keep nothing from one call to the next. */
class TwoWaySums {
  private readonly byVoter: OuterProducts;
  private readonly byPrompt: OuterProducts;
  private readonly byCell: OuterProducts;
  private readonly scores: ScoreList;
  private readonly cellSum: Float64Array;
  private readonly promptSums: Float64Array[] = [];

  constructor(
    private readonly model: FittedModel,
    private readonly table: ScoreTable,
    private readonly ballots: Pick<BallotColumns, "voter" | "prompt" | "left" | "right" | "outcome">,
  ) {
    const size = model.x.length;
    this.byVoter = new OuterProducts(size);
    this.byPrompt = new OuterProducts(size);
    this.byCell = new OuterProducts(size);
    this.cellSum = new Float64Array(size);
    this.scores = new ScoreList(model);
  }

  takeCells(): void {
    const { voter, prompt } = this.ballots;
    for (let from = 0, to = 0; from < voter.length; from = to) {
      while (to < voter.length && voter[to] === voter[from] && prompt[to] === prompt[from]) to++;
      this.takeCell(from, to);
      if (to === voter.length || voter[to] !== voter[from]) this.byVoter.take(this.scores.one);
    }
  }

  /** Takes the ballots from … to − 1, which are all of one voter on one prompt. */
  private takeCell(from: number, to: number): void {
    const { table, ballots, scores, cellSum } = this;
    // `one` is the voter's.
    scores.other = this.promptSums[ballots.prompt[from]!] ??= new Float64Array(this.model.x.length);
    if (to - from <= MOST_LISTED) {
      table.list(ballots, from, to, scores);
      this.byCell.takeFew(scores);
      return;
    }
    table.addUp(ballots, from, to, cellSum);
    const { one, other } = scores;
    for (let i = 0; i < cellSum.length; i++) {
      one[i]! += cellSum[i]!;
      other[i]! += cellSum[i]!;
    }
    this.byCell.take(cellSum);
  }

  finish(): ReturnType<typeof sumTwoWays> {
    // A prompt without ballots has no place here: `forEach` leaves it out.
    this.promptSums.forEach((sum) => this.byPrompt.take(sum));
    return { voter: this.byVoter.finish(), prompt: this.byPrompt.finish(), cell: this.byCell.finish() };
  }
}

/** Adds up s·s' of sums of scores. */
class OuterProducts {
  /** The sum is this matrix and its transpose together. */
  private readonly half: SquareMatrix;
  private readonly slots: Int32Array;
  /** Sums that are to be multiplied, one after the other: of four at once each element of the matrix is read and written once, which takes a third of the time. */
  private readonly waiting: Float64Array;
  private waitingCount = 0;
  private count = 0;

  constructor(size: number) {
    this.half = new SquareMatrix(size);
    this.slots = new Int32Array(size);
    this.waiting = new Float64Array(4 * size);
  }

  /** Takes a cluster's sum, and leaves it empty for the next. */
  take(sum: Float64Array): void {
    this.count++;
    this.waiting.set(sum, this.waitingCount * sum.length);
    sum.fill(0);
    if (++this.waitingCount === 4) this.multiply();
  }

  /** Multiplies the parameters that any of those waiting touches. */
  private multiply(): void {
    const { slots, half, waiting } = this;
    const { data, size } = half;
    let touched = 0;
    for (let a = 0, b = size, c = 2 * size, d = 3 * size; a < size; a++, b++, c++, d++)
      if (waiting[a] !== 0 || waiting[b] !== 0 || waiting[c] !== 0 || waiting[d] !== 0) slots[touched++] = a;
    for (let p = 0; p < touched; p++) {
      const slot = slots[p]!;
      const row = slot * size;
      const a = waiting[slot]!;
      const b = waiting[size + slot]!;
      const c = waiting[2 * size + slot]!;
      const d = waiting[3 * size + slot]!;
      for (let q = 0; q < p; q++) {
        const other = slots[q]!;
        data[row + other]! +=
          a * waiting[other]! +
          b * waiting[size + other]! +
          c * waiting[2 * size + other]! +
          d * waiting[3 * size + other]!;
      }
      data[row + slot]! += (a * a + b * b + c * c + d * d) / 2;
    }
    waiting.fill(0);
    this.waitingCount = 0;
  }

  /** Takes a cluster of few ballots: with many entrants, pairs of ballots have fewer products than pairs of the parameters that they touch. */
  takeFew({ left, right, slope, shared, count }: ScoreList): void {
    this.count++;
    const { data, size } = this.half;
    const thetas = size - shared.length;
    for (let b = 0; b < count; b++) {
      const l = left[b]!;
      const r = right[b]!;
      const leftRow = l * size;
      const rightRow = r * size;
      const own = slope[b]!;
      for (let c = 0; c < b; c++) {
        const product = own * slope[c]!;
        data[leftRow + left[c]!]! += product;
        data[leftRow + right[c]!]! -= product;
        data[rightRow + left[c]!]! -= product;
        data[rightRow + right[c]!]! += product;
      }
      data[leftRow + l]! += (own * own) / 2;
      data[leftRow + r]! -= own * own;
      data[rightRow + r]! += (own * own) / 2;
    }
    for (let j = 0; j < shared.length; j++) {
      const row = (thetas + j) * size;
      const own = shared[j]!;
      for (let b = 0; b < count; b++) {
        const product = own * slope[b]!;
        data[row + left[b]!]! += product;
        data[row + right[b]!]! -= product;
      }
      for (let i = 0; i < j; i++) data[row + thetas + i]! += shared[i]! * own;
      data[row + thetas + j]! += (own * own) / 2;
    }
  }

  finish(): Meat {
    this.multiply();
    this.half.addTransposed();
    return { meat: this.half, count: this.count };
  }
}
