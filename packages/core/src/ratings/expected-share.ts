import type { RatingFit } from "./fit-ratings.js";

const logistic = (x: number) => 1 / (1 + Math.exp(-x));

/**
 * The share of ballots that a fit expects to lean to the first of two entrants, an even one counting half, when each stands on the left equally often:
 * with thresholds ±a_1, P(left) + P(even)/2 = (F(eta − a_1) + F(eta + a_1)) / 2.
 *
 * @returns 0–1; null when one has no rating, or when the two never met, not even through others.
 */
export function expectShare(
  { theta, delta, cuts, component }: RatingFit,
  first: number,
  second: number,
): number | null {
  const [own, other] = [theta[first] ?? null, theta[second] ?? null];
  if (own === null || other === null || component[first] !== component[second]) return null;
  const middle = cuts[0] ?? 0;
  const favour = delta ?? 0;
  const [onLeft, onRight] = [own - other + favour, own - other - favour];
  return (
    (logistic(onLeft - middle) + logistic(onLeft + middle) + logistic(onRight - middle) + logistic(onRight + middle)) /
    4
  );
}

/** How often two met, and the share of their ballots that leans to the one of the row. */
export interface Meeting {
  ballots: number;
  share: number | null;
}

/** Three entrants of which each beat the next, and the last the first. */
export type Circle = [number, number, number];

/** Fewer ballots than this on a pair tell nothing of who beat whom. */
const FEWEST_BALLOTS = 10;
/** A majority that chance alone would give once in twenty times (one-sided, normal). */
const Z = 1.645;

/**
 * Circles among the majorities, which no list of ratings can show: the first beat the second, the second the third, the third the first, each by more than one in twenty times by chance. Among
 * many entrants there are many triples, so chance alone makes a few circles.
 *
 * @param meetings cell [i][j]: how i did against j.
 * @returns each circle once, beginning with its lowest number.
 */
export function findCircles(meetings: readonly (readonly Meeting[])[]): Circle[] {
  const size = meetings.length;
  const beats = new Uint8Array(size * size);
  meetings.forEach((row, i) =>
    row.forEach(({ ballots, share }, j) => {
      if (share === null || ballots < FEWEST_BALLOTS) return;
      // An even ballot counts half and spreads less than a deciding one, so this errs towards saying nothing.
      beats[i * size + j] = Number(share - 0.5 > (Z * 0.5) / Math.sqrt(ballots));
    }),
  );
  const closes = (i: number, j: number, k: number) =>
    beats[i * size + j] === 1 && beats[j * size + k] === 1 && beats[k * size + i] === 1;
  const circles: Circle[] = [];
  const closeOver = (i: number, j: number): void => {
    for (let k = j + 1; k < size; k++) {
      if (closes(i, j, k)) circles.push([i, j, k]);
      else if (closes(i, k, j)) circles.push([i, k, j]);
    }
  };
  // Written out: of a hundred entrants there are 161,700 triples.
  for (let i = 0; i < size; i++) for (let j = i + 1; j < size; j++) closeOver(i, j);
  return circles;
}
