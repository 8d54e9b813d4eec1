import { TourneyError } from "../errors.js";
import { type Numbers, pickNumbers } from "./numbers.js";

/** Ballots as columns of equal length; indices are 0-based, outcomes 1..K with 1 = left by far. */
export interface BallotColumns {
  voter: ArrayLike<number>;
  prompt: ArrayLike<number>;
  left: ArrayLike<number>;
  right: ArrayLike<number>;
  outcome: ArrayLike<number>;
}

/** Ballots counted, as columns of equal length: n[r] ballots between left[r] and right[r] came out as outcome[r]. */
export interface CountColumns {
  left: ArrayLike<number>;
  right: ArrayLike<number>;
  outcome: ArrayLike<number>;
  /** Whole numbers as a rule; fractions weigh. */
  n: ArrayLike<number>;
}

/** Counts by the cluster that the ballots belong to, numbered from 0. */
export interface ClusterCounts extends CountColumns {
  cluster: ArrayLike<number>;
}

/** A table of this many cells is counted into directly; a larger one by way of its used cells. */
const MOST_DIRECT_CELLS = 16_000_000;

/**
 * Counts per (left, right, outcome): all that the fit needs of the ballots.
 *
 * @throws TourneyError INVALID_INPUT for a ballot that cannot be one.
 */
export function countBallots(
  entrantCount: number,
  K: number,
  { left, right, outcome }: Pick<BallotColumns, "left" | "right" | "outcome">,
): CountColumns {
  const limits = { entrantCount, K };
  const cells = entrantCount * entrantCount * K;
  const isDirect = cells <= MOST_DIRECT_CELLS;
  const direct = new Float64Array(isDirect ? cells : 0);
  const sparse = new Map<number, number>();
  for (let b = 0; b < outcome.length; b++) {
    const l = left[b]!;
    const r = right[b]!;
    const k = outcome[b]!;
    if (!isPossible(l, r, k, limits)) refuseRow(b, { left: l, right: r, outcome: k }, limits);
    const cell = (l * entrantCount + r) * K + k - 1;
    if (isDirect) direct[cell]!++;
    else sparse.set(cell, (sparse.get(cell) ?? 0) + 1);
  }
  const used: number[] = [...sparse.keys()].toSorted((a, b) => a - b);
  for (let cell = 0; cell < direct.length; cell++) if (direct[cell] !== 0) used.push(cell);
  const columns = {
    left: new Int32Array(used.length),
    right: new Int32Array(used.length),
    outcome: new Int32Array(used.length),
    n: new Float64Array(used.length),
  };
  for (let row = 0; row < used.length; row++) {
    const cell = used[row]!;
    const pair = Math.floor(cell / K);
    columns.left[row] = Math.floor(pair / entrantCount);
    columns.right[row] = pair % entrantCount;
    columns.outcome[row] = (cell % K) + 1;
    columns.n[row] = isDirect ? direct[cell]! : sparse.get(cell)!;
  }
  return columns;
}

/**
 * What is left of counts when others, all of which are among them, are taken away. Both are in the order of `countBallots`.
 *
 * @throws RangeError when something is to be taken away that is not there.
 */
export function subtractCounts(all: CountColumns, some: CountColumns): CountColumns {
  const n = Float64Array.from(all.n);
  let row = 0;
  for (let taken = 0; taken < some.n.length; taken++) {
    while (
      row < n.length &&
      (all.left[row] !== some.left[taken] ||
        all.right[row] !== some.right[taken] ||
        all.outcome[row] !== some.outcome[taken])
    )
      row++;
    if (row === n.length || n[row]! < some.n[taken]!)
      throw new RangeError("Counts to take away are not among the counts.");
    n[row]! -= some.n[taken]!;
  }
  let kept = 0;
  for (let at = 0; at < n.length; at++) if (n[at]! > 0) kept++;
  const left = new Int32Array(kept);
  const right = new Int32Array(kept);
  const outcome = new Int32Array(kept);
  const rest = new Float64Array(kept);
  let to = 0;
  for (let at = 0; at < n.length; at++) {
    if (!(n[at]! > 0)) continue;
    left[to] = all.left[at]!;
    right[to] = all.right[at]!;
    outcome[to] = all.outcome[at]!;
    rest[to++] = n[at]!;
  }
  return { left, right, outcome, n: rest };
}

/**
 * Ballots in an order of their own: by voter, prompt, sides and outcome. What is added up over them comes to the same last digit in whatever order they came.
 * The same object where they are in it already. Sorted by counting, column by column from the last (Seward 1954).
 */
export function sortBallots(ballots: BallotColumns): BallotColumns {
  if (areInOrder(ballots)) return ballots;
  return pickBallots(ballots, orderBallots(ballots));
}

