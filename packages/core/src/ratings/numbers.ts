/** A column of whole numbers from 0 on, of a byte or two each where they are small enough: of the voter, prompt, sides and outcome of a ballot that is six bytes in place of twenty. */
export type Numbers = Uint8Array | Uint16Array | Int32Array;

/** Room for so many whole numbers from 0 to `most` − 1. */
export function makeNumbers(length: number, most: number): Numbers {
  if (most <= 2 ** 8) return new Uint8Array(length);
  return most <= 2 ** 16 ? new Uint16Array(length) : new Int32Array(length);
}

/** The numbers at some places of a column, as narrow as they are there. */
export function pickNumbers<Column extends Numbers>(column: Column, places: ArrayLike<number>): Column;
export function pickNumbers(column: ArrayLike<number>, places: ArrayLike<number>): Numbers;
export function pickNumbers(column: ArrayLike<number>, places: ArrayLike<number>): Numbers {
  const picked = makeNumbers(places.length, mostOf(column));
  // A plain loop, since every column of all ballots goes through it.
  for (let at = 0; at < picked.length; at++) picked[at] = column[places[at]!]!;
  return picked;
}

function mostOf(column: ArrayLike<number>): number {
  if (column instanceof Uint8Array) return 2 ** 8;
  return column instanceof Uint16Array ? 2 ** 16 : Infinity;
}
