import type { BasisPart, StandingsBasis } from "../contract/index.js";
import { orderBy } from "../ratings/index.js";

/** Packed, so many ballots are about 150 kB. */
const BALLOTS_A_PART = 32_768;
const DAY_S = 86_400;

type Rest = Omit<StandingsBasis, "ballots">;
const COLUMNS = ["prompt", "voter", "left", "right", "lean", "at", "marks"] as const;

/**
 * Splits the ballots of a basis in the order in which they were cast: a new one changes the last part alone.
 *
 * @param size ballots of each part but the last
 */
export function splitBasis(
  { ballots, ...rest }: StandingsBasis,
  size = BALLOTS_A_PART,
): { rest: Rest; parts: BasisPart[] } {
  // Seconds since 1970 are too large to be sorted by counting; days and seconds of a day are not.
  const order = orderBy([ballots.at.map((at) => Math.floor(at / DAY_S)), ballots.at.map((at) => at % DAY_S)]);
  const parts: BasisPart[] = [];
  for (let from = 0; from < order.length; from += size) {
    const places = order.subarray(from, from + size);
    parts.push(toColumns((name) => Array.from(places, (place) => ballots[name][place]!)));
  }
  return { rest, parts };
}

/** Puts parts together again. */
export const joinBasis = (rest: Rest, parts: readonly BasisPart[]): StandingsBasis => ({
  ...rest,
  ballots: toColumns((name) => parts.flatMap((part) => part[name])),
});

const toColumns = (make: (name: (typeof COLUMNS)[number]) => number[]): BasisPart =>
  Object.fromEntries(COLUMNS.map((name) => [name, make(name)])) as BasisPart;
