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
  const codes = new Uint8Array(text.length * 2 + 1);
  const offsets = new Int32Array(text.length * 2 + 1);
  let length = 0;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code < 128) {
      // Nearly all of a page: without a list for each character.
      const folded = ASCII_FOLD[code]!;
      if (folded === 0 || length >= codes.length - 1) continue;
      offsets[length] = i;
      codes[length++] = readDigits ? readDigit(folded, text, i) : folded;
      continue;
    }
    for (const folded of foldRare(text, i)) {
      if (folded === 0 || length >= codes.length - 1) continue;
      offsets[length] = i;
      codes[length++] = readDigits ? readDigit(folded, text, i) : folded;
    }
  }
  offsets[length] = text.length;
  return { text: toText(codes.subarray(0, length)), offsets };
}

/** The ASCII codes that a character outside ASCII reads as. */
function foldRare(text: string, at: number): number[] {
  const base = String.fromCodePoint(text.codePointAt(at)!).normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase();
  return Array.from(LOOK_ALIKES[base] ?? base, (char) => {
    const plain = LOOK_ALIKES[char] ?? char;
    return /^[a-z0-9]$/.test(plain) ? plain.charCodeAt(0) : 0;
  });
}

function readDigit(folded: number, text: string, at: number): number {
  // 1 stands for i as well as for l, so that in this reading the two are one letter.
  if (folded === LETTER_I) return LETTER_L;
  if (folded > 57) return folded;
  const letter = DIGIT_LETTERS[String.fromCharCode(folded)];
  return letter !== undefined && isAmongLetters(text, at) ? letter.charCodeAt(0) : folded;
}

const CHUNK = 8192;
function toText(codes: Uint8Array): string {
  const parts: string[] = [];
  for (let i = 0; i < codes.length; i += CHUNK) parts.push(String.fromCharCode(...codes.subarray(i, i + CHUNK)));
  return parts.join("");
}

export const isLetter = (char: string | undefined) => char !== undefined && /\p{L}/u.test(char);
const isAmongLetters = (text: string, at: number) => isLetter(text[at - 1]) || isLetter(text[at + 1]);
