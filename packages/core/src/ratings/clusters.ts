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
    for (let at = from; at < to; at += MOST_LISTED) {
      table.list(ballots, at, Math.min(to, at + MOST_LISTED), scores);
      scores.addTo(cellSum);
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
  private count = 0;

  constructor(size: number) {
    this.half = new SquareMatrix(size);
    this.slots = new Int32Array(size);
  }

  /** Takes a cluster's sum, and leaves it empty for the next. Only the parameters that it touches are multiplied. */
  take(sum: Float64Array): void {
    this.count++;
    const { slots, half } = this;
    const { data, size } = half;
    let touched = 0;
    for (let slot = 0; slot < size; slot++) if (sum[slot] !== 0) slots[touched++] = slot;
    for (let p = 0; p < touched; p++) {
      const row = slots[p]! * size;
      const value = sum[slots[p]!]!;
      for (let q = 0; q < p; q++) data[row + slots[q]!]! += value * sum[slots[q]!]!;
      data[row + slots[p]!]! += (value * value) / 2;
    }
    sum.fill(0);
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
    this.half.addTransposed();
    return { meat: this.half, count: this.count };
  }
}
