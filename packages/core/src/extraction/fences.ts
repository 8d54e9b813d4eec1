import { classifyBlock, findCut, hasDocumentEnd } from "./document.js";

/** A fenced block of an answer, with what stands before it. */
export interface Fence {
  /** 0-based number in the answer. */
  index: number;
  /** The info string's first word, lower case: html, css … or "". */
  language: string;
  /** The rest of the info string. */
  meta: string;
  content: string;
  /** Offsets of the content in the answer. */
  start: number;
  end: number;
  /** 1-based lines of the opening and the closing line. */
  firstLine: number;
  lastLine: number;
  isClosed: boolean;
  /** The text between the fence before and this one: prose that may name the file. */
  before: string;
}

interface Line {
  text: string;
  start: number;
  /** Offset behind the line break. */
  next: number;
}

interface Opening {
  indent: string;
  mark: string;
  language: string;
  meta: string;
}

const OPENING = /^([ \t\u00a0]*(?:>[ \t])*)(`{3,}|~{3,})[ \t\u00a0]*([^\n]*?)[ \t\u00a0]*$/;
/** Fences that hold an answer within the answer: what is in them is read as if they were not there. */
const WRAPPER_LANGUAGES = new Set(["markdown", "md", "mdx", "mdown"]);
const KNOWN_LANGUAGE =
  /^(?:html?|css|js|javascript|jsx|tsx?|typescript|svg|xml|json|vue|bash|sh|shell|python|diff|glsl)$/;

function splitLines(text: string): Line[] {
  const lines: Line[] = [];
  let start = 0;
  while (start < text.length) {
    const lineFeed = text.indexOf("\n", start);
    const next = lineFeed === -1 ? text.length : lineFeed + 1;
    const end = lineFeed === -1 ? text.length : lineFeed;
    lines.push({ text: text.slice(start, text[end - 1] === "\r" ? end - 1 : end), start, next });
    start = next;
  }
  return lines;
}

function findOpening(line: string): Opening | null {
  if (!/^[\s>\u00a0]*(?:```|~~~)/.test(line)) return null;
  const match = OPENING.exec(line);
  if (!match) return null;
  const [, indent, mark, info] = match as unknown as [string, string, string, string];
  // CommonMark: the info string of a backtick fence holds no backtick, else it is a code span.
  if (mark.startsWith("`") && info.includes("`")) return null;
  const [word = "", ...rest] = info.replace(/^\{\s*\.?/, "").split(/[ \t\u00a0]+/);
  return { indent, mark, language: word.replace(/[},]+$/, "").toLowerCase(), meta: rest.join(" ") };
}

function isClosing(line: string, mark: string): boolean {
  const text = line.trim();
  return text.length >= mark.length && text === mark[0]!.repeat(text.length);
}

function removeIndent(text: string, indent: string): string {
  if (indent === "") return text;
  if (indent.includes(">")) return text.replace(/^[ \t]*(?:>[ \t]?)+/gm, "");
  return text.replace(new RegExp(`^[ \\t\\u00a0]{1,${indent.length}}`, "gm"), "");
}

/** An answer with more fences than this is no answer that a person would read on. */
const MOST_FENCES = 400;
/** How often one answer is looked at for a fence that should have ended before the next: bounds the work. */
const MOST_SPLITS = 200;
/** How many further marks are tried when a page seems to hold fence lines in its own strings: bounds the work. */
const MOST_TRIES = 40;

/**
 * All fenced blocks of an answer in order, by the rules of CommonMark 0.31 (4.5) except where people read otherwise:
 * a fence may be indented by any amount; one that wraps the whole answer as markdown is looked through; a page whose own
 * strings hold fence lines goes on to its real end; and a fence that was never closed ends where its document does when another
 * one opens. An unclosed fence runs to the end.
 */
export function findFences(text: string): Fence[] {
  const lines = splitLines(text);
  const fences: Fence[] = [];
  let proseStart = 0;
  let triesLeft = MOST_TRIES;
  const budget = { splits: MOST_SPLITS };
  for (let i = 0; i < lines.length && fences.length < MOST_FENCES; i++) {
    const opening = findOpening(lines[i]!.text);
    if (opening === null || isTrailingMark(lines, i, opening)) continue;
    if (WRAPPER_LANGUAGES.has(opening.language) && holdsFence(lines, i + 1)) continue;
    const start = lines[i]!.next;
    let close = findClose(lines, i + 1, { opening, start, text, budget });
    while (triesLeft > 0 && close.kind === "mark") {
      const longer = extendOverOwnMarks(lines, close.line, { opening, start, text });
      triesLeft -= longer.tries;
      if (longer.line === close.line) break;
      close = { kind: "mark", line: longer.line };
    }
    const limit = close.kind === "end" ? text.length : lines[close.line]!.start;
    const end = close.kind === "mark" ? limit : start + measureUnclosed(text.slice(start, limit), opening);
    fences.push({
      index: fences.length,
      language: opening.language,
      meta: opening.meta,
      content: removeIndent(text.slice(start, end), opening.indent),
      start,
      end,
      firstLine: i + 1,
      lastLine: (close.kind === "end" ? lines.length - 1 : close.line) + 1,
      isClosed: close.kind !== "end",
      before: text.slice(proseStart, lines[i]!.start),
    });
    proseStart = close.kind === "mark" ? lines[close.line]!.next : end;
    i = close.kind === "end" ? lines.length : close.kind === "split" ? close.line - 1 : close.line;
  }
  return fences;
}

