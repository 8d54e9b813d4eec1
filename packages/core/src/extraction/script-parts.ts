/** A comment or a string of a script, or a comment of a style sheet. */
export interface ScriptPart {
  type: "comment" | "string";
  start: number;
  end: number;
}

const QUOTES = `"'\``;

/**
 * Comments and strings by a simple reading that keeps addresses (https://…) whole. What begins and never ends is none: it is code. Each place is looked at once or
 * twice, whatever is written there: where a search for an end has failed, a later one that comes to the same place fails as well, and is not made.
 */
export function* scanScript(js: string): Generator<ScriptPart> {
  const blocks = new BlockComments(js);
  const strings = new StringEnds(js);
  const beginsPart = /["'`]|\/[/*]/g;
  for (let match = beginsPart.exec(js); match !== null; match = beginsPart.exec(js)) {
    const start = match.index;
    const end =
      match[0] === "/*" ? blocks.findEnd(start) : match[0] === "//" ? findLineEnd(js, start) : strings.findEnd(start);
    // Where no part begins, the search goes on one character later: in `//*` behind a colon, the second slash begins a comment.
    beginsPart.lastIndex = end === -1 ? start + 1 : end;
    if (end !== -1) yield { type: match[0].startsWith("/") ? "comment" : "string", start, end };
  }
}

/** Comments of a style sheet. */
export function* scanStyles(css: string): Generator<ScriptPart> {
  const blocks = new BlockComments(css);
  for (let start = css.indexOf("/*"); start !== -1;) {
    const end = blocks.findEnd(start);
    if (end === -1) return;
    yield { type: "comment", start, end };
    start = css.indexOf("/*", end);
  }
}

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
    const { js } = this;
    const quote = js[start]!;
    const bit = 1 << QUOTES.indexOf(quote);
    let at = start + 1;
    while (at < js.length && !((this.failed?.[at] ?? 0) & bit)) {
      const char = js[at]!;
      if (char === quote) return at + 1;
      if (char === "\n" && quote !== "`") break;
      at += char === "\\" ? 2 : 1;
    }
    this.mark(start + 1, { quote, bit, until: at });
    return -1;
  }

  private mark(from: number, { quote, bit, until }: { quote: string; bit: number; until: number }): void {
    const { js } = this;
    this.failed ??= new Uint8Array(js.length);
    for (let at = from; at < js.length && at < until; at += js[at] === "\\" ? 2 : 1) {
      if (js[at] === quote) return;
      this.failed[at]! |= bit;
    }
  }
}
