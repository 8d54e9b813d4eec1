/** A picture as RGBA bytes, row by row from the top left. `data.length` is 4 × width × height. */
export interface Pixels {
  width: number;
  height: number;
  data: Uint8Array;
}

/**
 * The share of pixels, 0–1, in which two pictures of equal size differ by more than `tolerance` in some colour channel.
 * Alpha is ignored: screenshots are opaque.
 *
 * @param tolerance 0–255; 8 ignores what dithering and text smoothing do.
 * @throws a plain Error when the sizes differ.
 */
export function changedShare(before: Pixels, after: Pixels, tolerance = 8): number {
  if (before.width !== after.width || before.height !== after.height) {
    throw new Error(
      `Pictures of ${before.width}×${before.height} and ${after.width}×${after.height} cannot be compared`,
    );
  }
  const a = before.data;
  const b = after.data;
  let changed = 0;
  for (let i = 0; i < a.length; i += 4) {
    if (
      Math.abs(a[i]! - b[i]!) > tolerance ||
      Math.abs(a[i + 1]! - b[i + 1]!) > tolerance ||
      Math.abs(a[i + 2]! - b[i + 2]!) > tolerance
    ) {
      changed++;
    }
  }
  return a.length === 0 ? 0 : changed / (a.length / 4);
}

/** Buckets of 5 bits a channel: fine enough to tell a background from what is drawn on it. */
const BUCKETS = 32 * 32 * 32;
const bucketOf = (red: number, green: number, blue: number) => ((red >> 3) << 10) | ((green >> 3) << 5) | (blue >> 3);

/**
 * The share of pixels, 0–1, that differ from the picture's commonest colour by more than `tolerance` in some channel:
 * 0 for a blank page whatever its colour, and small for a nearly blank one. The commonest colour is the mean of the fullest
 * bucket of a histogram with 5 bits a channel.
 */
export function contentShare(picture: Pixels, tolerance = 8): number {
  const { data } = picture;
  if (data.length === 0) return 0;
  const [red, green, blue] = commonestColour(data);
  let content = 0;
  for (let i = 0; i < data.length; i += 4) {
    if (
      Math.abs(data[i]! - red) > tolerance ||
      Math.abs(data[i + 1]! - green) > tolerance ||
      Math.abs(data[i + 2]! - blue) > tolerance
    ) {
      content++;
    }
  }
  return content / (data.length / 4);
}

function commonestColour(data: Uint8Array): [red: number, green: number, blue: number] {
  const counts = new Uint32Array(BUCKETS);
  for (let i = 0; i < data.length; i += 4) counts[bucketOf(data[i]!, data[i + 1]!, data[i + 2]!)]!++;
  let fullest = 0;
  for (let bucket = 1; bucket < BUCKETS; bucket++) if (counts[bucket]! > counts[fullest]!) fullest = bucket;
  const sums = [0, 0, 0] as [number, number, number];
  for (let i = 0; i < data.length; i += 4) {
    if (bucketOf(data[i]!, data[i + 1]!, data[i + 2]!) !== fullest) continue;
    for (let channel = 0; channel < 3; channel++) sums[channel]! += data[i + channel]!;
  }
  const n = counts[fullest]!;
  return [sums[0] / n, sums[1] / n, sums[2] / n];
}
