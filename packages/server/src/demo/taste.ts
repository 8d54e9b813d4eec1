import { drawNormal, type Random } from "@tourney/core/random";
import type { Kind, Reason } from "@tourney/core/contract";
import type { Looks } from "./looks.js";

/** How a sample voter votes. */
export type Manner = "attentive" | "careless" | "always left";

/** What one sample voter likes, and how surely they judge. */
export interface Taste {
  manner: Manner;
  /** What each measure is worth to this voter. */
  worth: Record<keyof Looks, number>;
  /** Standard deviation of the luck in one judgement, on the scale of `appeal`. */
  noise: number;
  /** What the left place is worth. */
  leftBias: number;
  /** How far apart two pages must be before one is called better, and better by far. */
  margins: readonly [number, number];
  /** Seconds that they take for a bout, about. */
  seconds: number;
}

/** Two voters of the demo do not look: what the lead is to find out about a panel can be found out here. */
const MANNERS: Readonly<Record<number, Manner>> = { 9: "careless", 23: "always left" };

/** The taste of the sample voter of a number. People differ in what they look at first: motion, controls, or the picture. */
export function drawTaste(number: number, random: Random): Taste {
  const draw = (average: number, spread: number) => Math.max(0, average + drawNormal(random) * spread);
  const manner = MANNERS[number] ?? "attentive";
  // Half of them like it lively and half like it calm: what splits them makes a prompt disputed.
  const isLively = random() < 0.5;
  return {
    manner,
    worth: {
      motion: isLively ? draw(1.8, 0.3) : draw(0.2, 0.2),
      controls: draw(1, 0.3),
      window: draw(4, 0.6),
      detail: isLively ? draw(2.8, 0.4) : draw(2, 0.4),
      legible: isLively ? draw(0.5, 0.2) : draw(1.2, 0.3),
      sound: draw(1.3, 0.3),
    },
    noise: draw(0.45, 0.1),
    leftBias: drawNormal(random) * 0.06,
    margins: [draw(0.3, 0.06), draw(1.3, 0.2)],
    seconds: manner === "attentive" ? draw(14, 5) + 3 : 1.2,
  };
}

/** What is looked at differs by kind: a drawing need not move, and nobody presses an animation. */
const WEIGHTS: Readonly<Record<Kind, Partial<Record<keyof Looks, number>>>> = {
  game: { motion: 0.6 },
  animation: { controls: 0 },
  drawing: { controls: 0, motion: 0 },
  app: { motion: 0, window: 0.5 },
};

/** What a page is worth to a voter, without luck. */
export function appeal(looks: Looks, kind: Kind, { worth }: Taste): number {
  const weight = (name: keyof Looks) => worth[name] * (WEIGHTS[kind][name] ?? 1);
  return (Object.keys(worth) as (keyof Looks)[]).reduce((sum, name) => sum + weight(name) * (looks[name] ?? 0.3), 0);
}

/** A sample voter's answer to a bout. */
export interface Judgement {
  lean: -2 | -1 | 0 | 1 | 2;
  leftWorks: boolean;
  rightWorks: boolean;
  reasons: Reason[];
  dwellMs: number;
}

const REASON_OF: Readonly<Record<keyof Looks, Reason>> = {
  motion: "motion",
  controls: "controls",
  window: "looks",
  detail: "looks",
  legible: "legible",
  sound: "bugs",
};

/** What of two pages spoke for the better one: the reasons a person would tick. */
function listReasons(better: Looks, worse: Looks, random: Random): Reason[] {
  const differing = (Object.keys(REASON_OF) as (keyof Looks)[]).filter(
    (name) => (better[name] ?? 0) - (worse[name] ?? 0) > 0.15,
  );
  return [...new Set(differing.map((name) => REASON_OF[name]))].filter(() => random() < 0.5);
}

const LEANS = [-2, -1, 0, 1, 2] as const;

/** Judges two pages by what is perceived of them. */
export function judge(
  { left, right, kind }: { left: Looks; right: Looks; kind: Kind },
  taste: Taste,
  random: Random,
): Judgement {
  const dwellMs = Math.round(taste.seconds * 1000 * (0.6 + random() * 0.9));
  if (taste.manner !== "attentive") {
    const lean = taste.manner === "always left" ? -2 : LEANS[Math.floor(random() * LEANS.length)]!;
    return { lean, leftWorks: true, rightWorks: true, reasons: [], dwellMs };
  }
  const difference =
    appeal(right, kind, taste) - appeal(left, kind, taste) - taste.leftBias + drawNormal(random) * taste.noise;
  const [some, far] = taste.margins;
  const size = Math.abs(difference) < some ? 0 : Math.abs(difference) < far ? 1 : 2;
  const lean = ((size === 0 ? 0 : Math.sign(difference)) * size) as Judgement["lean"];
  return {
    lean: lean === 0 ? 0 : lean,
    leftWorks: left.sound > 0,
    rightWorks: right.sound > 0,
    reasons: lean === 0 ? [] : lean > 0 ? listReasons(right, left, random) : listReasons(left, right, random),
    dwellMs,
  };
}
