/**
 * Symmetric outcome classes of a K-point scale, and the merging of those that no ballot used.
 *
 * Class j holds the outcomes {k, K+1−k} at distance j from the middle: for K = 5 class 0 is {3}, 1 is {2, 4}, 2 is {1, 5};
 * for even K there is no middle and class 0 is {K/2, K/2+1}. A class without ballots has no information about its
 * threshold, which would run away in the fit, so it is taken out first (RATINGS, section 3).
 */
export interface OutcomeScale {
  /** Number of outcomes as given. */
  K: number;
  /** Number of outcomes that are left after merging. */
  reducedK: number;
  /** toReduced[k] = the reduced 1-based outcome of outcome k, or 0 when its class was merged away. */
  toReduced: readonly number[];
  /** Classes that have ballots, ascending. */
  usedClasses: readonly number[];
  /** Thresholds of the reduced scale as they would be were all entrants alike: where a fit starts. */
  startCuts: readonly number[];
}

const classOf = (k: number, K: number) =>
  K % 2 === 1 ? Math.abs(k - (K + 1) / 2) : k > K / 2 ? k - K / 2 - 1 : K / 2 - k;

/** @param totals totals[k] = ballots with outcome k, k = 1..K (index 0 unused). */
export function reduceScale(K: number, totals: ArrayLike<number>): OutcomeScale {
  const isOdd = K % 2 === 1;
  const classCount = Math.ceil(K / 2);
  const used = Array.from({ length: classCount }, () => 0);
  for (let k = 1; k <= K; k++) used[classOf(k, K)]! += totals[k]!;
  const usedClasses = used.flatMap((total, index) => (total > 0 ? [index] : []));
  const hasMiddle = isOdd && usedClasses.includes(0);
  const reducedK = hasMiddle ? 2 * usedClasses.length - 1 : 2 * usedClasses.length;
  const toReduced = Array.from({ length: K + 1 }, (_, k) => {
    if (k === 0) return 0;
    const position = usedClasses.indexOf(classOf(k, K));
    if (position === -1) return 0;
    const isLow = k <= K / 2;
    if (hasMiddle) return (reducedK + 1) / 2 + (isLow ? -position : position);
    return isLow ? reducedK / 2 - position : reducedK / 2 + 1 + position;
  });
  const startCuts = spreadOf(usedClasses.map((index) => used[index]!));
  return { K, reducedK, toReduced, usedClasses, startCuts };
}

/** At the least so far apart, so that a start is inside however rare an outcome is. */
const SMALLEST_DISTANCE = 0.01;

/** @param totals ballots of each class in use, from the middle outwards. */
function spreadOf(totals: readonly number[]): number[] {
  const all = totals.reduce((sum, total) => sum + total, 0);
  const cuts: number[] = [];
  let outside = all;
  for (let j = 1; j < totals.length; j++) {
    outside -= totals[j - 1]!;
    // One side of the scale has half of the ballots that lie further out.
    const share = Math.max(outside / (2 * all), Number.EPSILON);
    cuts.push(Math.max(Math.log((1 - share) / share), (cuts.at(-1) ?? 0) + SMALLEST_DISTANCE));
  }
  return cuts;
}

/**
 * The magnitudes of the thresholds of the scale as given, from those of the reduced fit.
 * An empty middle gives 0, an empty outermost class null (infinite), an empty class between makes its cuts coincide.
 */
export function restoreCuts(scale: OutcomeScale, reducedCuts: readonly number[]): (number | null)[] {
  const { K, usedClasses } = scale;
  const m = Math.floor((K - 1) / 2);
  // a_j separates class j−1 from class j when K is odd, class j−1 from class j (counted from the two middle ones) when even.
  return Array.from({ length: m }, (_, index) => {
    const upperClass = index + 1;
    const above = usedClasses.filter((used) => used >= upperClass).length;
    const below = usedClasses.length - above;
    if (above === 0) return null;
    if (below === 0) return 0;
    return reducedCuts[below - 1] ?? null;
  });
}
