import { findLeaks, type KnownName } from "../extraction/leaks.js";
import type { Leak } from "../contract/index.js";

interface TextFile {
  path: string;
  text: string;
}

/**
 * A letter that looks like a dot (Latin letter sinological dot): it may stand in the names of variables, classes and properties as well as in words, so that
 * what refers to each other in a page still does.
 */
export const LETTER_DOT = "ꞏ";
/** As long as all names that are blanked, plus one for each spelling before it in the page that programs may refer to. */
const SHORTEST = 3;
/** What is left by one round may read as a name in its turn. */
const MOST_ROUNDS = 10;
/** Every place, however often a page says a name: who reads the source reads all of it. */
const ALL = { perPart: Infinity, perFile: Infinity };
/** Data addresses within data addresses: no further than this. */
const DEEPEST = 3;

/** Where programs may refer to what stands there. */
const REFERS: readonly Leak["where"][] = ["code", "string", "attribute", "file name", "console"];

/** Words that a language or a browser may know by themselves, as in `setLineDash`. */
const isPlainWord = (text: string): boolean => /^(?:\p{Lu}?\p{Ll}+|\p{Lu}+)$/u.test(text);

/** A spelling of a name, and whether it may be replaced where programs refer to it. */
function judgeSpellings(leaks: readonly Leak[]): Map<string, boolean> {
  const spellings = new Map<string, boolean>();
  const inCode = new Set(leaks.filter(({ where }) => where === "code").map(({ text }) => text));
  for (const { text, confidence, where } of leaks) {
    if (!REFERS.includes(where)) continue;
    const isOwn = !isPlainWord(text) || (!inCode.has(text) && (confidence !== "low" || /^\p{Lu}/u.test(text)));
    spellings.set(text, (spellings.get(text) ?? false) || isOwn);
  }
  return spellings;
}

/**
 * An artifact's files as readers of their source may see them: names of makers and models are dots, in comments, tags, texts and data wherever they
 * stand, and in strings, attributes, code and file names where that cannot break the page: a word that a browser knows itself, as in `setLineDash`, stays. One spelling is
 * replaced alike in all files.
 *
 * @returns the files in their order; paths may be others than they were
 */
export function blankNames(files: readonly TextFile[], names: readonly KnownName[], depth = 0): TextFile[] {
  let blanked = files.map(({ path, text }) => ({ path, text: blankData(text, names, depth) }));
  const stands = new Map<string, string>();
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const leaks = findLeaks(blanked, names, ALL);
    const mayGo = judgeSpellings(leaks);
    const gone = leaks.filter(({ text, where }) => !REFERS.includes(where) || mayGo.get(text) === true);
    if (gone.length === 0) break;
    for (const { text, where } of gone)
      if (REFERS.includes(where) && !stands.has(text)) stands.set(text, LETTER_DOT.repeat(SHORTEST + stands.size));
    const standFor = ({ text, where }: Leak) =>
      REFERS.includes(where) ? stands.get(text)! : LETTER_DOT.repeat(SHORTEST);
    blanked = blanked.map(({ path, text }) => {
      const own = gone.filter(({ file }) => file === path);
      return {
        path: replaceAt(
          path,
          own.filter(({ where }) => where === "file name"),
          standFor,
        ),
        text: replaceAt(
          text,
          own.filter(({ where }) => where !== "file name"),
          standFor,
        ),
      };
    });
  }
  return blanked;
}

function replaceAt(text: string, leaks: readonly Leak[], standFor: (leak: Leak) => string): string {
  const parts: string[] = [];
  let at = 0;
  for (const leak of leaks) {
    if (leak.start < at) continue;
    parts.push(text.slice(at, leak.start), standFor(leak));
    at = leak.end;
  }
  return parts.join("") + text.slice(at);
}

/** A data address of text: drawings, styles, scripts, data. */
const DATA_ADDRESS =
  /\bdata:((?:image\/svg\+xml|text\/[a-z-]+|application\/(?:json|(?:x-)?javascript|xml))[^,"'`()<>\s]{0,100}),([^"'`()<>\s]*)/gi;
const ENDINGS: readonly [RegExp, string][] = [
  [/svg/i, "svg"],
  [/html/i, "html"],
  [/css/i, "css"],
  [/javascript/i, "js"],
];

/** What is packed into addresses can be unpacked by whoever reads the source. */
function blankData(text: string, names: readonly KnownName[], depth: number): string {
  if (depth >= DEEPEST || !/\bdata:/i.test(text)) return text;
  return text.replace(DATA_ADDRESS, (whole, head: string, data: string) => {
    const isBase64 = /;\s*base64$/i.test(head);
    const content = isBase64 ? readBase64(data) : readPercent(data);
    if (content === null) return whole;
    const ending = ENDINGS.find(([pattern]) => pattern.test(head))?.[1] ?? "txt";
    const [file] = blankNames([{ path: `data.${ending}`, text: content }], names, depth + 1);
    if (file!.text === content) return whole;
    return `data:${head.replace(/;\s*charset=[^;]*/i, "").replace(/;\s*base64$/i, "")};charset=utf-8,${encodeURIComponent(file!.text).replace(/[()']/g, (char) => `%${char.charCodeAt(0).toString(16)}`)}`;
  });
}

/** Browsers and Node have them alike; this part of the program knows the globals of neither. */
declare const atob: (text: string) => string;
declare const TextDecoder: new (
  encoding: string,
  options: { fatal: boolean },
) => { decode: (bytes: Uint8Array) => string };

function readBase64(data: string): string | null {
  try {
    const bytes = Uint8Array.from(atob(decodeURIComponent(data)), (char) => char.charCodeAt(0));
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return null;
  }
}

function readPercent(data: string): string | null {
  try {
    return decodeURIComponent(data);
  } catch {
    return null;
  }
}
