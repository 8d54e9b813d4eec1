import type { BasisPart, StandingsBasis } from "../contract/index.js";

/** Packed, so many ballots are about 150 kB. */
const BALLOTS_A_PART = 32_768;

type Rest = Omit<StandingsBasis, "ballots">;
const COLUMNS = ["prompt", "voter", "left", "right", "lean", "at", "marks"] as const;

/**
 * Splits the ballots of a basis, which stand in the order in which they were cast: a new one changes the last part alone.
 *
 * @param size ballots of each part but the last
 */
export function splitBasis(
  { ballots, ...rest }: StandingsBasis,
  size = BALLOTS_A_PART,
): { rest: Rest; parts: BasisPart[] } {
  const parts: BasisPart[] = [];
  for (let from = 0; from < ballots.at.length; from += size)
    parts.push(toColumns((name) => ballots[name].slice(from, from + size)));
  return { rest, parts };
}

/** Puts parts together again. */
export const joinBasis = (rest: Rest, parts: readonly BasisPart[]): StandingsBasis => ({
  ...rest,
  ballots: toColumns((name) => parts.flatMap((part) => part[name])),
});

const toColumns = (make: (name: (typeof COLUMNS)[number]) => number[]): BasisPart =>
  Object.fromEntries(COLUMNS.map((name) => [name, make(name)])) as BasisPart;
