import { decodeHTMLAttribute } from "entities";
import { QuoteType, Tokenizer } from "htmlparser2";
import { keepLast } from "./keeping.js";

/** A piece of an HTML or SVG document, with its offsets in it. Text is the source's own: nothing is resolved in it. */
export type HtmlToken =
  | { type: "start"; name: string; attributes: HtmlAttribute[]; selfClosing: boolean; start: number; end: number }
  | { type: "end"; name: string; start: number; end: number }
  | { type: "comment" | "text" | "script" | "style"; text: string; start: number; end: number }
  | { type: "doctype"; start: number; end: number };

export interface HtmlAttribute {
  name: string;
  /** With character references resolved. */
  value: string;
  start: number;
  end: number;
}

export interface TokenizedHtml {
  tokens: HtmlToken[];
  /** Whether the text ends within a tag or a comment. */
  endsInside: boolean;
}

/** How far behind its name an end tag's bracket is looked for. */
const LONGEST_CLOSE = 200;

/** Of tags that have none. */
const NO_ATTRIBUTES: HtmlAttribute[] = [];
const LONGEST_KEPT_NAME = 20;
const MOST_KEPT_NAMES = 1000;

type StartToken = Extract<HtmlToken, { type: "start" }>;

/** Splits a document into its tokens as a browser's tokenizer would, in the main. Linear; never throws. */
export const tokenizeHtml = keepLast((source): TokenizedHtml => {
  const collector = new TokenCollector(source);
  const tokenizer = new Tokenizer({ decodeEntities: false }, collector);
  tokenizer.write(source);
  tokenizer.end();
  const { tokens, isInTag } = collector;
  return { tokens, endsInside: isInTag || endsInComment(source, tokens) || endsInTagName(source) };
});

/** Puts the tokenizer's events together into tokens. */
class TokenCollector {
  readonly tokens: HtmlToken[] = [];
  private tag: StartToken | null = null;
  private attribute: { name: string; start: number; from: number; to: number } | null = null;
  private raw: "script" | "style" | null = null;
  private readonly names = new Map<string, string>();

  constructor(private readonly source: string) {}

  get isInTag(): boolean {
    return this.tag !== null;
  }

  onopentagname(start: number, end: number): void {
    const name = this.nameAt(start, end);
    this.tag = { type: "start", name, attributes: NO_ATTRIBUTES, selfClosing: false, start: start - 1, end };
  }
  onattribname(start: number, end: number): void {
    this.attribute = { name: this.nameAt(start, end), start, from: end, to: end };
  }
  onattribdata(start: number, end: number): void {
    if (this.attribute === null) return;
    if (this.attribute.from === this.attribute.to) this.attribute.from = start;
    this.attribute.to = end;
  }
  onattribend(quote: QuoteType, end: number): void {
    if (this.attribute === null || this.tag === null) return;
    const { name, start, from, to } = this.attribute;
    const value = quote === QuoteType.NoValue ? "" : decodeHTMLAttribute(this.source.slice(from, to));
    const attribute = { name, value, start, end };
    if (this.tag.attributes === NO_ATTRIBUTES) this.tag.attributes = [attribute];
    else this.tag.attributes.push(attribute);
    this.attribute = null;
  }
  onopentagend(end: number): void {
    this.finishTag(end, false);
  }
  onselfclosingtag(end: number): void {
    this.finishTag(end, true);
  }
  onclosetag(start: number, end: number): void {
    this.raw = null;
    let close = end;
    const limit = Math.min(this.source.length, end + LONGEST_CLOSE);
    while (close < limit && this.source[close] !== ">") close++;
    this.tokens.push({
      type: "end",
      name: this.nameAt(start, end),
      start: start - 2,
      end: close === limit ? end : close + 1,
    });
  }
  oncomment(start: number, end: number, endOffset: number): void {
    this.tokens.push({ type: "comment", text: this.source.slice(start, end - endOffset), start, end });
  }
  ondeclaration(start: number, end: number): void {
    this.tokens.push({ type: "doctype", start: start - 1, end: end + 1 });
  }
  onprocessinginstruction(start: number, end: number): void {
    this.tokens.push({ type: "doctype", start, end: end + 1 });
  }
  ontext(start: number, end: number): void {
    const type = this.raw ?? "text";
    const last = this.tokens.at(-1);
    if (last?.type === type && last.end === start) {
      last.text = this.source.slice(last.start, end);
      last.end = end;
    } else this.tokens.push({ type, text: this.source.slice(start, end), start, end });
  }
  oncdata(start: number, end: number): void {
    this.ontext(start, end);
  }
  // Character references stay as they are: the text must stay what it is.
  onattribentity(): void {}
  ontextentity(): void {}
  onend(): void {}

  /** A name in lower case. A document has few of them, many times: each is kept once. */
  private nameAt(start: number, end: number): string {
    const written = this.source.slice(start, end);
    if (written.length > LONGEST_KEPT_NAME) return written.toLowerCase();
    const known = this.names.get(written);
    if (known !== undefined) return known;
    const name = written.toLowerCase();
    if (this.names.size < MOST_KEPT_NAMES) this.names.set(written, name);
    return name;
  }

  private finishTag(end: number, selfClosing: boolean): void {
    if (this.tag === null) return;
    const { name } = this.tag;
    this.tag.end = end + 1;
    this.tag.selfClosing = selfClosing;
    this.tokens.push(this.tag);
    this.raw = !selfClosing && (name === "script" || name === "style") ? name : null;
    this.tag = null;
  }
}

const endsInComment = (source: string, tokens: readonly HtmlToken[]): boolean => {
  const last = tokens.at(-1);
  return last?.type === "comment" && last.end >= source.length && !source.endsWith("-->");
};

/** A tag that breaks off within its name or before it is never reported, or comes as text. */
const endsInTagName = (source: string): boolean => /<[a-z/!][^<>\n]{0,200}$/i.test(source.trimEnd().slice(-202));

/** Elements that have no end tag (HTML Living Standard, 13.1.2). */
export const VOID_ELEMENTS: ReadonlySet<string> = new Set(
  "area base br col embed hr img input link meta param source track wbr".split(" "),
);
