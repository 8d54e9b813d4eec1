/** The median; the mean of the two middle values for an even count, null for none. */
export function median(values: readonly number[]): number | null {
  if (values.length === 0) return null;
  const sorted = Float64Array.from(values).sort();
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}
