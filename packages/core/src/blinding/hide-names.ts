import { DIGIT_LETTERS, LOOK_ALIKES } from "../extraction/fold.js";
import type { KnownName } from "../extraction/leaks.js";
import type { HiddenNames } from "./find-names.js";

/** What stands for a name: as long whatever the name is. */
export const DOTS = "•••";

/** Shorter names would hide much that names nobody. */
const SHORTEST_NAME = 3;
const BASE = 0x01000193;

/** Letters that are taken for one another read as one of them. */
const SAME: Readonly<Record<string, string>> = { i: "l" };
/** What each character reads as: look-alikes of other scripts, digits and symbols as the letters that they stand for. */
export const READ_AS: Readonly<Record<string, string>> = Object.fromEntries(
  [...Object.entries(LOOK_ALIKES), ...Object.entries(DIGIT_LETTERS), ...Object.entries(SAME)].map(([char, base]) => [
    char,
    SAME[base] ?? base,
  ]),
);

/** The letters of a name as they are compared, and which of them are digits. */
function readName(name: string): { letters: string; digits: number } {
  const chars = Array.from(name.normalize("NFKD").toLowerCase()).filter((char) => /[\p{L}\p{N}]/u.test(char));
  const read = chars.map((char) => READ_AS[char] ?? char).filter((char) => /^[a-z0-9]$/.test(char));
  let digits = 0;
  for (const [index, char] of chars.slice(0, 31).entries()) if (/\d/.test(char)) digits |= 1 << index;
  return { letters: read.join(""), digits };
}

function quickHash(letters: string): number {
  let sum = 0;
  for (let i = 0; i < letters.length; i++) sum = Math.imul(sum, BASE) + letters.charCodeAt(i);
  return sum & 0xfffff;
}

/**
 * Names as hashes, for finding them where they must not be read.
 *
 * @param hash SHA-256 of a text as hexadecimal digits
 * @returns null when there is no name to find
 */
export function hashNames(
  names: readonly KnownName[],
  { salt, hash }: { salt: string; hash: (text: string) => string },
): HiddenNames | null {
  const byLength: Record<number, [number, string, number][]> = {};
  const known = new Set<string>();
  for (const written of names.flatMap(({ name, aliases }) => [name, ...aliases])) {
    const { letters, digits } = readName(written);
    if (letters.length < SHORTEST_NAME || known.has(`${letters} ${digits}`)) continue;
    known.add(`${letters} ${digits}`);
    (byLength[letters.length] ??= []).push([quickHash(letters), hash(salt + letters).slice(0, 16), digits]);
  }
  if (known.size === 0) return null;
  // In an order that says nothing of the list.
  for (const hashes of Object.values(byLength)) hashes.sort(([, a], [, b]) => (a < b ? -1 : 1));
  return { salt, lookAlikes: READ_AS, byLength };
}
