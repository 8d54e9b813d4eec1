import type { Leak } from "../contract/index.js";
import { type EscapeLanguage, readEscapes, unescapeText } from "./escapes.js";
import { fold, foldAll, type FoldedTexts, isLetter } from "./fold.js";
import { type HtmlToken, tokenizeHtml } from "./html-tokens.js";
import type { ArtifactFile } from "./references.js";
import { createSpellingReader, type Spelling } from "./spelling.js";
import { type ScriptParts, scanScript, scanStyles } from "./script-parts.js";

/** A name that would tell who made an output, with the others it goes by. */
export interface KnownName {
  name: string;
  aliases: readonly string[];
}

interface Wanted {
  name: string;
  readSpelling: (found: string) => Spelling | null;
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
  /** A text with escapes as it was written: where its characters stand is asked only where something is found, since there may be a million of them. */
  written?: { text: string; language: EscapeLanguage };
}

/** By how much a name may be longer than what it is written as: ﬃ reads as three letters. */
const IN_A_LIGATURE = 2;
/** How many places of a name are told: in one part of a file, and in all of it. */
export interface LeakLimits {
  perPart: number;
  perFile: number;
}

/** More places tell a person nothing more. */
const ENOUGH: LeakLimits = { perPart: 200, perFile: 500 };
const SELF_WORDS =
  /\b(?:made|built|created|generated|written|designed|coded|drawn|powered|crafted|produced|developed|rendered|authored|courtesy|signed) (?:by|with|using|in|of)\b|\b(?:by|author|generator|model|assistant|copyright|©|i am|i'm|my name is|as an ai|ai|llm|version of)\b|©/i;

/** Places where an artifact names one of the given makers or models. Sorted by file and place. */
export function findLeaks(
  files: readonly ArtifactFile[],
  names: readonly KnownName[],
  limits: LeakLimits = ENOUGH,
): Leak[] {
  const wanted = listWanted(names);
  if (wanted.length === 0) return [];
  // A part that is shorter than every name holds none; a script may have a million of them.
  const shortest = Math.min(...wanted.map(({ plain, digits }) => Math.min(plain.length, digits.length)));
  const least = shortest - IN_A_LIGATURE;
  const found: Leak[] = [];
  for (const file of files) {
    const regions = listRegions(file, least).concat({ where: "file name", text: file.path, start: 0 });
    for (const leak of searchRegions(regions, file.path, { wanted, limits })) found.push(leak);
  }
  return dropNested(found);
}

/** What was made of names; an artifact may have a hundred thousand parts, in each of which they are looked for. */
const wantedOf = new WeakMap<readonly KnownName[], Wanted[]>();

/** All that is looked for. A name and an alias may be the same but for a hyphen, which are found alike. */
function listWanted(names: readonly KnownName[]): Wanted[] {
  const known = wantedOf.get(names);
  if (known !== undefined) return known;
  const wanted = new Map<string, Wanted>();
  for (const { name, aliases } of names)
    for (const written of [name, ...aliases]) {
      const [plain, digits] = [fold(written, false).text, fold(written, true).text];
      const words = written.toLowerCase().replace(/[\s-]/g, " ");
      if (plain.length >= SHORTEST_NAME)
        wanted.set(`${name}\n${words}`, { name, readSpelling: createSpellingReader(written), plain, digits });
    }
  const all = [...wanted.values()];
  wantedOf.set(names, all);
  return all;
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
        if (token.text.length >= least) regions.push({ where: "comment", text: token.text, start: token.start });
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
        addAttributes(regions, token, least);
        break;
      default:
        isTitle = false;
    }
  }
  if (visible.length > 0) regions.push({ where: "text", ...decode(visible) });
  return regions;
}

function addAttributes(
  regions: Region[],
  { name: tag, attributes }: Extract<HtmlToken, { type: "start" }>,
  least: number,
): void {
  const where = tag === "meta" ? "meta" : "attribute";
  for (const { name, value, start } of attributes)
    if (value.length >= least) regions.push({ where, text: value, start: start + name.length + 2 });
}

