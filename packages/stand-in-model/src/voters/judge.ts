import { drawNormal, type Random } from "@tourney/core/random";

/** How one sample voter looks at pages. */
export interface Taste {
  /** How much luck there is in each judgement, in the units of `richness`. */
  noise: number;
  /** What the left place is worth to this voter. */
  leftBias: number;
  /** How far apart two pages must be before the voter calls one better, and better by far. */
  margins: readonly [number, number];
}

/** Every voter judges a little differently; all by one seed. */
export function drawTaste(random: Random): Taste {
  return {
    noise: 0.5 + random() * 0.5,
    leftBias: drawNormal(random) * 0.15,
    margins: [0.25 + random() * 0.2, 1 + random() * 0.5],
  };
}

/**
 * A number for how much there is to a page, from its source alone: length, colours, motion, input, structure.
 * A crude stand-in for eyes, which knows nothing of who made the page. Roughly −1 (nothing) … 5 (rich).
 */
export function measureRichness(source: string): number {
  const has = (pattern: RegExp) => (pattern.test(source) ? 1 : 0);
  const colours = new Set(source.match(/#[0-9a-f]{6}\b|rgba?\([^)]*\)/gi)).size;
  return (
    Math.log2(1 + source.length / 700) * 0.7 +
    Math.min(colours, 30) / 15 +
    0.5 * has(/requestAnimationFrame|@keyframes|<animate/) +
    0.4 * has(/addEventListener|onclick|onkeydown|\.on\w+ =/) +
    0.4 * has(/[Gg]radient/) +
    0.3 * has(/<label|aria-|<title>/) -
    1.2 * has(/https?:\/\/(?!www\.w3\.org)/)
  );
}

/** Whether a voter would say that it does not work: there is almost nothing to it. */
export const seemsToWork = (richness: number): boolean => richness > 1.2;

/** A lean −2 … 2 for two pages. */
export function judge(
  leftSource: string,
  rightSource: string,
  taste: Taste,
  random: Random,
): { lean: number; leftWorks: boolean; rightWorks: boolean } {
  const [left, right] = [measureRichness(leftSource), measureRichness(rightSource)];
  const difference = right - left - taste.leftBias + drawNormal(random) * taste.noise;
  const size = Math.abs(difference) < taste.margins[0] ? 0 : Math.abs(difference) < taste.margins[1] ? 1 : 2;
  return { lean: Math.sign(difference) * size || 0, leftWorks: seemsToWork(left), rightWorks: seemsToWork(right) };
}
