/** A pair of entrants i < j with the two-sided p of the hypothesis that they are equal. */
export interface PairTest {
  i: number;
  j: number;
  /** theta_i − theta_j. */
  difference: number;
  /** Or a bound of it from above that decides alike. */
  p: number;
}

/**
 * Which pairs differ, all decisions holding jointly at level alpha: Holm's step-down procedure (Holm 1979).
 * Sorted ascending, the q-th smallest p of m is significant while p ≤ alpha / (m − q + 1); the first failure ends it.
 */
export function rejectByHolm(tests: readonly PairTest[], alpha: number): PairTest[] {
  const sorted = [...tests].sort((a, b) => a.p - b.p);
  const failure = sorted.findIndex(({ p }, q) => p > alpha / (sorted.length - q));
  return failure === -1 ? sorted : sorted.slice(0, failure);
}

/** The same by Bonferroni's bound: p ≤ alpha / m. Rejects no more than Holm's. */
export const rejectByBonferroni = (tests: readonly PairTest[], alpha: number): PairTest[] =>
  tests.filter(({ p }) => p <= alpha / tests.length);

/** Corrects the pairs of each component by themselves: nothing is concluded across components. */
export function rejectPerComponent(
  tests: readonly PairTest[],
  component: ArrayLike<number>,
  reject: (own: readonly PairTest[]) => PairTest[],
): PairTest[] {
  const own = new Map<number, PairTest[]>();
  for (const test of tests) {
    const number = component[test.i]!;
    const list = own.get(number);
    if (list) list.push(test);
    else own.set(number, [test]);
  }
  return [...own.values()].flatMap(reject);
}

/** Two ratings in logits that differ by less than this share a rank. */
const TIE_LOGITS = 1e-9;

/** Per entrant 1 + how many of its component are above it; null without ballots. */
export const rankEntrants = (theta: readonly (number | null)[], component: ArrayLike<number>): (number | null)[] =>
  theta.map((own, m) =>
    own === null
      ? null
      : 1 +
        theta.filter((other, j) => component[j] === component[m] && other !== null && other > own + TIE_LOGITS).length,
  );

/**
 * The ranks that the ballots support (Klein, Wright & Wieczorek 2020): best = 1 + those significantly above, worst = size
 * of the component − those significantly below.
 *
 * @param component per entrant, −1 without ballots.
 * @returns per entrant [best, worst], 1-based within its component, or null without ballots.
 */
export function rankRanges(
  component: ArrayLike<number>,
  significant: readonly PairTest[],
): ([number, number] | null)[] {
  const sizes = new Map<number, number>();
  for (let i = 0; i < component.length; i++) sizes.set(component[i]!, (sizes.get(component[i]!) ?? 0) + 1);
  const above = new Int32Array(component.length);
  const below = new Int32Array(component.length);
  for (const { i, j, difference } of significant) {
    above[difference > 0 ? j : i]!++;
    below[difference > 0 ? i : j]!++;
  }
  return Array.from({ length: component.length }, (_, m) =>
    component[m] === -1 ? null : [1 + above[m]!, sizes.get(component[m]!)! - below[m]!],
  );
}

/**
 * The longest runs of neighbours in the given order no two of which can be told apart, each at least two long and none
 * inside another.
 *
 * @param order entrants by descending rating.
 * @returns [first, last] positions in `order`.
 */
export function findBrackets(
  order: readonly number[],
  component: ArrayLike<number>,
  significant: readonly PairTest[],
): [number, number][] {
  const count = component.length;
  const differ = new Uint8Array(count * count);
  for (const { i, j } of significant) differ[i * count + j] = differ[j * count + i] = 1;
  const canTell = (a: number, b: number) => component[a] !== component[b] || differ[a * count + b] === 1;
  const runs: [number, number][] = [];
  let end = -1;
  for (let start = 0; start < order.length; start++) {
    if (component[order[start]!] === -1) continue;
    let last = start;
    while (
      last + 1 < order.length &&
      component[order[last + 1]!] !== -1 &&
      order.slice(start, last + 1).every((member) => !canTell(member, order[last + 1]!))
    ) {
      last++;
    }
    if (last > start && last > end) {
      runs.push([start, last]);
      end = last;
    }
  }
  return runs;
}