const REFERENCE = /&#x([0-9a-f]{1,6});?|&#(\d{1,7});?|&(?:nbsp|amp|lt|gt|quot|shy|zwnj|zwj);/gi;

/** Visible text with character references resolved and the tags between its parts left out, mapped back to the file. */
function decode(
  parts: readonly { text: string; start: number }[],
): Required<Pick<Region, "text" | "start" | "map" | "ends">> {
  const out: string[] = [];
  // A reference is never shorter than what it stands for.
  const most = parts.reduce((sum, { text }) => sum + text.length, 0);
  const map = new Int32Array(most);
  const ends = new Int32Array(most);
  let length = 0;
  const add = (char: string, from: number, to: number) => {
    out.push(char);
    const isLiteral = char.length === to - from;
    for (let i = 0; i < char.length; i++) {
      map[length] = isLiteral ? from + i : from;
      ends[length++] = isLiteral ? from + i + 1 : to;
    }
  };
  for (const { text, start } of parts) {
    let last = 0;
    for (const match of text.matchAll(REFERENCE)) {
      const [whole, hexadecimal, decimal] = match;
      const code = hexadecimal === undefined ? Number(decimal) : Number.parseInt(hexadecimal, 16);
      const end = match.index + whole.length;
      add(text.slice(last, match.index), start + last, start + match.index);
      add(Number.isNaN(code) ? " " : toChar(code), start + match.index, start + end);
      last = end;
    }
    add(text.slice(last), start + last, start + text.length);
  }
  const used = { map: map.subarray(0, length), ends: ends.subarray(0, length) };
  return { text: out.join(""), start: parts[0]?.start ?? 0, ...used };
}

const toChar = (code: number): string => (code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : " ");

