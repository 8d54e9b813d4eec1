import { readChord, type Target, type Viewport, type WalkthroughStep } from "@tourney/core/contract";
import { type KeyEvent, listKeyEvents } from "../browser/keys.js";

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
  | { atMs: number; type: "key"; event: KeyEvent }
  | { atMs: number; type: "unknownKey"; name: string }
  | { atMs: number; type: "insertText" | "paste"; text: string }
  | { atMs: number; type: "reload" }
  | { atMs: number; type: "resize"; viewport: Viewport }
  | { atMs: number; type: "mouseWheel"; at: Target; byX: number; byY: number }
  | {
      atMs: number;
      type: "mouseMoved" | "mousePressed" | "mouseReleased";
      at: Target | "pointer";
      button?: "left" | "right";
      /** Which click of a double click it is. */
      clickCount?: number;
      isHeld?: boolean;
      /** Goes ahead of a press, which is what matters. */
      isHover?: boolean;
      towards?: { to: Target; share: number };
    }
  | {
      atMs: number;
      type: "touchStart" | "touchMove" | "touchEnd";
      at: Target;
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
  /** What it is meant for in words, where it was planned for something on the page. */
  meantFor: string | null;
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
  meantFor: ReadonlyMap<WalkthroughStep, string> = new Map(),
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
      meantFor: meantFor.get(step) ?? null,
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
  if ("click" in step) return step.atMs + (step.with === "double" ? 3 : 1) * CLICK_MS;
  if ("tap" in step) return step.atMs + CLICK_MS;
  if ("drag" in step || "swipe" in step) return step.atMs + step.holdMs + 1;
  if ("move" in step) return step.atMs + step.holdMs;
  return step.atMs;
}

function planStep(step: WalkthroughStep, hoverMs: number): TimedInput[] {
  const { atMs } = step;
  const endMs = endOf(step);
  if ("key" in step) {
    const chord = readChord(step.key);
    if (chord === null) return [{ atMs, type: "unknownKey", name: step.key }];
    const { down, up } = listKeyEvents(chord);
    return [
      ...down.map((event): TimedInput => ({ atMs, type: "key", event })),
      ...up.map((event): TimedInput => ({ atMs: endMs, type: "key", event })),
    ];
  }
  if ("type" in step) return [{ atMs, type: "insertText", text: step.type }];
  if ("paste" in step) return [{ atMs, type: "paste", text: step.paste }];
  if ("reload" in step) return [{ atMs, type: "reload" }];
  if ("resize" in step) return [{ atMs, type: "resize", viewport: step.resize }];
  if ("wheel" in step) return [{ atMs, type: "mouseWheel", ...step.wheel }];
  if ("move" in step) return planMove(step);
  if ("click" in step) return planClick(step, Math.min(hoverMs, atMs));
  if ("tap" in step) {
    return [
      { atMs, type: "touchStart", at: step.tap },
      { atMs: endMs, type: "touchEnd", at: step.tap },
    ];
  }
  return "swipe" in step ? planSwipe(step) : planDrag(step, Math.min(hoverMs, atMs));
}

function planClick(step: Extract<WalkthroughStep, { click: unknown }>, hoverMs: number): TimedInput[] {
  const { atMs, click: at } = step;
  const button = step.with === "right" ? "right" : "left";
  const times = step.with === "double" ? 2 : 1;
  return [
    { atMs: hoverMs, type: "mouseMoved", at, isHover: true },
    ...Array.from({ length: times }, (_, i): TimedInput[] => {
      const pressedMs = atMs + 2 * i * CLICK_MS;
      return [
        { atMs: pressedMs, type: "mousePressed", at, button, clickCount: i + 1 },
        { atMs: pressedMs + CLICK_MS, type: "mouseReleased", at, button, clickCount: i + 1 },
      ];
    }).flat(),
  ];
}

function planSwipe({ atMs, holdMs, swipe: { from, to } }: Extract<WalkthroughStep, { swipe: unknown }>): TimedInput[] {
  const moves = Math.max(1, Math.ceil(holdMs / DRAG_STEP_MS));
  return [
    { atMs, type: "touchStart", at: from },
    ...Array.from({ length: moves }, (_, i): TimedInput => {
      const share = (i + 1) / moves;
      return { atMs: Math.round(atMs + share * holdMs), type: "touchMove", at: from, towards: { to, share } };
    }),
    { atMs: atMs + holdMs + 1, type: "touchEnd", at: to },
  ];
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
