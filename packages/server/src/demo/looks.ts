import type { Finding, Recording } from "@tourney/core/contract";
import { contentShare, type Pixels } from "@tourney/core/image";

/** What a sample voter perceives of a page: measures of its recording, each 0 to 1. Nothing tells who made the page. */
export interface Looks {
  /** How much moves, from nothing to a tenth of the window and more. */
  motion: number;
  /** The share of its controls and inputs that answer. Null where it offers none. */
  controls: number | null;
  /** How much of the window it uses: the share of its picture that is not background. */
  window: number;
  /** How much there is to see: edges and colours of its picture. */
  detail: number;
  /** How well its text can be read, by the findings. */
  legible: number;
  /** 1 with no fault, 0 when it crashed, hung, left, or stayed blank. */
  sound: number;
}

const MOST_MOTION = 0.1;
/** Differences of neighbouring pixels below this are a gradient or noise, not an edge. */
const EDGE = 24;
/** The share of edge pixels of a picture full of detail. */
const MOST_EDGES = 0.16;
const MOST_COLOURS = 48;
/** A colour counts when it covers this share of the picture. */
const LEAST_COVER = 0.002;

const clamp = (value: number): number => Math.min(1, Math.max(0, value));
const mean = (values: readonly number[]): number =>
  values.length === 0 ? 0 : values.reduce((sum, value) => sum + value, 0) / values.length;

/** What can be seen in a picture: how much of it is drawn on, and how much detail there is. */
export function measurePicture(picture: Pixels): Pick<Looks, "window" | "detail"> {
  const { data, width, height, channels } = picture;
  const luma = (at: number) => 0.3 * data[at]! + 0.59 * data[at + 1]! + 0.11 * data[at + 2]!;
  const colours = new Map<number, number>();
  let edges = 0;
  for (let y = 0; y + 1 < height; y++) {
    for (let x = 0; x + 1 < width; x++) {
      const at = (y * width + x) * channels;
      const here = luma(at);
      const step = Math.max(Math.abs(here - luma(at + channels)), Math.abs(here - luma(at + width * channels)));
      const colour = ((data[at]! >> 5) << 6) | ((data[at + 1]! >> 5) << 3) | (data[at + 2]! >> 5);
      colours.set(colour, (colours.get(colour) ?? 0) + 1);
      if (step >= EDGE) edges++;
    }
  }
  const pixels = Math.max(1, (width - 1) * (height - 1));
  const seen = [...colours.values()].filter((n) => n / pixels >= LEAST_COVER).length;
  return {
    window: contentShare(picture),
    detail: 0.6 * clamp(edges / pixels / MOST_EDGES) + 0.4 * clamp(seen / MOST_COLOURS),
  };
}

const has = (findings: readonly Finding[], ...rules: Finding["rule"][]) =>
  findings.some(({ rule, followsFrom }) => followsFrom === null && rules.includes(rule));

function shareOfAnswers({ controls, steps }: Recording): number | null {
  const tried = [
    ...controls.filter(({ state }) => state !== "not_tried").map(({ state }) => state === "answers"),
    ...steps
      .filter(({ effect, origin }) => origin === "prompt" && effect !== "not_judged")
      .map(({ effect }) => effect === "changed"),
  ];
  return tried.length === 0 ? null : mean(tried.map(Number));
}

/** What a voter perceives of a recorded page, from the recording and its poster. */
export function perceive(recording: Recording, poster: Pixels): Looks {
  const { findings, outcome, metrics } = recording;
  const errors = findings.filter(({ severity, followsFrom }) => severity === "error" && followsFrom === null).length;
  const isDead = outcome !== "ok" || has(findings, "blank", "crashed", "hung");
  return {
    motion: clamp(mean(metrics.motion) / MOST_MOTION),
    controls: shareOfAnswers(recording),
    ...measurePicture(poster),
    legible: has(findings, "unreadable_text", "overflow") ? 0.3 : 1,
    sound: isDead ? 0 : clamp(1 - errors * 0.3 - (has(findings, "slow_frames") ? 0.2 : 0)),
  };
}
