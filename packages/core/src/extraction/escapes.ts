/** A text as a program reads it, and where each of its characters stands in what it was written as. */
export interface Unescaped {
  text: string;
  /** Of each character. */
  starts: Int32Array;
  ends: Int32Array;
}

const SCRIPT = /\\(?:u\{[0-9a-f]{1,6}\}|u[0-9a-f]{4}|x[0-9a-f]{2}|\r\n|[\s\S])/gi;
const STYLE = /\\(?:[0-9a-f]{1,6}(?:\r\n|[ \t\n\f\r])?|\r\n|[\s\S])/gi;
/** What some letters after a backslash stand for, in a script; all else stands for itself. */
const CONTROLS: Readonly<Record<string, string>> = { n: "\n", r: "\r", t: "\t", b: "\b", f: "\f", v: "\v", "0": "\0" };

export type EscapeLanguage = "js" | "css";
const patternOf = (language: EscapeLanguage) => (language === "js" ? SCRIPT : STYLE);

/** A string of a script or a style sheet with its escapes resolved, so that `"\nSea"` does not read as “nSea”. */
export const readEscapes = (text: string, language: EscapeLanguage): string =>
  text.replace(patternOf(language), (escape) => readOne(escape, language));

/**
 * The same with the place of each of its characters, which takes several times as long.
 *
 * @param offset where the text begins
 */
export function unescapeText(text: string, language: EscapeLanguage, offset = 0): Unescaped {
  const parts: string[] = [];
  // An escape is never shorter than what it stands for.
  const starts = new Int32Array(text.length);
  const ends = new Int32Array(text.length);
  let length = 0;
  let at = 0;
  const copy = (end: number) => {
    parts.push(text.slice(at, end));
    for (let i = at; i < end; i++) {
      starts[length] = offset + i;
      ends[length++] = offset + i + 1;
    }
  };
  for (const match of text.matchAll(patternOf(language))) {
    copy(match.index);
    const char = readOne(match[0], language);
    parts.push(char);
    at = match.index + match[0].length;
    for (let i = 0; i < char.length; i++) {
      starts[length] = offset + match.index;
      ends[length++] = offset + at;
    }
  }
  copy(text.length);
  return { text: parts.join(""), starts: starts.subarray(0, length), ends: ends.subarray(0, length) };
}

/** What one escape stands for. A line break after a backslash goes on with the text; other characters stand for themselves. */
function readOne(escape: string, language: EscapeLanguage): string {
  const other = escape.slice(1);
  if (other === "\n" || other === "\r" || other === "\r\n") return "";
  if (language === "css") return /^[0-9a-f]/i.test(other) ? toChar(Number.parseInt(other, 16)) : other;
  if (other.length === 1) return CONTROLS[other] ?? other;
  return toChar(Number.parseInt(other.slice(other[1] === "{" ? 2 : 1), 16));
}

const toChar = (code: number): string => (code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : "\ufffd");