const CONSOLE_CALL = /\bconsole\s*\.\s*\w+\s*\(/g;
/** How far behind the beginning of a call its strings are looked for. */
const LONGEST_CALL = 200;

/** Whether a string stands in a call of the console; asked from the first string to the last. */
function findingCalls(js: string): (start: number) => boolean {
  const calls = js.matchAll(CONSOLE_CALL);
  let next = calls.next();
  let inside = Number.NEGATIVE_INFINITY;
  return (start) => {
    for (; !next.done; next = calls.next()) {
      const end = next.value.index + next.value[0].length;
      if (end > start) break;
      inside = end;
    }
    return start - inside <= LONGEST_CALL && !/[()]/.test(js.slice(inside, start));
  };
}

/** Where a text begins in its file, and how short a part of it may be to be looked at. */
interface Within {
  offset: number;
  least: number;
}

function listInScript(js: string, within: Within): Region[] {
  const isInCall = findingCalls(js);
  const whereOf = (start: number) => (isInCall(start) ? "console" : "string");
  return listBetween({ text: js, language: "js" }, within, scanScript(js), whereOf);
}

const listInStyles = (css: string, within: Within): Region[] =>
  listBetween({ text: css, language: "css" }, within, scanStyles(css), () => "comment");

/** The parts of a text, and the code between them. */
function listBetween(
  { text, language }: { text: string; language: "js" | "css" },
  { offset, least }: Within,
  parts: ScriptParts,
  whereOfString: (start: number) => Leak["where"],
): Region[] {
  const regions: Region[] = [];
  let last = 0;
  const addCode = (end: number) => {
    if (end - last < least) return;
    const code = text.slice(last, end);
    // What a style sheet generates stands in its code.
    regions.push(
      language === "css"
        ? unescapeRegion(code, "css", offset + last, "code")
        : { where: "code", text: code, start: offset + last },
    );
  };
  for (let index = 0; index < parts.length; index++) {
    const start = parts.startOf(index);
    const end = parts.endOf(index);
    addCode(start);
    if (end - start >= least) {
      const part = text.slice(start, end);
      regions.push(
        parts.isComment(index)
          ? { where: "comment", text: part, start: offset + start }
          : unescapeRegion(part, language, offset + start, whereOfString(start)),
      );
    }
    last = end;
  }
  addCode(text.length);
  return regions;
}

/** A string or code as its program reads it. */
const unescapeRegion = (text: string, language: EscapeLanguage, start: number, where: Leak["where"]): Region =>
  text.includes("\\")
    ? { where, text: readEscapes(text, language), start, written: { text, language } }
    : { where, text, start };

/** Tells where in the file the characters of parts stand; what was found for one is kept until another is asked for. */
function createLocator(): (region: Region) => Region {
  let last: { region: Region; located: Region } | null = null;
  return (region) => {
    if (region.written === undefined) return region;
    if (last?.region !== region) {
      const { starts, ends } = unescapeText(region.written.text, region.written.language, region.start);
      last = { region, located: { ...region, map: starts, ends } };
    }
    return last.located;
  };
}

/** Names in the parts of a file. All are searched at once, since there may be very many; what reaches from one into the next is none. */
function searchRegions(
  regions: readonly Region[],
  file: string,
  { wanted, limits }: { wanted: readonly Wanted[]; limits: LeakLimits },
): Leak[] {
  const found = new Map<string, Leak>();
  const locate = createLocator();
  const search = (readDigits: boolean) => {
    const some = regions.filter(({ text }) => text.length >= SHORTEST_NAME && (!readDigits || /\d/.test(text)));
    const folded = foldAll(
      some.map(({ text }) => text),
      readDigits,
    );
    for (const name of wanted) {
      const key = readDigits ? name.digits : name.plain;
      let left = limits.perFile;
      let part = { index: -1, left: 0 };
      for (const { index, at } of listOccurrences(folded, key)) {
        if (left <= 0) break;
        if (index !== part.index) part = { index, left: limits.perPart };
        if (part.left <= 0) continue;
        const ends = { start: folded.offsets[at]!, end: folded.offsets[at + key.length - 1]! + 1 };
        const leak = judgePlace(some[index]!, ends, { name, file, locate });
        if (leak === null) continue;
        // Places that only look like the name use up nothing: they would hide those behind them.
        left--;
        part.left--;
        keepLongest(found, leak);
      }
    }
  };
  search(false);
  search(true);
  return [...found.values()];
}

/** Where a key stands in folded texts, and in which of them. */
function* listOccurrences({ text, begins }: FoldedTexts, key: string): Generator<{ index: number; at: number }> {
  let index = 0;
  for (let at = text.indexOf(key); at !== -1; at = text.indexOf(key, at + 1)) {
    while (at >= begins[index + 1]!) index++;
    if (at + key.length <= begins[index + 1]!) yield { index, at };
  }
}

/** At one place the longest spelling of a name counts. */
function keepLongest(found: Map<string, Leak>, leak: Leak): void {
  // A file's name has places of its own.
  const key = `${leak.where === "file name" ? "name " : ""}${leak.start} ${leak.name}`;
  if ((found.get(key)?.text.length ?? 0) < leak.text.length) found.set(key, leak);
}

/** The leak at a place where the letters of a name stand, or null when they only happen to. */
function judgePlace(
  region: Region,
  { start, end }: { start: number; end: number },
  { name: { name, readSpelling }, file, locate }: { name: Wanted; file: string; locate: (region: Region) => Region },
): Leak | null {
  const { text, where } = region;
  const found = text.slice(start, end);
  if (!isWhole(text, start, end, where)) return null;
  const spelling = readSpelling(found);
  if (spelling === null) return null;
  const located = locate(region);
  const place = {
    file,
    start: toFile(located, start),
    end: located.ends ? located.ends[end - 1]! : toFile(located, end - 1) + 1,
  };
  return { name, text: found, where, confidence: judgeConfidence(region, { start, end, spelling }), ...place };
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

function judgeConfidence(
  { text, where }: Region,
  { start, end, spelling }: { start: number; end: number; spelling: Spelling },
): Leak["confidence"] {
  if (spelling === "telling" || SELF_WORDS.test(text.slice(Math.max(0, start - 60), end + 40))) return "high";
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
