/** Names to look for, as hashes: what is in a page's source cannot be read, only tried. */
export interface HiddenNames {
  /** New for each page: equal names have other hashes in another one. */
  salt: string;
  /** Letters that are read as another one, as in `а` (Cyrillic) for `a`. */
  lookAlikes: Readonly<Record<string, string>>;
  /** By how many letters names have: a first, quick hash, then SHA-256 of the salt and the letters, cut to 16 hexadecimal digits, with which of the letters are digits. */
  byLength: Readonly<Record<number, readonly (readonly [quick: number, slow: string, digits: number])[]>>;
}

/** Finds names in a text: start and end of each, in order, none over another. */
export type FindNames = (text: string) => [start: number, end: number][];

/**
 * Finds names that are known by their hashes alone, however they are written: in any case, spelled out, with accents, and with look-alikes for
 * letters. Linear in the text's length (rolling hash: Karp and Rabin, 1987), times the number of lengths that names have.
 *
 * Its source is put into pages as text: it may use nothing from outside itself.
 */
export function createNameFinder({ salt, lookAlikes, byLength }: HiddenNames): FindNames {
  const lengths = Object.keys(byLength)
    .map(Number)
    .sort((a, b) => b - a);
  const shortest = lengths.at(-1) ?? Infinity;
  const quickOf = new Map(lengths.map((length) => [length, new Set(byLength[length]!.map(([quick]) => quick))]));
  const BASE = 0x01000193;
  const MOST_BETWEEN = 2;
  const isLetter = (char: string) => /^\p{L}/u.test(char);
  const isLetterOrDigit = (char: string) => /^[\p{L}\p{N}]/u.test(char);
  const isMark = (char: string) => /^\p{M}/u.test(char);
  const power = (exponent: number): number => {
    let result = 1;
    for (let i = 0; i < exponent; i++) result = Math.imul(result, BASE);
    return result;
  };

  const powers = new Map(lengths.map((length) => [length, power(length)]));

  /** SHA-256 (FIPS 180-4), of ASCII: a page has no other that answers at once. */
  const primes: number[] = [];
  for (let n = 2; primes.length < 64; n++) if (primes.every((prime) => n % prime !== 0)) primes.push(n);
  const part = (root: number) => ((root - Math.floor(root)) * 2 ** 32) | 0;
  const K = primes.map((prime) => part(Math.cbrt(prime)));
  const rotate = (word: number, by: number) => (word >>> by) | (word << (32 - by));
  const digest = (text: string): string => {
    const words = new Int32Array((((text.length + 8) >> 6) + 1) * 16);
    for (let i = 0; i < text.length; i++) words[i >> 2]! |= text.charCodeAt(i) << (24 - (i % 4) * 8);
    words[text.length >> 2]! |= 0x80 << (24 - (text.length % 4) * 8);
    words[words.length - 1] = text.length * 8;
    const state = primes.slice(0, 8).map((prime) => part(Math.sqrt(prime)));
    const w = new Int32Array(64);
    for (let block = 0; block < words.length; block += 16) {
      let [a, b, c, d, e, f, g, h] = state as [number, number, number, number, number, number, number, number];
      for (let i = 0; i < 64; i++) {
        if (i < 16) w[i] = words[block + i]!;
        else {
          const [x, y] = [w[i - 15]!, w[i - 2]!];
          const s0 = rotate(x, 7) ^ rotate(x, 18) ^ (x >>> 3);
          const s1 = rotate(y, 17) ^ rotate(y, 19) ^ (y >>> 10);
          w[i] = w[i - 16]! + s0 + w[i - 7]! + s1;
        }
        const t1 = h + (rotate(e, 6) ^ rotate(e, 11) ^ rotate(e, 25)) + ((e & f) ^ (~e & g)) + K[i]! + w[i]!;
        const t2 = (rotate(a, 2) ^ rotate(a, 13) ^ rotate(a, 22)) + ((a & b) ^ (a & c) ^ (b & c));
        [a, b, c, d, e, f, g, h] = [(t1 + t2) | 0, a, b, c, (d + t1) | 0, e, f, g];
      }
      for (const [i, word] of [a, b, c, d, e, f, g, h].entries()) state[i] = (state[i]! + word) | 0;
    }
    return state
      .slice(0, 2)
      .map((word) => (word >>> 0).toString(16).padStart(8, "0"))
      .join("");
  };

  /** What an ASCII character reads as; symbols are letters in one reading, and part words in the other. */
  const readAscii = [false, true].map((withSymbols) =>
    Array.from({ length: 128 }, (_, code) => {
      const char = String.fromCharCode(code).toLowerCase();
      if (/[a-z0-9]/.test(char)) return lookAlikes[char] ?? char;
      return withSymbols ? (lookAlikes[char] ?? "") : "";
    }),
  );
  /** What any other character reads as: none for what stands between letters, null for a mark on the letter before it. */
  const readRare = (char: string): string[] | null => {
    if (isMark(char)) return null;
    const plain = char.normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase();
    return Array.from(lookAlikes[char] ?? plain, (one) => lookAlikes[one] ?? one).filter((one) =>
      /^[a-z0-9]$/.test(one),
    );
  };
  /** What stands for letters, and where: one reading of the text. */
  const read = (text: string, withSymbols: boolean) => {
    const ascii = readAscii[Number(withSymbols)]!;
    const letters: string[] = [];
    const [starts, ends, between, isDigit]: [number[], number[], number[], boolean[]] = [[], [], [], []];
    let gap = MOST_BETWEEN + 1;
    const add = (letter: string, start: number, end: number, code: number) => {
      letters.push(letter);
      starts.push(start);
      ends.push(end);
      between.push(gap);
      isDigit.push(code >= 48 && code <= 57);
      gap = 0;
    };
    for (let at = 0; at < text.length; at++) {
      const code = text.charCodeAt(at);
      if (code < 128) {
        const letter = ascii[code]!;
        if (letter === "") gap++;
        else add(letter, at, at + 1, code);
        continue;
      }
      const char = String.fromCodePoint(text.codePointAt(at)!);
      const next = at + char.length;
      const found = readRare(char);
      if (found === null) ends[ends.length - 1] = next;
      else if (found.length === 0) gap += isLetterOrDigit(char) ? MOST_BETWEEN + 1 : 1;
      else for (const letter of found) add(letter, at, next, 0);
      at = next - 1;
    }
    return { letters, starts, ends, between, isDigit };
  };
  type Reading = ReturnType<typeof read>;

  /** Whether nothing of a word sticks out of a stretch. `%c` and its like, in what is logged, are no words. */
  const isWhole = (text: string, start: number, end: number, endsInDigit: boolean): boolean => {
    const low = text.charCodeAt(start - 1);
    const before = low >= 0xdc00 && low <= 0xdfff ? text.slice(start - 2, start) : (text[start - 1] ?? "");
    const after = end < text.length ? String.fromCodePoint(text.codePointAt(end)!) : "";
    const isFormat = /[csdifoO]/.test(before) && text[start - 2] === "%";
    if (isLetterOrDigit(before) && !isFormat) return false;
    return !isLetter(after) && !(endsInDigit && isLetterOrDigit(after));
  };
  const isName = ({ letters, isDigit }: Reading, from: number, length: number, quick: number): boolean => {
    const text = letters.slice(from, from + length).join("");
    let slow = "";
    return byLength[length]!.some(([its, hash, digits]) => {
      if (its !== quick) return false;
      // What is a digit in a name stands for itself alone; what is a letter may be written as a digit.
      for (let i = 0; i < Math.min(length, 31); i++) if (digits & (1 << i) && !isDigit[from + i]) return false;
      slow ||= digest(salt + text);
      return slow === hash;
    });
  };
  const findIn = (text: string, withSymbols: boolean): [number, number][] => {
    const reading = read(text, withSymbols);
    const { letters, starts, ends, between, isDigit } = reading;
    const sums = new Int32Array(letters.length + 1);
    for (let i = 0; i < letters.length; i++) sums[i + 1] = Math.imul(sums[i]!, BASE) + letters[i]!.charCodeAt(0);
    // How many letters from each on follow one another closely.
    const run = new Int32Array(letters.length + 1);
    for (let i = letters.length - 1; i >= 0; i--)
      run[i] = i + 1 < letters.length && between[i + 1]! <= MOST_BETWEEN ? run[i + 1]! + 1 : 1;
    const found: [number, number][] = [];
    for (let from = 0; from < letters.length;) {
      let next = from + 1;
      for (const length of lengths) {
        if (length > run[from]!) continue;
        const quick = (sums[from + length]! - Math.imul(sums[from]!, powers.get(length)!)) & 0xfffff;
        if (!quickOf.get(length)!.has(quick)) continue;
        const [start, end] = [starts[from]!, ends[from + length - 1]!];
        if (!isWhole(text, start, end, isDigit[from + length - 1]!) || !isName(reading, from, length, quick)) continue;
        found.push([start, end]);
        next = from + length;
        break;
      }
      from = next;
    }
    return found;
  };

  return (text) => {
    if (text.length < shortest) return [];
    const found = findIn(text, false);
    // `@`, `$`, `|` and their like are letters in one reading, and part words in the other.
    if (/[@$|!]/.test(text))
      for (const [start, end] of findIn(text, true))
        if (found.every(([from, to]) => end <= from || start >= to)) found.push([start, end]);
    return found.sort(([a], [b]) => a - b);
  };
}