/** The positions of ballots in that order. */
export const orderBallots = ({ voter, prompt, left, right, outcome }: BallotColumns): Int32Array =>
  orderBy([voter, prompt, left, right, outcome]);

/** Positions in order of the first of some columns of whole numbers ≥ 0, then of the next; what is alike in all stays in the order in which it is. */
export function orderBy(columns: readonly [ArrayLike<number>, ...ArrayLike<number>[]]): Int32Array {
  let order: Int32Array = new Int32Array(columns[0].length).map((_, b) => b);
  for (const column of columns.toReversed()) order = sortStable(order, column);
  return order;
}

function areInOrder({ voter, prompt, left, right, outcome }: BallotColumns): boolean {
  for (let b = 1; b < outcome.length; b++) {
    const later =
      voter[b]! - voter[b - 1]! ||
      prompt[b]! - prompt[b - 1]! ||
      left[b]! - left[b - 1]! ||
      right[b]! - right[b - 1]! ||
      outcome[b]! - outcome[b - 1]!;
    if (later < 0) return false;
  }
  return true;
}

/** Where numbers are larger than so many times as many as there are, counting each would take longer than comparing. */
const WIDEST = 8;

/** Positions by their number in a column; those with the same one stay in the order in which they are. */
function sortStable(order: Int32Array, column: ArrayLike<number>): Int32Array {
  const size = sizeOf(column);
  if (size > WIDEST * column.length) return order.toSorted((a, b) => column[a]! - column[b]!);
  const next = new Int32Array(size + 1);
  for (let b = 0; b < column.length; b++) next[column[b]! + 1]!++;
  for (let k = 1; k < size; k++) next[k]! += next[k - 1]!;
  const sorted = new Int32Array(order.length);
  for (let at = 0; at < order.length; at++) {
    const b = order[at]!;
    sorted[next[column[b]!]!++] = b;
  }
  return sorted;
}

/** One more than the largest of some numbers ≥ 0. */
function sizeOf(column: ArrayLike<number>): number {
  let size = 1;
  for (let b = 0; b < column.length; b++) if (column[b]! >= size) size = column[b]! + 1;
  return size;
}

/** Some ballots of a list, by their positions. */
export const pickBallots = (
  ballots: BallotColumns,
  positions: ArrayLike<number>,
): Record<keyof BallotColumns, Numbers> => ({
  voter: pickNumbers(ballots.voter, positions),
  prompt: pickNumbers(ballots.prompt, positions),
  left: pickNumbers(ballots.left, positions),
  right: pickNumbers(ballots.right, positions),
  outcome: pickNumbers(ballots.outcome, positions),
});

/**
 * Makes sure that counts are of ballots between two different known entrants with an outcome on the scale.
 *
 * @throws TourneyError INVALID_INPUT that names the first row that is not.
 */
export function checkCounts(entrantCount: number, K: number, counts: CountColumns): void {
  const { left, right, outcome, n } = counts;
  const limits = { entrantCount, K };
  for (let r = 0; r < outcome.length; r++) {
    if (isPossible(left[r]!, right[r]!, outcome[r]!, limits) && n[r]! >= 0 && n[r]! < Infinity) continue;
    refuseRow(r, { left: left[r]!, right: right[r]!, outcome: outcome[r]!, n: n[r]! }, limits);
  }
}

interface Limits {
  entrantCount: number;
  K: number;
}

const isPossible = (left: number, right: number, outcome: number, { entrantCount, K }: Limits): boolean =>
  left >= 0 &&
  left < entrantCount &&
  right >= 0 &&
  right < entrantCount &&
  left !== right &&
  outcome >= 1 &&
  outcome <= K &&
  Number.isInteger(left) &&
  Number.isInteger(right) &&
  Number.isInteger(outcome);

function refuseRow(
  index: number,
  row: { left: number; right: number; outcome: number; n?: number },
  { entrantCount, K }: Limits,
): never {
  const isEntrant = (i: number) => Number.isInteger(i) && i >= 0 && i < entrantCount;
  const { left, right, outcome, n } = row;
  const wrong =
    !isEntrant(left) || !isEntrant(right)
      ? `names entrant ${isEntrant(left) ? right : left}, but there are ${entrantCount}, numbered from 0`
      : left === right
        ? `pairs entrant ${left} with itself`
        : !Number.isInteger(outcome) || outcome < 1 || outcome > K
          ? `has outcome ${outcome}, which is not one of 1..${K}`
          : `has the count ${n}`;
  throw new TourneyError("INVALID_INPUT", {
    message: `Row ${index + 1} of the ballots ${wrong}.`,
    reason: "A rating can only be fitted to ballots between two different known entrants with an outcome on the scale.",
    remedy: "Correct the row or leave it out.",
  });
}
