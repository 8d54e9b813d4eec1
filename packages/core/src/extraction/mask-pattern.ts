import { DIGIT_LETTERS, LOOK_ALIKES } from "./fold.js";
import type { KnownName } from "./leaks.js";

/** Shorter names would hide much that names nobody. */
const SHORTEST_NAME = 3;
/** Between two letters of a spelled-out name. */
const BETWEEN = String.raw`[^\p{L}\p{N}]{0,2}`;

/**
 * The source of a regular expression, for the flags `giu`, that finds names however they are written: in any case, spelled out,
 * with accents, and with look-alikes for letters. Null when there is no name to find.
 */
export function maskPattern(names: readonly KnownName[]): string | null {
  const written = names
    .flatMap(({ name, aliases }) => [name, ...aliases])
    .map((name) => Array.from(name.normalize("NFKD").toLowerCase()).filter((char) => /[\p{L}\p{N}]/u.test(char)))
    .filter((letters) => letters.length >= SHORTEST_NAME);
  const distinct = new Map(written.map((letters) => [letters.join(""), letters]));
  if (distinct.size === 0) return null;
  // The longest first: of two names that begin alike the whole is hidden.
  const longestFirst = [...distinct.values()].toSorted((a, b) => b.length - a.length);
  const spellings = longestFirst.map((letters) => {
    const end = /\p{N}/u.test(letters.at(-1)!) ? String.raw`(?!\p{N})` : "";
    return `${letters.map(classOf).join(BETWEEN)}${end}`;
  });
  return String.raw`(?<![\p{L}\p{N}])(?:${spellings.join("|")})(?!\p{L})`;
}

/** Letters of Latin-1 and Latin Extended with their base letters. */
const ACCENTED = Array.from({ length: 0x250 - 0xc0 }, (_, i) => String.fromCharCode(0xc0 + i)).map(
  (char) => [char, char.normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase()] as const,
);

function classOf(letter: string): string {
  const stands = [
    ...Object.entries(LOOK_ALIKES).flatMap(([char, base]) => (base === letter ? [char] : [])),
    ...Object.entries(DIGIT_LETTERS).flatMap(([char, base]) => (base === letter ? [char] : [])),
    ...(letter === "i" ? ["1", "l", "|"] : []),
    ...ACCENTED.flatMap(([char, base]) => (base === letter ? [char] : [])),
  ];
  const escaped = [letter, ...stands].map((char) => char.replace(/[\\\]^|$-]/g, String.raw`\$&`));
  return escaped.length === 1 ? escaped[0]! : String.raw`[${escaped.join("")}]\p{M}*`;
}
