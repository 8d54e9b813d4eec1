import type { FittedModel } from "./fit-ratings.js";
import type { ScoreTable } from "./score-table.js";
import { SquareMatrix } from "./square-matrix.js";

/** Scores in order of the clusters that their ballots belong to: those of cluster g are at starts[g] … starts[g + 1] − 1. */
export interface Clusters {
  /** Places in a table of scores. */
  places: Int32Array;
  starts: Int32Array;
}

export const clusterCount = ({ starts }: Clusters): number => starts.length - 1;

/** Where each row goes when rows are put in order of a column of whole numbers ≥ 0, rows of equal ones staying in their order. */
interface Sorting {
  position: Int32Array;
  /** Of each number that occurs, the first position, and at the end the number of rows. */
  starts: Int32Array;
}

function sortBy(column: ArrayLike<number>): Sorting {
  const count = column.length;
  let largest = -1;
  for (let row = 0; row < count; row++) if (column[row]! > largest) largest = column[row]!;
  const next = new Int32Array(largest + 2);
  for (let row = 0; row < count; row++) next[column[row]! + 1]!++;
  for (let g = 0; g <= largest; g++) next[g + 1]! += next[g]!;
  const starts = next.filter((start, g) => g > largest || next[g + 1]! > start);
  const position = new Int32Array(count);
  for (let row = 0; row < count; row++) position[row] = next[column[row]!]!++;
  return { position, starts };
}

function carry(column: ArrayLike<number>, { position }: Sorting): Int32Array {
  const carried = new Int32Array(position.length);
  for (let row = 0; row < position.length; row++) carried[position[row]!] = column[row]!;
  return carried;
}

/**
 * Ballots by voter; by prompt; and by voter and, within it, prompt: the first and the last in the order in which they are.
 *
 * @param ballots in order of their voters, and those of each in order of their prompts.
 */
export function clusterTwoWays(
  { voter, prompt }: { voter: ArrayLike<number>; prompt: ArrayLike<number> },
  places: Int32Array,
): { byVoter: Clusters; byPrompt: Clusters; byCell: Clusters } {
  const voterStarts = new Int32Array(voter.length + 1);
  const cellStarts = new Int32Array(voter.length + 1);
  let [voters, cells] = [0, 0];
  for (let b = 0; b < voter.length; b++) {
    const beginsVoter = b === 0 || voter[b] !== voter[b - 1];
    if (beginsVoter) voterStarts[voters++] = b;
    if (beginsVoter || prompt[b] !== prompt[b - 1]) cellStarts[cells++] = b;
  }
  voterStarts[voters] = cellStarts[cells] = voter.length;
  const sorting = sortBy(prompt);
  return {
    byVoter: { places, starts: voterStarts.slice(0, voters + 1) },
    byPrompt: { places: carry(places, sorting), starts: sorting.starts },
    byCell: { places, starts: cellStarts.slice(0, cells + 1) },
  };
}

/**
 * Σ S_g S_g' over clusters g, S_g the sum of the scores of its ballots. A cluster of few ballots touches few parameters: only those are
 * multiplied.
 */
export function sumOuterProducts(model: FittedModel, table: ScoreTable, clusters: Clusters): SquareMatrix {
  const { places, starts } = clusters;
  const size = model.x.length;
  const meat = new SquareMatrix(size);
  const sum = new Float64Array(size);
  const touched = new Int32Array(size);
  const isTouched = new Uint8Array(size);
  const values = new Float64Array(size);
  const dense = new OuterProducts(meat);
  for (let g = 0; g + 1 < starts.length; g++) {
    const span = { places, from: starts[g]!, to: starts[g + 1]! };
    let count = table.addUp(span, { sum, touched, isTouched });
    // Delta and the thresholds are touched by every ballot.
    for (let slot = model.slotComponent.length; slot < size; slot++) touched[count++] = slot;
    // Where most are touched, going along all of them is quicker than looking up which.
    if (2 * count > size) {
      dense.add(sum);
      sum.fill(0);
      isTouched.fill(0);
      continue;
    }
    for (let p = 0; p < count; p++) {
      const slot = touched[p]!;
      values[p] = sum[slot]!;
      sum[slot] = 0;
      isTouched[slot] = 0;
    }
    addSparse(meat, { slots: touched, values, count });
  }
  dense.finish();
  meat.addTransposed();
  return meat;
}

/** Adds s·s' in some slots on one side of the diagonal, and half of it on the diagonal. */
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

/** Adds s·s' below the diagonal, and half of it on the diagonal; four at a time, so that each entry is loaded and stored a quarter as often. */
class OuterProducts {
  private readonly held: [Float64Array, Float64Array, Float64Array, Float64Array];
  private count = 0;

  constructor(private readonly into: SquareMatrix) {
    const empty = () => new Float64Array(into.size);
    this.held = [empty(), empty(), empty(), empty()];
  }

  add(s: Float64Array): void {
    this.held[this.count++ as 0].set(s);
    if (this.count === this.held.length) this.finish();
  }

  finish(): void {
    if (this.count === 0) return;
    for (const unused of this.held.slice(this.count)) unused.fill(0);
    this.count = 0;
    const [a, b, c, d] = this.held;
    const { size, data } = this.into;
    for (let p = 0; p < size; p++) {
      const row = p * size;
      const [ap, bp, cp, dp] = [a[p]!, b[p]!, c[p]!, d[p]!];
      for (let q = 0; q < p; q++) data[row + q]! += ap * a[q]! + bp * b[q]! + cp * c[q]! + dp * d[q]!;
      data[row + p]! += (ap * ap + bp * bp + cp * cp + dp * dp) / 2;
    }
  }
}
