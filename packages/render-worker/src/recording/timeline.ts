import type { WalkthroughStep } from "@tourney/core/contract";

/** Chromium's frame interval. Whole milliseconds, because virtual time is granted in them. */
export const atFrame = (k: number): number => Math.round((k * 1000) / 60);

/** Where an input goes: a place of the viewport in CSS px, or something found by its accessible name when the time comes. */
export type Target = { x: number; y: number } | { name: string; role?: string | undefined };

/** One thing that the page is sent at a moment of page time. */
export type TimedInput =
  | { atMs: number; type: "keyDown" | "keyUp"; key: string }
  | { atMs: number; type: "insertText"; text: string }
  | {
      atMs: number;
      type: "mouseMoved" | "mousePressed" | "mouseReleased";
      at: Target;
      isHeld?: boolean;
      towards?: { to: Target; share: number };
    };

/** How long a click holds the button. */
const CLICK_MS = 50;
/** How often the pointer moves during a drag. */
const DRAG_STEP_MS = 50;

/** The walkthrough as single inputs in time order: a held key is a press and a release, a drag a path between two. */
export function planInputs(steps: readonly WalkthroughStep[]): TimedInput[] {
  return steps.flatMap(planStep).sort((a, b) => a.atMs - b.atMs);
}

function planStep(step: WalkthroughStep): TimedInput[] {
  const { atMs } = step;
  if ("key" in step) {
    return [
      { atMs, type: "keyDown", key: step.key },
      { atMs: atMs + Math.max(step.holdMs, CLICK_MS), type: "keyUp", key: step.key },
    ];
  }
  if ("type" in step) return [{ atMs, type: "insertText", text: step.type }];
  if ("click" in step) {
    return [
      { atMs, type: "mouseMoved", at: step.click },
      { atMs, type: "mousePressed", at: step.click },
      { atMs: atMs + CLICK_MS, type: "mouseReleased", at: step.click },
    ];
  }
  const { from, to } = step.drag;
  const moves = Math.max(1, Math.ceil(step.holdMs / DRAG_STEP_MS));
  return [
    { atMs, type: "mouseMoved", at: from },
    { atMs, type: "mousePressed", at: from },
    ...Array.from({ length: moves }, (_, i): TimedInput => {
      const share = (i + 1) / moves;
      return {
        atMs: Math.round(atMs + share * step.holdMs),
        type: "mouseMoved",
        at: from,
        isHeld: true,
        towards: { to, share },
      };
    }),
    { atMs: atMs + step.holdMs + 1, type: "mouseReleased", at: to },
  ];
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
