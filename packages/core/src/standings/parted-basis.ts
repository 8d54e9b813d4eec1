import type { BasisPart, StandingsBasis } from "../contract/index.js";

/** Packed, so many ballots are about 150 kB. */
const BALLOTS_A_PART = 32_768;

type Rest = Omit<StandingsBasis, "ballots">;
/** A basis whose ballots are in whatever columns: in lists, as they come over the wire, two million ballots would take a hundred megabytes. */
export type BasisInColumns = Rest & { ballots: Record<keyof BasisPart, ArrayLike<number>> };
const COLUMNS = ["prompt", "voter", "left", "right", "lean", "at", "marks"] as const;

/**
 * Splits the ballots of a basis, which stand in the order in which they were cast: a new one changes the last part alone. One part is there at a time.
 *
 * @param size ballots of each part but the last
 */
export function splitBasis(
  { ballots, ...rest }: BasisInColumns,
  size = BALLOTS_A_PART,
): { rest: Rest; parts: Generator<BasisPart> } {
  return { rest, parts: listParts(ballots, size) };
}

function* listParts(ballots: BasisInColumns["ballots"], size: number): Generator<BasisPart> {
  for (let from = 0; from < ballots.at.length; from += size) {
    const length = Math.min(size, ballots.at.length - from);
    yield toColumns((name) => Array.from({ length }, (_, place) => ballots[name][from + place]!));
  }
}

/** Puts parts together again. */
export const joinBasis = (rest: Rest, parts: readonly BasisPart[]): StandingsBasis => ({
  ...rest,
  ballots: toColumns((name) => parts.flatMap((part) => part[name])),
});

const toColumns = (make: (name: (typeof COLUMNS)[number]) => number[]): BasisPart =>
  Object.fromEntries(COLUMNS.map((name) => [name, make(name)])) as BasisPart;
