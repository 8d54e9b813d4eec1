import type { Viewport, WalkthroughStep } from "@tourney/core/contract";
import { type Box, describeAccessible } from "./accessible.js";
import type { PageControls } from "./page-controls.js";

/** When a page may be taken to have laid itself out. */
export const DISCOVERY_MS = 800;
const FIRST_INPUT_MS = 1200;
/** Between two inputs, so that the effect of each is seen by itself. */
const SPACING_MS = 650;
/** A key of a game is held so long that something goes on. */
const KEY_HOLD_MS = 300;
const DRAG_MS = 300;
/** The keys that games are played by, where the page's own text names none. */
const USUAL_KEYS = ["ArrowRight", "ArrowLeft", "ArrowUp", "ArrowDown", "Space"];
const MOST_KEYS = 8;
const TEXT_ROLES = new Set(["textbox", "searchbox", "spinbutton"]);

/** An input to be tried, with what it is meant for in words. */
export interface TriedStep {
  step: WalkthroughStep;
  control: string;
}

interface PlanOptions {
  viewport: Viewport;
  seconds: number;
  /** Whether keys are tried before what is on the page, as on a game. */
  keysFirst: boolean;
  /** Those that the page's own text names. */
  keys: readonly string[];
}

/** Tries one thing: its inputs from a moment on, and when the next may begin. */
interface Attempt {
  control: string;
  plan: (atMs: number) => WalkthroughStep[];
  lengthMs: number;
}

/**
 * The inputs to try on a page that nobody wrote any for: each of its controls by its kind, its keys, and the places that listen to a
 * pointer, as far as the clip lasts. Links to other pages are left alone.
 *
 * @returns the inputs, and everything that could be tried in words, tried or not.
 */
export function planTried(
  { named, surfaces, hasKeys }: PageControls,
  { viewport, seconds, keysFirst, keys }: PlanOptions,
): { steps: TriedStep[]; controls: string[] } {
  const onPage = named
    // The options of a list that is shut are chosen by the list.
    .filter(({ leadsAway, role, box }) => !leadsAway && !(role === "option" && box === null))
    .map((control) => ({
      ...attemptControl(control, control.box),
      isOpen: control.box !== null && isInSight(control.box, viewport),
    }));
  const pointed = surfaces
    .filter(({ box }) => isInSight(box, viewport))
    .flatMap(attemptSurface)
    .map((attempt) => ({ ...attempt, isOpen: true }));
  // Of all places, that which is pressed comes first, then that which follows the pointer.
  const [press, follow] = (["press", "follow"] as const).map((how) => pointed.find((attempt) => attempt.how === how));
  const firstPointed = [press ?? pointed[0], follow].filter((attempt) => attempt !== undefined);
  const struck = (hasKeys ? (keys.length > 0 ? keys : USUAL_KEYS).slice(0, MOST_KEYS) : []).map((key) => ({
    ...attemptKey(key),
    isOpen: true,
  }));
  // What begins a game is a button or a click as a rule; some are steered by the pointer alone.
  const attempts = keysFirst
    ? [...new Set([...onPage.slice(0, 1), ...firstPointed, ...struck, ...onPage, ...pointed])]
    : [...onPage, ...pointed, ...struck];
  const steps: TriedStep[] = [];
  let atMs = FIRST_INPUT_MS;
  for (const { control, plan, lengthMs, isOpen } of attempts) {
    if (!isOpen || atMs + lengthMs > seconds * 1000) continue;
    steps.push(...plan(atMs).map((step) => ({ step, control })));
    atMs += lengthMs;
  }
  return { steps, controls: [...new Set(attempts.map(({ control }) => control))] };
}

function isInSight(box: Box, viewport: Viewport): boolean {
  const { x, y } = middleOf(box);
  return (
    box.right - box.left >= 4 &&
    box.bottom - box.top >= 4 &&
    x > 0 &&
    y > 0 &&
    x < viewport.width &&
    y < viewport.height
  );
}

const middleOf = ({ left, top, right, bottom }: Box) => ({
  x: Math.round((left + right) / 2),
  y: Math.round((top + bottom) / 2),
});

/** A place across a box, as shares of its sides. */
const placeIn = ({ left, top, right, bottom }: Box, across: number, down: number) => ({
  x: Math.round(left + (right - left) * across),
  y: Math.round(top + (bottom - top) * down),
});

const attemptKey = (key: string): Attempt => ({
  control: `key ${key}`,
  plan: (atMs) => [{ atMs, key, holdMs: KEY_HOLD_MS }],
  lengthMs: KEY_HOLD_MS + SPACING_MS,
});

function attemptControl({ role, name }: { role: string; name: string }, box: Box | null): Attempt {
  const control = describeAccessible({ role, name });
  const middle = box === null ? { x: 0, y: 0 } : middleOf(box);
  const at = name === "" ? middle : { role, name };
  if (TEXT_ROLES.has(role)) {
    const text = role === "spinbutton" ? "2" : "a";
    return {
      control,
      plan: (atMs) => [
        { atMs, click: at },
        { atMs: atMs + SPACING_MS, type: text },
      ],
      lengthMs: 2 * SPACING_MS,
    };
  }
  // A list that opens is drawn in a window of its own, which is kept shut; the arrow keys choose from it as well.
  if (role === "combobox") {
    return {
      control,
      plan: (atMs) => [
        { atMs, click: at },
        { atMs: atMs + SPACING_MS, key: "ArrowDown", holdMs: 0 },
      ],
      lengthMs: 2 * SPACING_MS,
    };
  }
  if (role === "slider" && box !== null) {
    const drag = { from: placeIn(box, 0.3, 0.5), to: placeIn(box, 0.75, 0.5) };
    return { control, plan: (atMs) => [{ atMs, drag, holdMs: DRAG_MS }], lengthMs: DRAG_MS + SPACING_MS };
  }
  return { control, plan: (atMs) => [{ atMs, click: at }], lengthMs: SPACING_MS };
}

function attemptSurface({
  box,
  isPressed,
  isDragged,
  isFollowed,
}: PageControls["surfaces"][number]): (Attempt & { how: "press" | "follow" | "drag" })[] {
  const { x, y } = middleOf(box);
  const place = `at ${x}, ${y}`;
  const drag = { from: { x, y }, to: placeIn(box, 0.8, 0.6) };
  return [
    ...(isPressed
      ? [
          {
            how: "press" as const,
            control: `a click ${place}`,
            plan: (atMs: number): WalkthroughStep[] => [{ atMs, click: { x, y } }],
            lengthMs: SPACING_MS,
          },
        ]
      : []),
    ...(isFollowed
      ? [
          {
            how: "follow" as const,
            control: `the pointer over ${x}, ${y}`,
            plan: (atMs: number): WalkthroughStep[] => [{ atMs, move: placeIn(box, 0.7, 0.35), holdMs: DRAG_MS }],
            lengthMs: DRAG_MS + SPACING_MS,
          },
        ]
      : []),
    ...(isDragged
      ? [
          {
            how: "drag" as const,
            control: `a drag ${place}`,
            plan: (atMs: number): WalkthroughStep[] => [{ atMs, drag, holdMs: DRAG_MS }],
            lengthMs: DRAG_MS + SPACING_MS,
          },
        ]
      : []),
  ];
}
