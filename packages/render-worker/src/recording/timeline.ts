import type { WalkthroughStep } from "@tourney/core/contract";

/** Chromium's frame interval. Whole milliseconds, because virtual time is granted in them. */
export const atFrame = (k: number): number => Math.round((k * 1000) / 60);

/** One thing that the page is sent at a moment of page time. */
export interface TimedInput {
  atMs: number;
  type: "keyDown" | "keyUp" | "mouseMoved" | "mousePressed" | "mouseReleased";
  key?: string;
  x?: number;
  y?: number;
}

/** How long a click holds the button. */
const CLICK_MS = 50;

/** The walkthrough as single inputs in time order: a held key is a press and a release. */
export function planInputs(steps: readonly WalkthroughStep[]): TimedInput[] {
  const inputs = steps.flatMap((step): TimedInput[] => {
    if ("key" in step) {
      return [
        { atMs: step.atMs, type: "keyDown", key: step.key },
        { atMs: step.atMs + Math.max(step.holdMs, CLICK_MS), type: "keyUp", key: step.key },
      ];
    }
    return [
      { atMs: step.atMs, type: "mouseMoved", ...step.click },
      { atMs: step.atMs, type: "mousePressed", ...step.click },
      { atMs: step.atMs + CLICK_MS, type: "mouseReleased", ...step.click },
    ];
  });
  return inputs.sort((a, b) => a.atMs - b.atMs);
}

/**
 * The frame numbers to capture: the first painted one, the last, and the rest evenly between.
 *
 * @param frames how many pictures, ≥ 2.
 * @returns ascending 1-based frame numbers, one for each picture; page time of frame k is atFrame(k).
 */
export function planCaptures(seconds: number, frames: number): number[] {
  const last = Math.round(seconds * 60);
  const first = 2;
  return Array.from({ length: frames }, (_, i) => Math.round(first + ((last - first) * i) / (frames - 1)));
}
