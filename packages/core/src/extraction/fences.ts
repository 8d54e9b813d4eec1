import { trimEndOf } from "../text-ends.js";
import { classifyBlock, findCut, hasDocumentEnd } from "./document.js";
import { keepLast } from "./keeping.js";
import { AnswerLines } from "./lines.js";

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

interface Opening {
  indent: string;
  mark: string;
  language: string;
  meta: string;
}

const OPENING = /^([ \t\u00a0]*(?:>[ \t])*)(`{3,}|~{3,})/;
/** Fences that hold an answer within the answer: what is in them is read as if they were not there. */
const WRAPPER_LANGUAGES = new Set(["markdown", "md", "mdx", "mdown"]);
const KNOWN_LANGUAGE =
  /^(?:html?|css|js|javascript|jsx|tsx?|typescript|svg|xml|json|vue|bash|sh|shell|python|diff|glsl)$/;

function findOpening(line: string): Opening | null {
  if (!/^[\s>\u00a0]*(?:```|~~~)/.test(line)) return null;
  const match = OPENING.exec(line);
  if (!match) return null;
  const [whole, indent, mark] = match as unknown as [string, string, string];
  const info = line.slice(whole.length).trim();
  // CommonMark: the info string of a backtick fence holds no backtick, else it is a code span.
  if (mark.startsWith("`") && info.includes("`")) return null;
  const [word = "", ...rest] = info.replace(/^\{\s*\.?/, "").split(/[ \t\u00a0]+/);
  return { indent, mark, language: trimEndOf(word, /[},]/).toLowerCase(), meta: rest.join(" ") };
}

function isClosing(line: string, mark: string): boolean {
  const text = line.trim();
  return text.length >= mark.length && text === mark[0]!.repeat(text.length);
}

/** Set in by more, a line keeps what is over. */
const DEEPEST_INDENT = 1000;

