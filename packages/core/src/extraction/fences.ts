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

const OPENING = /^([ \t]*)(`{3,}|~{3,})[ \t]*([^\n]*?)[ \t]*$/;

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

function findOpening(line: string): { indent: string; mark: string; info: string } | null {
  const match = OPENING.exec(line);
  if (!match) return null;
  const [, indent, mark, info] = match as unknown as [string, string, string, string];
  // CommonMark: the info string of a backtick fence holds no backtick, else it is a code span.
  if (mark.startsWith("`") && info.includes("`")) return null;
  return { indent, mark, info };
}

function isClosing(line: string, mark: string): boolean {
  const text = line.trim();
  return text.length >= mark.length && text === mark[0]!.repeat(text.length);
}

function removeIndent(text: string, width: number): string {
  if (width === 0) return text;
  return text.replace(new RegExp(`^[ \\t]{1,${width}}`, "gm"), "");
}

/**
 * All fenced blocks of an answer in order, by the rules of CommonMark 0.31 (4.5), except that a fence may be indented by
 * any amount: answers put fences into lists, and people read them as fences all the same. An unclosed fence runs to the end.
 * Linear in the length of the answer.
 */
export function findFences(text: string): Fence[] {
  const lines = splitLines(text);
  const fences: Fence[] = [];
  let proseStart = 0;
  for (let i = 0; i < lines.length; i++) {
    const opening = findOpening(lines[i]!.text);
    if (!opening) continue;
    let close = i + 1;
    while (close < lines.length && !isClosing(lines[close]!.text, opening.mark)) close++;
    const start = lines[i]!.next;
    const isClosed = close < lines.length;
    const end = isClosed ? lines[close]!.start : text.length;
    const [word = "", ...rest] = opening.info.split(/[ \t]+/);
    fences.push({
      index: fences.length,
      language: word.toLowerCase(),
      meta: rest.join(" "),
      content: removeIndent(text.slice(start, end), opening.indent.length),
      start,
      end,
      firstLine: i + 1,
      lastLine: Math.min(close, lines.length - 1) + 1,
      isClosed,
      before: text.slice(proseStart, lines[i]!.start),
    });
    i = close;
    proseStart = isClosed ? lines[close]!.next : text.length;
  }
  return fences;
}
