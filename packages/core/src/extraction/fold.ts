import { decodeAscii } from "../text-file.js";

/** Letters of other scripts, and digits, that are taken for Latin ones (after Unicode TR 39, the ones that occur in names). */
export const LOOK_ALIKES: Readonly<Record<string, string>> = {
  а: "a",
  в: "b",
  с: "c",
  ԁ: "d",
  е: "e",
  ё: "e",
  ғ: "f",
  ɡ: "g",
  һ: "h",
  н: "h",
  і: "i",
  ї: "i",
  ı: "i",
  ј: "j",
  к: "k",
  ӏ: "l",
  м: "m",
  п: "n",
  о: "o",
  р: "p",
  ԛ: "q",
  г: "r",
  ѕ: "s",
  т: "t",
  ц: "u",
  ѵ: "v",
  ԝ: "w",
  х: "x",
  у: "y",
  α: "a",
  β: "b",
  ε: "e",
  η: "n",
  ι: "i",
  κ: "k",
  μ: "m",
  ν: "v",
  ο: "o",
  ρ: "p",
  τ: "t",
  υ: "u",
  χ: "x",
  γ: "y",
  ω: "w",
  σ: "o",
  ʀ: "r",
  ʟ: "l",
  ɴ: "n",
  ᴀ: "a",
  ʙ: "b",
  ᴄ: "c",
  ᴅ: "d",
  ᴇ: "e",
  ɢ: "g",
  ʜ: "h",
  ɪ: "i",
  ᴊ: "j",
  ᴋ: "k",
  ᴍ: "m",
  ᴏ: "o",
  ᴘ: "p",
  ꜱ: "s",
  ᴛ: "t",
  ᴜ: "u",
  ᴠ: "v",
  ᴡ: "w",
  ʏ: "y",
  ᴢ: "z",
  "@": "a",
  $: "s",
  "€": "e",
  "|": "l",
  "!": "i",
};
/** Digits that stand for letters when they stand among letters. */
export const DIGIT_LETTERS: Readonly<Record<string, string>> = {
  "0": "o",
  "1": "l",
  "3": "e",
  "4": "a",
  "5": "s",
  "7": "t",
};

export interface Folded {
  /** Letters and digits only, lower case, look-alikes resolved. */
  text: string;
  /** For each of its characters the offset in the original. */
  offsets: Int32Array;
}

export interface FoldedTexts extends Folded {
  /** For each text, and for what would come next, where it begins among the characters; offsets are in the text itself. */
  begins: Int32Array;
}

/** Folded codes of ASCII letters and digits, 0 for what is left out. */
const ASCII_FOLD = Uint8Array.from({ length: 128 }, (_, code) => {
  const char = String.fromCharCode(code).toLowerCase();
  const folded = LOOK_ALIKES[char] ?? char;
  return /^[a-z0-9]$/.test(folded) ? folded.charCodeAt(0) : 0;
});
const LETTER_I = 105;
const LETTER_L = 108;

/** A text as the eye reads it: without case, accents, spacing, punctuation, invisible characters and look-alikes. */
export function fold(text: string, readDigits: boolean): Folded {
  return foldAll([text], readDigits);
}

/** Texts behind one another as the eye reads each by itself: a script may have a million strings, which are too many to be searched one by one. */
export function foldAll(texts: readonly string[], readDigits: boolean): FoldedTexts {
  const folding = new Folding(texts.reduce((sum, { length }) => sum + length, 0) * 2, readDigits);
  const begins = new Int32Array(texts.length + 1);
  for (const [index, text] of texts.entries()) {
    begins[index] = folding.length;
    folding.add(text);
  }
  begins[texts.length] = folding.length;
  return { ...folding.read(), begins };
}

/** What texts fold to, one behind another. */
class Folding {
  length = 0;
  private readonly codes: Uint8Array;
  private readonly offsets: Int32Array;

  /** @param most characters that are kept */
  constructor(
    private readonly most: number,
    private readonly readDigits: boolean,
  ) {
    this.codes = new Uint8Array(most);
    this.offsets = new Int32Array(most + 1);
  }

  add(text: string): void {
    for (let i = 0; i < text.length; i++) {
      const code = text.charCodeAt(i);
      // Nearly all of a page: without a list for each character.
      if (code < 128) this.put(ASCII_FOLD[code]!, text, i);
      else for (const folded of foldRare(text, i)) this.put(folded, text, i);
    }
  }

  read(): Folded {
    return { text: decodeAscii(this.codes.subarray(0, this.length)), offsets: this.offsets };
  }

  private put(folded: number, text: string, at: number): void {
    if (folded === 0 || this.length >= this.most) return;
    this.offsets[this.length] = at;
    this.codes[this.length++] = this.readDigits ? readDigit(folded, text, at) : folded;
  }
}

/** What characters outside ASCII read as, kept: a text may be made of nothing else. */
const RARE_FOLDS = new Map<number, readonly number[]>();
/** Beyond the first two planes nothing reads as a Latin letter. */
const LAST_PLANES = 0x20000;

/** The ASCII codes that a character outside ASCII reads as. */
function foldRare(text: string, at: number): readonly number[] {
  const code = text.codePointAt(at)!;
  if (code >= LAST_PLANES) return NO_FOLDS;
  const known = RARE_FOLDS.get(code);
  if (known !== undefined) return known;
  const folds = readRare(String.fromCodePoint(code));
  RARE_FOLDS.set(code, folds);
  return folds;
}

const NO_FOLDS: readonly number[] = [];

function readRare(character: string): readonly number[] {
  const base = character.normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase();
  const folds = Array.from(LOOK_ALIKES[base] ?? base, (char) => {
    const plain = LOOK_ALIKES[char] ?? char;
    return /^[a-z0-9]$/.test(plain) ? plain.charCodeAt(0) : 0;
  });
  return folds.some((fold) => fold !== 0) ? folds : NO_FOLDS;
}

const DIGIT_FOLD = Uint8Array.from({ length: 58 }, (_, code) => {
  const letter = DIGIT_LETTERS[String.fromCharCode(code)];
  return letter === undefined ? 0 : letter.charCodeAt(0);
});

function readDigit(folded: number, text: string, at: number): number {
  // 1 stands for i as well as for l, so that in this reading the two are one letter.
  if (folded === LETTER_I) return LETTER_L;
  const letter = DIGIT_FOLD[folded] ?? 0;
  return letter !== 0 && (isLetterAt(text, at - 1) || isLetterAt(text, at + 1)) ? letter : folded;
}

export const isLetter = (char: string | undefined) => char !== undefined && /\p{L}/u.test(char);

/** The same for a place in a text, without a pattern for each character of a page. */
function isLetterAt(text: string, at: number): boolean {
  const code = text.charCodeAt(at);
  const small = code | 0x20;
  return code < 128 ? small >= 97 && small <= 122 : isLetter(text[at]);
}
