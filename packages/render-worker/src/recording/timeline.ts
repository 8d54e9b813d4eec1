import type { Target, Viewport, WalkthroughStep } from "@tourney/core/contract";

/** Chromium's frame interval. Whole milliseconds, because virtual time is granted in them. */
export const atFrame = (k: number): number => Math.round((k * 1000) / 60);

/** The first frame at or after a moment. */
export const frameFrom = (ms: number): number => {
  let k = Math.max(0, Math.floor((ms * 60) / 1000));
  while (atFrame(k) < ms) k++;
  return k;
};

/** One thing that the page is sent at a moment of page time. */
export type TimedInput =
  | { atMs: number; type: "keyDown" | "keyUp"; key: string }
  | { atMs: number; type: "insertText"; text: string }
  | { atMs: number; type: "resize"; viewport: Viewport }
  | { atMs: number; type: "mouseWheel"; at: Target; byX: number; byY: number }
  | {
      atMs: number;
      type: "mouseMoved" | "mousePressed" | "mouseReleased";
      at: Target | "pointer";
      isHeld?: boolean;
      /** Goes ahead of a press, which is what matters. */
      isHover?: boolean;
      towards?: { to: Target; share: number };
    };

/** How long a click holds the button, and a key that is only struck its key. */
const CLICK_MS = 50;
/** How often the pointer moves during a drag. */
const DRAG_STEP_MS = 50;
/** How long the pointer rests on what it is about to press, so that what hovering does is over by then. */
const HOVER_MS = 250;
/** How long before an input the page is looked at to see whether it stands still by itself. */
const QUIET_MS = 117;
/** How long after an input its effect should be seen. */
const EFFECT_MS = 400;

/** An input of a walkthrough with the frames at which the page is looked at for what the input does. */
export interface TimedStep {
  step: WalkthroughStep;
  origin: "prompt" | "default";
  inputs: TimedInput[];
  /** From the moment the page is sent something until it was sent all. */
  startMs: number;
  endMs: number;
  quietFrame: number;
  beforeFrame: number;
  afterFrame: number;
}

/**
 * The steps in time order as single inputs: a held key is a press and a release, a drag a path between two places.
 *
 * @param lastFrame the clip's last frame; nothing is looked at after it.
 */
export function planSteps(
  steps: readonly WalkthroughStep[],
  origin: TimedStep["origin"],
  lastFrame: number,
): TimedStep[] {
  const sorted = steps.toSorted((a, b) => a.atMs - b.atMs);
  const firstFrame = 2;
  return sorted.map((step, index) => {
    const endOfLast = index === 0 ? 0 : endOf(sorted[index - 1]!);
    const inputs = planStep(step, Math.max(endOfLast + 1, step.atMs - HOVER_MS, atFrame(2)));
    const endMs = endOf(step);
    const next = sorted[index + 1];
    // The pointer goes to what is next before that is pressed, and hovering may change the page too.
    const nextMs =
      next === undefined ? Infinity : Math.max(endMs + 1, "key" in next ? next.atMs : next.atMs - HOVER_MS);
    const beforeFrame = Math.max(firstFrame, frameFrom(step.atMs));
    const afterMs = Math.max(endMs + 34, Math.min(endMs + EFFECT_MS, nextMs));
    return {
      step,
      origin,
      inputs,
      startMs: step.atMs,
      endMs,
      quietFrame: Math.max(firstFrame, Math.min(beforeFrame - 1, frameFrom(step.atMs - QUIET_MS))),
      beforeFrame: Math.min(beforeFrame, lastFrame),
      afterFrame: Math.min(frameFrom(afterMs), lastFrame),
    };
  });
}

function endOf(step: WalkthroughStep): number {
  if ("key" in step) return step.atMs + Math.max(step.holdMs, CLICK_MS);
  if ("click" in step) return step.atMs + CLICK_MS;
  if ("drag" in step) return step.atMs + step.holdMs + 1;
  if ("move" in step) return step.atMs + step.holdMs;
  return step.atMs;
}

function planStep(step: WalkthroughStep, hoverMs: number): TimedInput[] {
  const { atMs } = step;
  const endMs = endOf(step);
  if ("key" in step) {
    return [
      { atMs, type: "keyDown", key: step.key },
      { atMs: endMs, type: "keyUp", key: step.key },
    ];
  }
  if ("type" in step) return [{ atMs, type: "insertText", text: step.type }];
  if ("resize" in step) return [{ atMs, type: "resize", viewport: step.resize }];
  if ("wheel" in step) return [{ atMs, type: "mouseWheel", ...step.wheel }];
  if ("move" in step) return planMove(step);
  if ("click" in step) {
    return [
      { atMs: Math.min(hoverMs, atMs), type: "mouseMoved", at: step.click, isHover: true },
      { atMs, type: "mousePressed", at: step.click },
      { atMs: endMs, type: "mouseReleased", at: step.click },
    ];
  }
  return planDrag(step, Math.min(hoverMs, atMs));
}

/** From where the pointer is: each movement goes its share of what is left of the way. */
function planMove({ atMs, move, holdMs }: Extract<WalkthroughStep, { move: unknown }>): TimedInput[] {
  const moves = Math.max(1, Math.ceil(holdMs / DRAG_STEP_MS));
  return Array.from({ length: moves }, (_, i) => ({
    atMs: Math.round(atMs + (holdMs * (i + 1)) / moves),
    type: "mouseMoved",
    at: "pointer",
    towards: { to: move, share: 1 / (moves - i) },
  }));
}

function planDrag(step: Extract<WalkthroughStep, { drag: unknown }>, hoverMs: number): TimedInput[] {
  const { atMs, holdMs } = step;
  const { from, to } = step.drag;
  const moves = Math.max(1, Math.ceil(holdMs / DRAG_STEP_MS));
  return [
    { atMs: hoverMs, type: "mouseMoved", at: from, isHover: true },
    { atMs, type: "mousePressed", at: from },
    ...Array.from({ length: moves }, (_, i): TimedInput => {
      const share = (i + 1) / moves;
      return {
        atMs: Math.round(atMs + share * holdMs),
        type: "mouseMoved",
        at: from,
        isHeld: true,
        towards: { to, share },
      };
    }),
    { atMs: endOf(step), type: "mouseReleased", at: to },
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
