import type { BasisPart, StandingsBasis } from "../contract/index.js";

/** Packed, so many ballots are about 150 kB. */
const BALLOTS_A_PART = 32_768;

type Rest = Omit<StandingsBasis, "ballots">;
/** A basis whose ballots are in whatever columns: in lists, as they come over the wire, two million ballots would take a hundred megabytes. */
export type BasisInColumns = Rest & { ballots: Record<keyof BasisPart, ArrayLike<number>> };
const COLUMNS = ["prompt", "voter", "left", "right", "lean", "at", "marks"] as const;

/** Some ballots of a basis. */
interface Part {
  /** All its columns, one after the other: what tells it from other parts. */
  numbers: Int32Array;
  /** As it goes over the wire. */
  list: () => BasisPart;
}

/**
 * Splits the ballots of a basis, which stand in the order in which they were cast: a new one changes the last part alone. One part is there at a time.
 *
 * @param size ballots of each part but the last
 */
export function splitBasis(
  { ballots, ...rest }: BasisInColumns,
  size = BALLOTS_A_PART,
): { rest: Rest; parts: Generator<Part> } {
  return { rest, parts: listParts(ballots, size) };
}

function* listParts(ballots: BasisInColumns["ballots"], size: number): Generator<Part> {
  for (let from = 0; from < ballots.at.length; from += size) {
    const length = Math.min(size, ballots.at.length - from);
    const numbers = new Int32Array(COLUMNS.length * length);
    for (const [place, name] of COLUMNS.entries())
      copyInto(numbers, place * length, { column: ballots[name], from, length });
    const listColumn = (place: number) => Array.from(numbers.subarray(place * length, (place + 1) * length));
    yield { numbers, list: () => toColumns((name) => listColumn(COLUMNS.indexOf(name))) };
  }
}

function copyInto(
  numbers: Int32Array,
  to: number,
  { column, from, length }: { column: ArrayLike<number>; from: number; length: number },
): void {
  for (let place = 0; place < length; place++) numbers[to + place] = column[from + place]!;
}

/** Puts parts together again. */
export const joinBasis = (rest: Rest, parts: readonly BasisPart[]): StandingsBasis => ({
  ...rest,
  ballots: toColumns((name) => parts.flatMap((part) => part[name])),
});

const toColumns = (make: (name: (typeof COLUMNS)[number]) => number[]): BasisPart =>
  Object.fromEntries(COLUMNS.map((name) => [name, make(name)])) as BasisPart;
