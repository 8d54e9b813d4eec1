/** A string of a JSON text, with the keys that lead to it and where its characters stand between the quotes. */
export interface JsonString {
  path: readonly string[];
  value: string;
  start: number;
  end: number;
  /** False when the text ends within the string. */
  isClosed: boolean;
}

const MOST_STRINGS = 2000;
const DEEPEST = 40;
const ESCAPES: Readonly<Record<string, string>> = { n: "\n", t: "\t", r: "\r", b: "\b", f: "\f" };

/**
 * All string values of a JSON text in order, or null when the text is not JSON at all. More lenient than a parser: raw
 * line breaks within strings, trailing commas, comments, and a text that is cut off are taken as models write them,
 * because a person would still see the files in it. Linear; never throws.
 */
export function readJsonStrings(text: string): JsonString[] | null {
  const found: JsonString[] = [];
  /** One entry an open bracket: the key of an object's current member, or the index in an array. */
  const stack: { isObject: boolean; key: string; index: number; expectsKey: boolean }[] = [];
  let i = 0;
  while (i < text.length && found.length < MOST_STRINGS) {
    const char = text[i]!;
    const top = stack.at(-1);
    if (char === "{" || char === "[") {
      if (stack.length >= DEEPEST) return null;
      stack.push({ isObject: char === "{", key: "", index: 0, expectsKey: char === "{" });
    } else if (char === "}" || char === "]") {
      if (stack.pop()?.isObject !== (char === "}")) return null;
    } else if (char === ",") {
      if (top) {
        top.index++;
        top.expectsKey = top.isObject;
      }
    } else if (char === '"') {
      const string = readString(text, i + 1);
      if (top?.isObject && top.expectsKey) {
        top.key = string.value;
        top.expectsKey = false;
      } else {
        const path = stack.map((level) => (level.isObject ? level.key : String(level.index)));
        found.push({ path, value: string.value, start: i + 1, end: string.end, isClosed: string.isClosed });
      }
      i = string.end;
    } else if (!/[\s:\w.+-]/.test(char)) return null;
    i++;
  }
  return found;
}

function readString(text: string, start: number): { value: string; end: number; isClosed: boolean } {
  const parts: string[] = [];
  let from = start;
  for (let i = start; i < text.length; i++) {
    if (text[i] === '"') {
      parts.push(text.slice(from, i));
      return { value: parts.join(""), end: i, isClosed: true };
    }
    if (text[i] !== "\\") continue;
    parts.push(text.slice(from, i));
    const escape = text[i + 1] ?? "";
    const unit = escape === "u" ? /^[0-9a-f]{4}$/i.exec(text.slice(i + 2, i + 6))?.[0] : undefined;
    parts.push(unit === undefined ? (ESCAPES[escape] ?? escape) : String.fromCharCode(Number.parseInt(unit, 16)));
    i += unit === undefined ? 1 : 5;
    from = i + 1;
  }
  parts.push(text.slice(from));
  return { value: parts.join(""), end: text.length, isClosed: false };
}
