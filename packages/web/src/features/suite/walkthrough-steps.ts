import { type Target, WalkthroughStep } from "@tourney/core/contract";

export const describeTarget = (target: Target): string =>
  "x" in target ? `${target.x}, ${target.y}` : `${target.role ?? ""} “${target.name}”`.trim();

/** How long an input lasts, in ms; 0 for one that is over at once. */
export const holdOf = (step: WalkthroughStep): number => ("holdMs" in step ? step.holdMs : 0);

/** An input in words, without its time. */
export function describeStep(step: WalkthroughStep): string {
  if ("key" in step) return `${step.key}${step.holdMs > 0 ? ` held ${step.holdMs / 1000} s` : ""}`;
  if ("type" in step) return `type “${step.type}”`;
  if ("paste" in step) return `paste “${step.paste}”`;
  if ("reload" in step) return "load again";
  if ("click" in step) return `${step.with ? `${step.with} ` : ""}click ${describeTarget(step.click)}`;
  if ("tap" in step) return `tap ${describeTarget(step.tap)}`;
  if ("swipe" in step) return `swipe ${describeTarget(step.swipe.from)} to ${describeTarget(step.swipe.to)}`;
  if ("move" in step) return `move to ${describeTarget(step.move)}`;
  if ("resize" in step) return `window of ${step.resize.width} × ${step.resize.height}`;
  if ("wheel" in step) {
    const { at, byX, byY } = step.wheel;
    return `wheel by ${byX === 0 ? byY : `${byX}, ${byY}`} at ${describeTarget(at)}`;
  }
  return `drag ${describeTarget(step.drag.from)} to ${describeTarget(step.drag.to)}`;
}

/** A place of an input on the page, with where it stands in the step. */
export interface StepPoint {
  part: "click" | "move" | "tap" | "at" | "from" | "to";
  x: number;
  y: number;
}

/** The places by position that an input names. */
export function listPoints(step: WalkthroughStep): StepPoint[] {
  const at = (part: StepPoint["part"], target: Target) => ("x" in target ? [{ part, x: target.x, y: target.y }] : []);
  if ("click" in step) return at("click", step.click);
  if ("move" in step) return at("move", step.move);
  if ("tap" in step) return at("tap", step.tap);
  if ("wheel" in step) return at("at", step.wheel.at);
  if ("drag" in step) return [...at("from", step.drag.from), ...at("to", step.drag.to)];
  if ("swipe" in step) return [...at("from", step.swipe.from), ...at("to", step.swipe.to)];
  return [];
}

/** The input with one of its places set. An input that has no such place is returned as it is. */
export function setTarget(step: WalkthroughStep, part: StepPoint["part"], target: Target): WalkthroughStep {
  if ("click" in step && part === "click") return { ...step, click: target };
  if ("move" in step && part === "move") return { ...step, move: target };
  if ("wheel" in step && part === "at") return { ...step, wheel: { ...step.wheel, at: target } };
  if ("tap" in step && part === "tap") return { ...step, tap: target };
  if ("swipe" in step && (part === "from" || part === "to"))
    return { ...step, swipe: { ...step.swipe, [part]: target } };
  if ("drag" in step && (part === "from" || part === "to")) return { ...step, drag: { ...step.drag, [part]: target } };
  return step;
}

/** A click with another button: `double`, `right`, or anything else for the left one. */
export function setButton(step: Extract<WalkthroughStep, { click: unknown }>, button: string): WalkthroughStep {
  const { atMs, click } = step;
  return button === "double" || button === "right" ? { atMs, click, with: button } : { atMs, click };
}

/** Times are set in steps of this. */
export const SNAP_MS = 50;

/** The input at another time, within the recording. */
export function moveStep(step: WalkthroughStep, atMs: number, seconds: number): WalkthroughStep {
  return { ...step, atMs: snap(Math.min(seconds * 1000, Math.max(0, atMs))) };
}

/** The input held as long; what cannot be held is returned as it is. A drag takes some time. */
export function holdStep(step: WalkthroughStep, holdMs: number): WalkthroughStep {
  if (!("holdMs" in step)) return step;
  return { ...step, holdMs: snap(Math.min(30_000, Math.max("drag" in step || "swipe" in step ? SNAP_MS : 0, holdMs))) };
}

const snap = (ms: number) => Math.round(ms / SNAP_MS) * SNAP_MS;

export type StepKind =
  "key" | "click" | "drag" | "type" | "paste" | "move" | "wheel" | "tap" | "swipe" | "reload" | "resize";

/** A new input after those that are there: half a second after the last, or at the end. */
export function newStep(
  kind: StepKind,
  steps: readonly WalkthroughStep[],
  { seconds, viewport: { width, height } }: { seconds: number; viewport: { width: number; height: number } },
): WalkthroughStep {
  const last = Math.max(0, ...steps.map((step) => step.atMs + holdOf(step)));
  const atMs = snap(Math.min(seconds * 1000, last + 500));
  const middle = { x: Math.round(width / 2), y: Math.round(height / 2) };
  if (kind === "key") return { atMs, key: "ArrowRight", holdMs: 0 };
  if (kind === "type") return { atMs, type: "text" };
  if (kind === "paste") return { atMs, paste: "text" };
  if (kind === "reload") return { atMs, reload: true };
  if (kind === "tap") return { atMs, tap: middle };
  if (kind === "click") return { atMs, click: middle };
  if (kind === "move") return { atMs, move: middle, holdMs: 300 };
  if (kind === "wheel") return { atMs, wheel: { at: middle, byX: 0, byY: 300 } };
  if (kind === "resize") return { atMs, resize: { width: Math.max(200, Math.round(width / 2)), height } };
  const path = { from: middle, to: { x: Math.round(width * 0.75), y: middle.y } };
  return kind === "swipe" ? { atMs, swipe: path, holdMs: 300 } : { atMs, drag: path, holdMs: 400 };
}

/** As a file says it: a key that is only pressed says nothing of how long. */
export function toFileStep(step: WalkthroughStep): unknown {
  if ("key" in step && step.holdMs === 0) return { atMs: step.atMs, key: step.key };
  return step;
}

/** Inputs of a file, those that cannot be read as null. */
export const readSteps = (values: readonly unknown[]): (WalkthroughStep | null)[] =>
  values.map((value) => {
    const parsed = WalkthroughStep.safeParse(value);
    return parsed.success ? parsed.data : null;
  });
