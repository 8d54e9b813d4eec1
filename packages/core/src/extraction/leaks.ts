import type { Leak } from "../contract/index.js";
import { unescapeText } from "./escapes.js";
import { fold, isLetter } from "./fold.js";
import { tokenizeHtml } from "./html-tokens.js";
import type { ArtifactFile } from "./references.js";
import { type ScriptPart, scanScript, scanStyles } from "./script-parts.js";

/** A name that would tell who made an output, with the others it goes by. */
export interface KnownName {
  name: string;
  aliases: readonly string[];
}

interface Wanted {
  name: string;
  written: string;
  /** The name folded, and folded with digits read as letters. */
  plain: string;
  digits: string;
}

/** Shorter names are found everywhere. */
const SHORTEST_NAME = 3;

interface Region {
  where: Leak["where"];
  text: string;
  /** Offset in the file of each character of the text; absent when it is `start` plus the index. */
  map?: Int32Array;
  /** Where in the file each character of the text ends, where that is not one further: a reference or an escape is longer. */
  ends?: Int32Array;
  start: number;
}

/** More places in one part of a file tell nothing more. */
const MOST_IN_REGION = 200;
/** The longest stretch that a spelled-out name may take, as a multiple of its own length. */
const WIDEST_SPELLING = 4;
const SELF_WORDS =
  /\b(?:made|built|created|generated|written|designed|coded|drawn|powered|crafted|produced|developed|rendered|authored|courtesy|signed) (?:by|with|using|in|of)\b|\b(?:by|author|generator|model|assistant|copyright|©|i am|i'm|my name is|as an ai|ai|llm|version of)\b|©/i;

/** Places where an artifact names one of the given makers or models. Sorted by file and place. */
export function findLeaks(files: readonly ArtifactFile[], names: readonly KnownName[]): Leak[] {
  const wanted = names
    .flatMap(({ name, aliases }) => [name, ...aliases].map((written) => ({ name, written })))
    .map((item) => ({ ...item, plain: fold(item.written, false).text, digits: fold(item.written, true).text }))
    .filter(({ plain }) => plain.length >= SHORTEST_NAME);
  if (wanted.length === 0) return [];
  // A part that is shorter than every name holds none; a script may have a million of them.
  const least = Math.min(...wanted.map(({ plain, digits }) => Math.min(plain.length, digits.length)));
  const found: Leak[] = [];
  for (const file of files) {
    const regions = listRegions(file, least).concat({ where: "file name", text: file.path, start: 0 });
    for (const region of regions) for (const leak of searchRegion(region, file.path, wanted)) found.push(leak);
  }
  return dropNested(found);
}

/** Names in what a page said while it was recorded, each as it stood there once. */
export function findShownLeaks(shownText: string, names: readonly KnownName[]): Leak[] {
  const seen = new Set<string>();
  return findLeaks([{ path: "", text: shownText }], names).flatMap((leak) => {
    const isNew = !seen.has(leak.text);
    seen.add(leak.text);
    return isNew ? [{ ...leak, where: "screen" as const }] : [];
  });
}

function listRegions({ path, text }: ArtifactFile, least: number): Region[] {
  if (/\.(?:[mc]?jsx?|tsx?)$/i.test(path)) return listInScript(text, { offset: 0, least });
  if (/\.css$/i.test(path)) return listInStyles(text, { offset: 0, least });
  if (!/\.(?:html?|svg|xhtml|vue)$/i.test(path)) return [{ where: "text", text, start: 0 }];
  const regions: Region[] = [];
  const visible: { text: string; start: number }[] = [];
  let isTitle = false;
  for (const token of tokenizeHtml(text).tokens) {
    switch (token.type) {
      case "comment":
        regions.push({ where: "comment", text: token.text, start: token.start });
        break;
      case "script":
        for (const region of listInScript(token.text, { offset: token.start, least })) regions.push(region);
        break;
      case "style":
        for (const region of listInStyles(token.text, { offset: token.start, least })) regions.push(region);
        break;
      case "text":
        if (isTitle) regions.push({ where: "title", ...decode([token]) });
        else visible.push(token);
        break;
      case "start":
        isTitle = token.name === "title";
        for (const { name, value, start } of token.attributes)
          regions.push({
            where: token.name === "meta" ? "meta" : "attribute",
            text: value,
            start: start + name.length + 2,
          });
        break;
      default:
        isTitle = false;
    }
  }
  if (visible.length > 0) regions.push({ where: "text", ...decode(visible) });
  return regions;
}

/** Visible text with character references resolved and the tags between its parts left out, mapped back to the file. */
function decode(
  parts: readonly { text: string; start: number }[],
): Required<Pick<Region, "text" | "start" | "map" | "ends">> {
  const out: string[] = [];
  const offsets: number[] = [];
  const ends: number[] = [];
  for (const { text, start } of parts) {
    if (!text.includes("&")) {
      out.push(text);
      for (let i = 0; i < text.length; i++) {
        offsets.push(start + i);
        ends.push(start + i + 1);
      }
      continue;
    }
    for (const match of text.matchAll(
      /&#x([0-9a-f]{1,6});?|&#(\d{1,7});?|&(nbsp|amp|lt|gt|quot|shy|zwnj|zwj);|[^&]+|&/gi,
    )) {
      const code =
        match[1] !== undefined ? Number.parseInt(match[1], 16) : match[2] !== undefined ? Number(match[2]) : null;
      const char =
        code === null
          ? match[3] === undefined
            ? match[0]
            : " "
          : code > 0 && code <= 0x10ffff
            ? String.fromCodePoint(code)
            : " ";
      out.push(char);
      const isLiteral = char === match[0];
      for (let i = 0; i < char.length; i++) {
        offsets.push(start + match.index + (isLiteral ? i : 0));
        ends.push(start + match.index + (isLiteral ? i + 1 : match[0].length));
      }
    }
  }
  return {
    text: out.join(""),
    start: parts[0]?.start ?? 0,
    map: Int32Array.from(offsets),
    ends: Int32Array.from(ends),
  };
}

const CONSOLE_CALL = /\bconsole\s*\.\s*\w+\s*\([^()]{0,200}$/;
/** How far before a string its call is looked for. */
const BEFORE_STRING = 220;

/** Where a text begins in its file, and how short a part of it may be to be looked at. */
interface Within {
  offset: number;
  least: number;
}

const listInScript = (js: string, within: Within): Region[] =>
  listBetween({ text: js, language: "js" }, within, scanScript(js), ({ type, start }) => {
    if (type === "comment") return "comment";
    return CONSOLE_CALL.test(js.slice(Math.max(0, start - BEFORE_STRING), start)) ? "console" : "string";
  });

const listInStyles = (css: string, within: Within): Region[] =>
  listBetween({ text: css, language: "css" }, within, scanStyles(css), () => "comment");

/** The parts of a text, and the code between them. */
function listBetween(
  { text, language }: { text: string; language: "js" | "css" },
  { offset, least }: Within,
  parts: Iterable<ScriptPart>,
  whereOf: (part: ScriptPart) => Leak["where"],
): Region[] {
  const regions: Region[] = [];
  let last = 0;
  const addCode = (end: number) => {
    if (end - last < least) return;
    const code = text.slice(last, end);
    // What a style sheet generates stands in its code.
    regions.push(
      language === "css"
        ? readEscapes(code, "css", offset + last, "code")
        : { where: "code", text: code, start: offset + last },
    );
  };
  for (const part of parts) {
    const { start, end } = part;
    addCode(start);
    if (end - start >= least)
      regions.push(
        readEscapes(text.slice(start, end), part.type === "string" ? language : null, offset + start, whereOf(part)),
      );
    last = end;
  }
  addCode(text.length);
  return regions;
}

/** A part as its program reads it; a comment has no escapes. */
function readEscapes(text: string, language: "js" | "css" | null, start: number, where: Leak["where"]): Region {
  if (language === null || !text.includes("\\")) return { where, text, start };
  const { text: read, starts, ends } = unescapeText(text, language, start);
  return { where, text: read, map: starts, ends, start };
}

function searchRegion(region: Region, file: string, wanted: readonly Wanted[]): Leak[] {
  const { text } = region;
  if (text.length < SHORTEST_NAME) return [];
  const found = new Map<string, Leak>();
  for (const readDigits of /\d/.test(text) ? [false, true] : [false]) {
    const folded = fold(text, readDigits);
    for (const name of wanted) {
      const key = readDigits ? name.digits : name.plain;
      const places = listOccurrences(folded.text, key).slice(0, Math.max(0, MOST_IN_REGION - found.size));
      for (const at of places) {
        const ends = { start: folded.offsets[at]!, end: folded.offsets[at + key.length - 1]! + 1, file };
        keepLongest(found, judgePlace(region, ends, name));
      }
    }
  }
  return [...found.values()];
}

function listOccurrences(text: string, key: string): number[] {
  const places: number[] = [];
  for (let at = text.indexOf(key); at !== -1 && places.length < MOST_IN_REGION * 4; at = text.indexOf(key, at + 1))
    places.push(at);
  return places;
}

/** At one place the longest spelling of a name counts. */
function keepLongest(found: Map<string, Leak>, leak: Leak | null): void {
  if (leak === null) return;
  const key = `${leak.start} ${leak.name}`;
  if ((found.get(key)?.text.length ?? 0) < leak.text.length) found.set(key, leak);
}

/** The leak at a place where the letters of a name stand, or null when they only happen to. */
function judgePlace(
  region: Region,
  { start, end, file }: { start: number; end: number; file: string },
  { name, written }: Wanted,
): Leak | null {
  const { text, where } = region;
  const found = text.slice(start, end);
  if (!isWhole(text, start, end, where) || !isOneSpelling(found, written)) return null;
  const place = {
    file,
    start: toFile(region, start),
    end: region.ends ? region.ends[end - 1]! : toFile(region, end - 1) + 1,
  };
  return { name, text: found, where, confidence: judgeConfidence(region, { start, end, written, found }), ...place };
}

const toFile = ({ map, start }: Region, index: number) => (map ? map[index]! : start + index);

/** Whether nothing of a word sticks out of the found stretch: "thrifty" does not name Thrift; camel case and underscores part words. */
function isWhole(text: string, start: number, end: number, where: Leak["where"]): boolean {
  const [before, first, last, after] = [text[start - 1], text[start], text[end - 1], text[end]];
  const isCamel = (a: string | undefined, b: string | undefined) =>
    a !== undefined && b !== undefined && /\p{Ll}|\d/u.test(a) && /\p{Lu}/u.test(b);
  const isFormat = text[start - 2] === "%" && /[csdifoO]/.test(before ?? "");
  const startsWord = !isLetter(before) || isFormat || (where === "code" && isCamel(before, first));
  const endsWord =
    (!isLetter(after) && !(/\d/.test(last ?? "") && /\d/.test(after ?? ""))) ||
    (where === "code" && isCamel(last, after));
  return startsWord && endsWord;
}

/** Whether a stretch is one spelling of a name and not words that happen to follow each other. */
function isOneSpelling(found: string, written: string): boolean {
  if (found.length > written.length * WIDEST_SPELLING + 4) return false;
  const letters = Array.from(found).filter((char) => /[\p{L}\p{N}@$!|€]/u.test(char)).length;
  const gaps = [...found.matchAll(/[^\p{L}\p{N}@$!|€]+/gu)];
  const ownGaps = [...written.matchAll(/[^\p{L}\p{N}]+/gu)].length;
  if (gaps.length <= ownGaps + 1 && gaps.every(([gap]) => gap.trim().length <= 2))
    return ownGaps > 0 || gaps.length === 0 || letters - gaps.length <= 1;
  // Spelled out: nearly every letter apart from the next, or the whole parted evenly.
  return gaps.length >= letters - 2;
}

function judgeConfidence(
  { text, where }: Region,
  { start, end, written, found }: { start: number; end: number; written: string; found: string },
): Leak["confidence"] {
  const around = text.slice(Math.max(0, start - 60), end + 40);
  const isTelling = /\d|[\s-]\S/.test(written.trim());
  const isDisguised =
    found.toLowerCase().replace(/[^\p{L}\p{N}]/gu, "") !== written.toLowerCase().replace(/[^\p{L}\p{N}]/gu, "") ||
    /^(?:\p{L}[^\p{L}\p{N}]+){3}/u.test(found);
  if (isTelling || isDisguised || SELF_WORDS.test(around)) return "high";
  if (where === "meta" || where === "console" || where === "comment" || where === "file name") return "medium";
  return "low";
}

/** Of finds that lie within one another the longest counts: "Samphire 3 Quick" is not also Samphire 3. */
function dropNested(leaks: readonly Leak[]): Leak[] {
  const sorted = [...leaks].sort((a, b) =>
    a.file < b.file ? -1 : a.file > b.file ? 1 : a.start - b.start || b.end - a.end,
  );
  const kept: Leak[] = [];
  for (const leak of sorted) {
    const last = kept.findLast(
      ({ file, where }) => file === leak.file && (where === "file name") === (leak.where === "file name"),
    );
    const isNested = last !== undefined && leak.start < last.end && leak.end <= last.end;
    if (!isNested) kept.push(leak);
  }
  return kept;
}