/**
 * How much of what follows an opening that nothing closes is code: up to a mark that stands behind the last character
 * instead of on its own line, and up to the end of a document that only prose follows.
 */
function measureUnclosed(content: string, { mark, language }: Opening): number {
  const glued = new RegExp(`[^\\s${mark[0]!}]${mark}[ \\t]*(?:\\r?\\n|$)`).exec(content);
  const length = glued ? glued.index + 1 : content.length;
  const code = content.slice(0, length);
  const kind = classifyBlock({ language, content: code });
  if (kind !== "document" && kind !== "svg") return length;
  const closing = kind === "svg" ? "</svg>" : "</html>";
  const last = code.toLowerCase().lastIndexOf(closing);
  const behind = last === -1 ? "" : code.slice(last + closing.length);
  return behind.trim() === "" || /<[a-z!/]/i.test(behind) ? length : last + closing.length;
}

/** A bare mark with nothing but blank lines behind it closes something that was looked through; it opens nothing. */
function isTrailingMark(lines: readonly Line[], at: number, { language }: Opening): boolean {
  return (
    language === "" && lines.slice(at + 1, at + 50).every(({ text }) => text.trim() === "") && at + 50 >= lines.length
  );
}

function holdsFence(lines: readonly Line[], from: number): boolean {
  for (let i = from; i < lines.length; i++) {
    const opening = findOpening(lines[i]!.text);
    if (opening !== null) return opening.language !== "";
  }
  return false;
}

type Close = { kind: "mark" | "split"; line: number } | { kind: "end" };

/** Where a fence ends: at its mark, before the next fence when its document is over by then, or with the text. */
function findClose(
  lines: readonly Line[],
  from: number,
  { opening, start, text, budget }: { opening: Opening; start: number; text: string; budget: { splits: number } },
): Close {
  for (let i = from; i < lines.length; i++) {
    const { text: line, start: lineStart } = lines[i]!;
    if (!/^[\s>\u00a0]*[`~]{3}/.test(line)) continue;
    if (isClosing(line.replace(/^[\s>]*/, ""), opening.mark)) return { kind: "mark", line: i };
    const next = findOpening(line);
    if (next === null || !KNOWN_LANGUAGE.test(next.language) || next.mark[0] !== opening.mark[0]) continue;
    if (budget.splits-- <= 0) continue;
    const content = text.slice(start, lineStart);
    const split = findSplit(lines, { from, next: i, content, language: opening.language });
    if (split !== null) return { kind: "split", line: split };
  }
  return { kind: "end" };
}

/** The line at which a fence that was never closed ends, when another opens at `next`; null when that one is part of its content. */
function findSplit(
  lines: readonly Line[],
  { from, next, content, language }: { from: number; next: number; content: string; language: string },
): number | null {
  const kind = classifyBlock({ language, content });
  if (kind === "document" || kind === "svg") {
    if (!hasDocumentEnd(content, kind)) return null;
    const end = kind === "svg" ? /<\/svg\s*>/i : /<\/html\s*>/i;
    for (let i = next - 1; i >= from; i--) if (end.test(lines[i]!.text)) return i + 1;
    return null;
  }
  // A bare mark before prose was the end of something that was looked through, not a beginning.
  if (kind === "other" && language === "") return next;
  if (kind === "css" || kind === "js") return findCut(content, kind) === null ? next : null;
  return null;
}

/** The line of the mark that really ends a page, when the first one stands in a string or template of the page itself. */
function extendOverOwnMarks(
  lines: readonly Line[],
  close: number,
  { opening, start, text }: { opening: Opening; start: number; text: string },
): { line: number; tries: number } {
  const content = text.slice(start, lines[close]!.start);
  const kind = classifyBlock({ language: opening.language, content });
  if ((kind !== "document" && kind !== "svg") || hasDocumentEnd(content, kind) || findCut(content, kind) === null)
    return { line: close, tries: 0 };
  let tries = 0;
  for (let i = close + 1; i < lines.length && tries < MOST_TRIES; i++) {
    if (!isClosing(lines[i]!.text, opening.mark)) continue;
    tries++;
    const longer = text.slice(start, lines[i]!.start);
    const rest = longer.slice(content.length);
    // Another document begins in between: then this one was a draft that broke off.
    if (/<!doctype\s+html|<html[\s>]/i.test(rest)) break;
    if (
      hasDocumentEnd(rest, kind) &&
      /^\s*$/.test(
        longer.slice(longer.toLowerCase().lastIndexOf(kind === "svg" ? "</svg" : "</html")).replace(/^<\/\w+\s*>/, ""),
      )
    )
      return { line: i, tries };
  }
  return { line: close, tries };
}
