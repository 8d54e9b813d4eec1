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

/**
 * The share of pixels, 0–1, that differ from the picture's commonest colour by more than `tolerance` in some channel:
 * 0 for a blank page whatever its colour, and small for a nearly blank one.
 */
export function contentShare(picture: Pixels, tolerance = 8): number {
  const { data } = picture;
  const counts = new Map<number, number>();
  for (let i = 0; i < data.length; i += 4) {
    const colour = (data[i]! << 16) | (data[i + 1]! << 8) | data[i + 2]!;
    counts.set(colour, (counts.get(colour) ?? 0) + 1);
  }
  let commonest = 0;
  let most = 0;
  for (const [colour, count] of counts) {
    if (count > most) {
      commonest = colour;
      most = count;
    }
  }
  const [red, green, blue] = [commonest >> 16, (commonest >> 8) & 255, commonest & 255];
  let content = 0;
  for (const [colour, count] of counts) {
    const distance = Math.max(
      Math.abs((colour >> 16) - red),
      Math.abs(((colour >> 8) & 255) - green),
      Math.abs((colour & 255) - blue),
    );
    if (distance > tolerance) content += count;
  }
  return data.length === 0 ? 0 : content / (data.length / 4);
}
