import { checkCounts, type CountColumns } from "./ballots.js";

/** Ballots counted by ordered pair. */
export interface PairCounts {
  /** Entrants on either side of each pair that met. */
  left: Int32Array;
  right: Int32Array;
  /** counts[pair · K + k − 1] ballots of outcome k. */
  counts: Float64Array;
  /** Per outcome 1..K; index 0 is unused. */
  totals: Float64Array;
}

/** Up to this many entrants, pairs are found in a table. */
const MOST_IN_TABLE = 3000;

/**
 * Puts counts together by ordered pair; rows of no ballots are left out, rows of the same pair and outcome added.
 *
 * @throws TourneyError INVALID_INPUT for malformed counts.
 */
export function groupByPair(entrantCount: number, K: number, rows: CountColumns): PairCounts {
  checkCounts(entrantCount, K, rows);
  const { left, right, outcome, n } = rows;
  const table = new Int32Array(entrantCount <= MOST_IN_TABLE ? entrantCount * entrantCount : 0);
  const map = new Map<number, number>();
  const totals = new Float64Array(K + 1);
  const pairOfRow = new Int32Array(n.length);
  const sides = { left: new Int32Array(n.length), right: new Int32Array(n.length) };
  let pairs = 0;
  for (let r = 0; r < n.length; r++) {
    if (n[r] === 0) continue;
    const key = left[r]! * entrantCount + right[r]!;
    // Pairs are numbered from 1 here, so that 0 stands for none.
    let pair = table.length > 0 ? table[key]! : (map.get(key) ?? 0);
    if (pair === 0) {
      sides.left[pairs] = left[r]!;
      sides.right[pairs] = right[r]!;
      pair = ++pairs;
      if (table.length > 0) table[key] = pair;
      else map.set(key, pair);
    }
    pairOfRow[r] = pair;
    totals[outcome[r]!]! += n[r]!;
  }
  const counts = new Float64Array(pairs * K);
  for (let r = 0; r < n.length; r++) {
    const pair = pairOfRow[r]!;
    if (pair > 0) counts[(pair - 1) * K + outcome[r]! - 1]! += n[r]!;
  }
  return { left: sides.left.slice(0, pairs), right: sides.right.slice(0, pairs), counts, totals };
}
