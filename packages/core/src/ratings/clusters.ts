import type { FittedModel } from "./fit-ratings.js";
import type { ScoreTable } from "./score-table.js";
import { SquareMatrix } from "./square-matrix.js";

/** Scores in order of the clusters that their ballots belong to: those of cluster g are at starts[g] … starts[g + 1] − 1. */
export interface Clusters {
  /** Places in a table of scores. */
  places: Int32Array;
  /** How many ballots have each; null for one each. */
  times: ArrayLike<number> | null;
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

/** Rows by a column of cluster numbers. */
export function cluster(column: ArrayLike<number>, places: Int32Array, times: ArrayLike<number>): Clusters {
  const sorting = sortBy(column);
  const carried = new Float64Array(times.length);
  for (let row = 0; row < carried.length; row++) carried[sorting.position[row]!] = times[row]!;
  return { places: carry(places, sorting), times: carried, starts: sorting.starts };
}

/** Every row a cluster. */
export function isolate(places: Int32Array, times: ArrayLike<number>): Clusters {
  return { places, times, starts: Int32Array.from({ length: places.length + 1 }, (_, row) => row) };
}

/** Ballots by voter; by prompt; and by prompt and, within it, voter: both of the last in the same order. */
export function clusterTwoWays(
  voter: ArrayLike<number>,
  prompt: ArrayLike<number>,
  places: Int32Array,
): { byVoter: Clusters; byPrompt: Clusters; byCell: Clusters } {
  const first = sortBy(voter);
  const byVoter = { places: carry(places, first), times: null, starts: first.starts };
  const second = sortBy(carry(prompt, first));
  const inOrder = carry(byVoter.places, second);
  const voters = carry(carry(voter, first), second);
  const starts = new Int32Array(voters.length + 1);
  let cells = 0;
  let prompts = 0;
  for (let i = 0; i < voters.length; i++) {
    const beginsPrompt = i === second.starts[prompts];
    if (beginsPrompt) prompts++;
    if (beginsPrompt || voters[i] !== voters[i - 1]) starts[cells++] = i;
  }
  starts[cells] = voters.length;
  return {
    byVoter,
    byPrompt: { places: inOrder, times: null, starts: second.starts },
    byCell: { places: inOrder, times: null, starts: starts.slice(0, cells + 1) },
  };
}

/**
 * Σ S_g S_g' over clusters g, S_g the sum of the scores of its ballots. A cluster of few ballots touches few parameters: only those are
 * multiplied.
 */
export function sumOuterProducts(model: FittedModel, table: ScoreTable, clusters: Clusters): SquareMatrix {
  const { places, times, starts } = clusters;
  const size = model.x.length;
  const meat = new SquareMatrix(size);
  const sum = new Float64Array(size);
  const touched = new Int32Array(size);
  const isTouched = new Uint8Array(size);
  const dense = new OuterProducts(meat);
  for (let g = 0; g + 1 < starts.length; g++) {
    const span = { places, times, from: starts[g]!, to: starts[g + 1]! };
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
      const value = sum[touched[p]!]!;
      const row = touched[p]! * size;
      for (let q = 0; q < p; q++) meat.data[row + touched[q]!]! += value * sum[touched[q]!]!;
      meat.data[row + touched[p]!]! += (value * value) / 2;
    }
    for (let p = 0; p < count; p++) {
      sum[touched[p]!] = 0;
      isTouched[touched[p]!] = 0;
    }
  }
  dense.finish();
  meat.addTransposed();
  return meat;
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
