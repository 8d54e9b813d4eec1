/** A picture of opaque pixels, row by row from the top left. `data.length` is channels × width × height. */
export interface Pixels {
  width: number;
  height: number;
  channels: 3 | 4;
  data: Uint8Array;
}

/** A part of a picture, px from its top left corner. */
export interface Part {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/**
 * The share of pixels, 0–1, in which two pictures of equal size differ by more than `tolerance` in some colour channel.
 * Alpha is ignored: screenshots are opaque.
 *
 * @param tolerance 0–255; 8 ignores what dithering and text smoothing do.
 * @throws a plain Error when the sizes differ.
 */
export function changedShare(before: Pixels, after: Pixels, tolerance = 8): number {
  if (!isOfOneSize(before, after)) {
    throw new Error(
      `Pictures of ${before.width}×${before.height} and ${after.width}×${after.height} cannot be compared`,
    );
  }
  const { data: a, channels } = before;
  const b = after.data;
  if (a.length === 0) return 0;
  const [wordsOfA, wordsOfB] = [asWords(a), asWords(b)];
  const wholeWords = wordsOfA.length - BLOCK_WORDS + 1;
  let changed = 0;
  let start = 0;
  for (let word = 0; start < a.length; start += BLOCK_BYTES, word += BLOCK_WORDS) {
    // Most of two frames is alike: whole blocks are passed over.
    if (
      word < wholeWords &&
      ((wordsOfA[word]! ^ wordsOfB[word]!) |
        (wordsOfA[word + 1]! ^ wordsOfB[word + 1]!) |
        (wordsOfA[word + 2]! ^ wordsOfB[word + 2]!)) ===
        0
    )
      continue;
    const end = Math.min(start + BLOCK_BYTES, a.length);
    for (let i = start; i < end; i += channels) if (isOther(a, b, i, tolerance)) changed++;
  }
  return changed / (a.length / channels);
}

/** Four pixels of three channels, or three of four. */
const BLOCK_BYTES = 12;
const BLOCK_WORDS = 3;

/** The same bytes four at a time, without those at the end that do not fill a word. */
function asWords(data: Uint8Array): Int32Array {
  const { buffer, byteOffset, length } = data.byteOffset % 4 === 0 ? data : data.slice();
  return new Int32Array(buffer, byteOffset, length >> 2);
}

/** Whether two pictures have the same size and layout, so that they can be compared pixel by pixel. */
export const isOfOneSize = (a: Pixels, b: Pixels): boolean =>
  a.width === b.width && a.height === b.height && a.channels === b.channels;

/** Whether two pictures of equal size differ anywhere outside some parts of them, by more than `tolerance` in some channel. */
export function differsOutside(before: Pixels, after: Pixels, parts: readonly Part[], tolerance = 8): boolean {
  if (!isOfOneSize(before, after)) return true;
  const { width, height, channels } = before;
  for (let y = 0; y < height; y++) {
    const inRow = parts.filter(({ top, bottom }) => y >= top && y < bottom);
    for (let x = 0; x < width; x++) {
      if (!isOther(before.data, after.data, (y * width + x) * channels, tolerance)) continue;
      if (!inRow.some(({ left, right }) => x >= left && x < right)) return true;
    }
  }
  return false;
}

const isOther = (a: Uint8Array, b: Uint8Array, i: number, tolerance: number): boolean =>
  Math.abs(a[i]! - b[i]!) > tolerance ||
  Math.abs(a[i + 1]! - b[i + 1]!) > tolerance ||
  Math.abs(a[i + 2]! - b[i + 2]!) > tolerance;

/** Buckets of 5 bits a channel: fine enough to tell a background from what is drawn on it. */
const BUCKETS = 32 * 32 * 32;
const bucketOf = (red: number, green: number, blue: number) => ((red >> 3) << 10) | ((green >> 3) << 5) | (blue >> 3);

/**
 * The share of pixels, 0–1, that differ from the picture's commonest colour by more than `tolerance` in some channel:
 * 0 for a blank page whatever its colour, and small for a nearly blank one. Colours are counted in a histogram with 5 bits a
 * channel and compared by the means of its buckets.
 */
export function contentShare({ data, channels }: Pixels, tolerance = 8): number {
  if (data.length === 0) return 0;
  const { counts, sums } = countColours(data, channels);
  let fullest = 0;
  for (let bucket = 1; bucket < BUCKETS; bucket++) if (counts[bucket]! > counts[fullest]!) fullest = bucket;
  const mean = (bucket: number, channel: number) => sums[bucket * 3 + channel]! / counts[bucket]!;
  let content = 0;
  for (let bucket = 0; bucket < BUCKETS; bucket++) {
    if (counts[bucket] === 0) continue;
    for (let channel = 0; channel < 3; channel++) {
      if (Math.abs(mean(bucket, channel) - mean(fullest, channel)) <= tolerance) continue;
      content += counts[bucket]!;
      break;
    }
  }
  return content / (data.length / channels);
}

function countColours(data: Uint8Array, channels: number): { counts: Uint32Array; sums: Float64Array } {
  const counts = new Uint32Array(BUCKETS);
  const sums = new Float64Array(BUCKETS * 3);
  const add = (red: number, green: number, blue: number, times: number) => {
    const bucket = bucketOf(red, green, blue);
    counts[bucket]! += times;
    sums[bucket * 3]! += times * red;
    sums[bucket * 3 + 1]! += times * green;
    sums[bucket * 3 + 2]! += times * blue;
  };
  // Neighbours are mostly alike: a run of one colour is counted in one go.
  const words = asWords(data);
  const inBlock = BLOCK_BYTES / channels;
  let [red, green, blue, times] = [data[0]!, data[1]!, data[2]!, 0];
  // The last block that was of the run's colour throughout.
  let alike = -1;
  for (let start = 0, word = 0; start < data.length; start += BLOCK_BYTES, word += BLOCK_WORDS) {
    const isWhole = word + BLOCK_WORDS <= words.length;
    if (
      alike >= 0 &&
      isWhole &&
      ((words[word]! ^ words[alike]!) |
        (words[word + 1]! ^ words[alike + 1]!) |
        (words[word + 2]! ^ words[alike + 2]!)) ===
        0
    ) {
      times += inBlock;
      continue;
    }
    const end = Math.min(start + BLOCK_BYTES, data.length);
    for (let i = start; i < end; i += channels) {
      if (data[i] === red && data[i + 1] === green && data[i + 2] === blue) {
        times++;
        continue;
      }
      add(red, green, blue, times);
      [red, green, blue, times] = [data[i]!, data[i + 1]!, data[i + 2]!, 1];
    }
    alike = isWhole && times >= inBlock ? word : -1;
  }
  add(red, green, blue, times);
  return { counts, sums };
}
