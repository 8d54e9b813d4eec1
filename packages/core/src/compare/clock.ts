import type { Frame } from "../contract/index.js";

/** The frame that shows a page at a time: the last one taken by then, or the first of all. Frames are in the order of their times. */
export function findFrame(frames: readonly Frame[], atMs: number): Frame | undefined {
  return frames.findLast((frame) => frame.atMs <= atMs) ?? frames[0];
}

/** The times of all frames of several recordings, each once, in ms of page time, rising. */
export const listTimes = (recordings: readonly (readonly Frame[])[]): number[] =>
  [...new Set(recordings.flat().map(({ atMs }) => atMs))].toSorted((a, b) => a - b);

/** The time of the next frame after one, or of the one before it, kept within the first and the last. */
export function stepTime(times: readonly number[], fromMs: number, by: 1 | -1): number {
  const next = by === 1 ? times.find((atMs) => atMs > fromMs) : times.findLast((atMs) => atMs < fromMs);
  return next ?? (by === 1 ? (times.at(-1) ?? 0) : (times[0] ?? 0));
}
