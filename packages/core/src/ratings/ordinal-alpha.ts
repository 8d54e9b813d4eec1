/** How far apart two values are, squared, given how often each value 1..K occurs (index 0 unused). */
type Metric = (c: number, k: number, marginals: Float64Array) => number;

const METRICS = {
  nominal: (c, k) => (c === k ? 0 : 1),
  interval: (c, k) => (c - k) ** 2,
  /** The values between two, each end counted half. */
  ordinal: (c, k, marginals) => {
    const [low, high] = c < k ? [c, k] : [k, c];
    let between = -(marginals[low]! + marginals[high]!) / 2;
    for (let g = low; g <= high; g++) between += marginals[g]!;
    return between ** 2;
  },
} satisfies Record<string, Metric>;

/**
 * Krippendorff's alpha (Krippendorff 2004, 2011): agreement of values given to the same units beyond what their frequencies
 * alone would bring; 1 for agreement throughout, 0 for none. Units with one value say nothing and are left out.
 *
 * @param units values 1..K of each unit, in any number and order.
 * @param isMirrored whether every unit also enters with its values turned (k to K + 1 − k), which makes the figure independent of
 *   which entrant of a pair is called the first; the number of values then stays that of the units themselves.
 * @returns null when no unit has two values, or when all values are the same and nothing could disagree.
 */
export function measureAlpha(
  units: readonly (readonly number[])[],
  K: number,
  metric: keyof typeof METRICS,
  isMirrored = false,
): number | null {
  const paired = units.filter((values) => values.length >= 2);
  const coincidences = new Float64Array((K + 1) * (K + 1));
  const marginals = new Float64Array(K + 1);
  const enter = (values: readonly number[], weight: number) => {
    for (const [i, c] of values.entries()) {
      marginals[c]! += weight;
      for (const [j, k] of values.entries())
        if (i !== j) coincidences[c * (K + 1) + k]! += weight / (values.length - 1);
    }
  };
  for (const values of paired) {
    // The mirrored values are no further evidence: each of the two counts half.
    enter(values, isMirrored ? 0.5 : 1);
    if (isMirrored)
      enter(
        values.map((value) => K + 1 - value),
        0.5,
      );
  }
  const n = marginals.reduce((sum, count) => sum + count, 0);
  let observed = 0;
  let expected = 0;
  for (let c = 1; c <= K; c++) {
    for (let k = 1; k <= K; k++) {
      const distance = METRICS[metric](c, k, marginals);
      observed += (coincidences[c * (K + 1) + k]! * distance) / n;
      expected += (marginals[c]! * marginals[k]! * distance) / (n * (n - 1));
    }
  }
  return expected > 0 ? 1 - observed / expected : null;
}