function removeIndent(text: string, indent: string): string {
  if (indent === "") return text;
  if (indent.includes(">")) return text.replace(/^[ \t]*(?:>[ \t]?)+/gm, "");
  return text.replace(new RegExp(`^[ \\t\\u00a0]{1,${Math.min(indent.length, DEEPEST_INDENT)}}`, "gm"), "");
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
export const findFences = keepLast((text): readonly Fence[] => {
  const lines = new AnswerLines(text);
  const fences: Fence[] = [];
  let proseStart = 0;
  let triesLeft = MOST_TRIES;
  const budget = { splits: MOST_SPLITS };
  let from = 0;
  for (const i of lines.marks) {
    if (i < from) continue;
    if (fences.length >= MOST_FENCES) break;
    const opening = findOpening(lines.textOf(i));
    if (opening === null || isTrailingMark(lines, i, opening)) continue;
    if (WRAPPER_LANGUAGES.has(opening.language) && holdsFence(lines, i + 1)) continue;
    const start = lines.nextOf(i);
    let close = findClose(lines, i + 1, { opening, start, text, budget });
    while (triesLeft > 0 && close.kind === "mark") {
      const longer = extendOverOwnMarks(lines, close.line, { opening, start, text });
      triesLeft -= longer.tries;
      if (longer.line === close.line) break;
      close = { kind: "mark", line: longer.line };
    }
    const limit = close.kind === "end" ? text.length : lines.startOf(close.line);
    const end = close.kind === "mark" ? limit : start + measureUnclosed(text.slice(start, limit), opening);
    fences.push({
      index: fences.length,
      language: opening.language,
      meta: opening.meta,
      content: removeIndent(text.slice(start, end), opening.indent),
      start,
      end,
      firstLine: i + 1,
      lastLine: (close.kind === "end" ? lines.count - 1 : close.line) + 1,
      isClosed: close.kind !== "end",
      before: text.slice(proseStart, lines.startOf(i)),
    });
    proseStart = close.kind === "mark" ? lines.nextOf(close.line) : end;
    from = close.kind === "end" ? lines.count : close.kind === "split" ? close.line : close.line + 1;
  }
  return fences;
});

/**
 * How much of what follows an opening that nothing closes is code: up to a mark that stands behind the last character
 * instead of on its own line, and up to the end of a document that only prose follows.
 */
function measureUnclosed(content: string, { mark, language }: Opening): number {
  const length = findGlued(content, mark) ?? content.length;
  const code = content.slice(0, length);
  const kind = classifyBlock({ language, content: code });
  if (kind !== "document" && kind !== "svg") return length;
  const closing = kind === "svg" ? "</svg>" : "</html>";
  const last = code.toLowerCase().lastIndexOf(closing);
  const behind = last === -1 ? "" : code.slice(last + closing.length);
  return behind.trim() === "" || /<[a-z!/]/i.test(behind) ? length : last + closing.length;
}

/** Where a mark stands behind the last character of a line; a pattern of a mark of any length may be too large to be one. */
function findGlued(content: string, mark: string): number | null {
  const runs = content.matchAll(
    mark.startsWith("`") ? /(?<=[^\s`])`{3,}[ \t]*(?:\r?\n|$)/g : /(?<=[^\s~])~{3,}[ \t]*(?:\r?\n|$)/g,
  );
  for (const { 0: run, index } of runs) if (run.trimEnd().length === mark.length) return index;
  return null;
}

/** A bare mark with nothing but blank lines behind it closes something that was looked through; it opens nothing. */
function isTrailingMark(lines: AnswerLines, at: number, { language }: Opening): boolean {
  if (language !== "" || at + 50 < lines.count) return false;
  for (let i = at + 1; i < lines.count; i++) if (lines.textOf(i).trim() !== "") return false;
  return true;
}

function holdsFence(lines: AnswerLines, from: number): boolean {
  for (const i of lines.marksFrom(from)) {
    const opening = findOpening(lines.textOf(i));
    if (opening !== null) return opening.language !== "";
  }
  return false;
}

type Close = { kind: "mark" | "split"; line: number } | { kind: "end" };

/** Where a fence ends: at its mark, before the next fence when its document is over by then, or with the text. */
function findClose(
  lines: AnswerLines,
  from: number,
  { opening, start, text, budget }: { opening: Opening; start: number; text: string; budget: { splits: number } },
): Close {
  for (const i of lines.marksFrom(from)) {
    const line = lines.textOf(i);
    if (isClosing(line.replace(/^[\s>]*/, ""), opening.mark)) return { kind: "mark", line: i };
    const next = findOpening(line);
    if (next === null || !KNOWN_LANGUAGE.test(next.language) || next.mark[0] !== opening.mark[0]) continue;
    if (budget.splits-- <= 0) continue;
    const content = text.slice(start, lines.startOf(i));
    const split = findSplit(lines, { from, next: i, content, language: opening.language });
    if (split !== null) return { kind: "split", line: split };
  }
  return { kind: "end" };
}

/** The line at which a fence that was never closed ends, when another opens at `next`; null when that one is part of its content. */
function findSplit(
  lines: AnswerLines,
  { from, next, content, language }: { from: number; next: number; content: string; language: string },
): number | null {
  const kind = classifyBlock({ language, content });
  if (kind === "document" || kind === "svg") {
    if (!hasDocumentEnd(content, kind)) return null;
    const end = kind === "svg" ? /<\/svg\s*>/i : /<\/html\s*>/i;
    for (let i = next - 1; i >= from; i--) if (end.test(lines.textOf(i))) return i + 1;
    return null;
  }
  // A bare mark before prose was the end of something that was looked through, not a beginning.
  if (kind === "other" && language === "") return next;
  if (kind === "css" || kind === "js") return findCut(content, kind) === null ? next : null;
  return null;
}

/** The line of the mark that really ends a page, when the first one stands in a string or template of the page itself. */
function extendOverOwnMarks(
  lines: AnswerLines,
  close: number,
  { opening, start, text }: { opening: Opening; start: number; text: string },
): { line: number; tries: number } {
  const content = text.slice(start, lines.startOf(close));
  const kind = classifyBlock({ language: opening.language, content });
  if ((kind !== "document" && kind !== "svg") || hasDocumentEnd(content, kind) || findCut(content, kind) === null)
    return { line: close, tries: 0 };
  let tries = 0;
  for (const i of lines.marksFrom(close + 1)) {
    if (tries >= MOST_TRIES) break;
    if (!isClosing(lines.textOf(i), opening.mark)) continue;
    tries++;
    const longer = text.slice(start, lines.startOf(i));
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
