import { keepLast } from "./keeping.js";

/** Comments and strings of a script, or comments of a style sheet, in order. Numbers alone: a script may have a million of them. */
export class ScriptParts {
  length = 0;
  /** Of each part where it begins and where it ends. */
  private bounds = new Int32Array(64);

  constructor(private readonly text: string) {}

  add(start: number, end: number): void {
    const at = this.length * 2;
    if (at === this.bounds.length) {
      const more = new Int32Array(at * 2);
      more.set(this.bounds);
      this.bounds = more;
    }
    this.bounds[at] = start;
    this.bounds[at + 1] = end;
    this.length++;
  }

  startOf(index: number): number {
    return this.bounds[index * 2]!;
  }
  /** One behind its last character. */
  endOf(index: number): number {
    return this.bounds[index * 2 + 1]!;
  }
  isComment(index: number): boolean {
    return this.text.charCodeAt(this.startOf(index)) === SLASH;
  }
}

const SLASH = 47;
const QUOTES = `"'\``;
const BACKTICK = QUOTES.charCodeAt(2);
const LINE_FEED = 10;
const BACKSLASH = 92;

/**
 * Comments and strings by a simple reading that keeps addresses (https://…) whole. What begins and never ends is none: it is code. Each place is looked at once or
 * twice, whatever is written there: where a search for an end has failed, a later one that comes to the same place fails as well, and is not made.
 */
export const scanScript = keepLast((js): ScriptParts => {
  const parts = new ScriptParts(js);
  const blocks = new BlockComments(js);
  const strings = new StringEnds(js);
  const beginsPart = /["'`]|\/[/*]/g;
  for (let match = beginsPart.exec(js); match !== null; match = beginsPart.exec(js)) {
    const start = match.index;
    const end =
      match[0] === "/*" ? blocks.findEnd(start) : match[0] === "//" ? findLineEnd(js, start) : strings.findEnd(start);
    // Where no part begins, the search goes on one character later: in `//*` behind a colon, the second slash begins a comment.
    beginsPart.lastIndex = end === -1 ? start + 1 : end;
    if (end !== -1) parts.add(start, end);
  }
  return parts;
});

/** Comments of a style sheet. */
export const scanStyles = keepLast((css): ScriptParts => {
  const parts = new ScriptParts(css);
  const blocks = new BlockComments(css);
  for (let start = css.indexOf("/*"); start !== -1;) {
    const end = blocks.findEnd(start);
    if (end === -1) break;
    parts.add(start, end);
    start = css.indexOf("/*", end);
  }
  return parts;
});

class BlockComments {
  private isOver = false;

  constructor(private readonly text: string) {}

  /** Behind the comment that begins there; −1 when it never ends. */
  findEnd(start: number): number {
    const close = this.isOver ? -1 : this.text.indexOf("*/", start + 2);
    this.isOver = close === -1;
    return close === -1 ? -1 : close + 2;
  }
}

/** A comment of one line; −1 behind a colon or a backslash, where it is part of an address or a pattern. */
function findLineEnd(js: string, start: number): number {
  const before = js[start - 1];
  if (before === ":" || before === "\\") return -1;
  const lineFeed = js.indexOf("\n", start);
  return lineFeed === -1 ? js.length : lineFeed;
}

class StringEnds {
  /** By place, the quotes whose strings do not end if they reach it, as bits. */
  private failed: Uint8Array | null = null;

  constructor(private readonly js: string) {}

  /** Behind the string that begins there; −1 when it never ends, or not on its line. */
  findEnd(start: number): number {
    // By codes: a string for each character would cost several times as much.
    const { js, failed } = this;
    const quote = js.charCodeAt(start);
    const bit = 1 << QUOTES.indexOf(js[start]!);
    let at = start + 1;
    while (at < js.length && (failed === null || (failed[at]! & bit) === 0)) {
      const code = js.charCodeAt(at);
      if (code === quote) return at + 1;
      if (code === LINE_FEED && quote !== BACKTICK) break;
      at += code === BACKSLASH ? 2 : 1;
    }
    this.mark(start + 1, { quote, bit, until: at });
    return -1;
  }

  private mark(from: number, { quote, bit, until }: { quote: number; bit: number; until: number }): void {
    const { js } = this;
    const failed = (this.failed ??= new Uint8Array(js.length));
    const end = Math.min(js.length, until);
    for (let at = from; at < end;) {
      const code = js.charCodeAt(at);
      if (code === quote) return;
      failed[at]! |= bit;
      at += code === BACKSLASH ? 2 : 1;
    }
  }
}
