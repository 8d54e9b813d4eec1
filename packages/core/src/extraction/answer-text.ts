import type { TraceStep } from "../contract/index.js";
import { trimEndOf } from "../text-ends.js";
import { findFences } from "./fences.js";

const REASONING_WORD =
  "(?:think|thinking|thought|thoughts|reasoning|reason|scratchpad|analysis|reflection|inner[_ -]?monologue)";
const OPENING = new RegExp(`^\\s*(?:[<[]\\|?(?:begin_of_)?(${REASONING_WORD})\\|?[>\\]])`, "i");
const LONE_CLOSING = new RegExp(`(?:^|\\n)[ \\t]*[<[]\\|?(?:/|end_of_)(${REASONING_WORD})\\|?[>\\]]`, "i");

/** Nobody reasons in more parts than these; what comes after is read as the answer. */
const MOST_PARTS = 100;

/** The reasoning some models print first is not the answer. Blanked, not removed, so that offsets stay true. */
export function blankOutReasoning(text: string, trace: TraceStep[]): string {
  let end = 0;
  for (let part = 0; part < MOST_PARTS; part++) {
    const found = findReasoning(text.slice(end));
    if (found === null) break;
    trace.push({ part: "reasoning", action: "skipped", why: found.why });
    end += found.length;
    if (found.isLast) break;
  }
  return text.slice(0, end).replace(/[^\n]/g, " ") + text.slice(end);
}

/** The reasoning that a text begins with, or null. */
function findReasoning(text: string): { length: number; why: string; isLast: boolean } | null {
  const opening = OPENING.exec(text);
  if (opening) {
    const word = opening[1]!;
    const closing = new RegExp(`[<[]\\|?(?:/|end_of_)${word}\\|?[>\\]]`, "i").exec(text.slice(opening[0].length));
    if (closing === null) return { ...findUnclosed(text, opening[0].length), isLast: true };
    const length = opening[0].length + closing.index + closing[0].length;
    return { length, why: "it stands before the answer", isLast: false };
  }
  const lone = LONE_CLOSING.exec(text);
  if (lone && !new RegExp(`<${lone[1]!}[\\s>]`, "i").test(text.slice(0, lone.index)) && !isInPage(text, lone.index))
    return {
      length: lone.index + lone[0].length,
      why: "it ends there, though its beginning was not sent",
      isLast: false,
    };
  return null;
}

/** Reasoning that never ends: what follows its prose in a fence, or as a page, is the answer all the same. */
function findUnclosed(text: string, from: number): { length: number; why: string } {
  const page = /(?:^|\n)[ \t]*(?:`{3,}|~{3,})|<!doctype\s+html|<html[\s>]|<svg[\s>]/i.exec(text.slice(from));
  return page === null
    ? { length: text.length, why: "it never ends, and no answer follows" }
    : { length: from + page.index, why: "it never ends; the answer begins where its prose does" };
}

const PAGE_TAG = /<(?:html|body|div|script)[\s>]/i;

function isInPage(text: string, at: number): boolean {
  const before = text.slice(0, at);
  if (
    /<!doctype\s+html|<html[\s>]/i.test(before) &&
    !/<\/html\s*>/i.test(before) &&
    /<\/html\s*>/i.test(text.slice(at))
  )
    return true;
  // Fences are looked for in all of the text: not where nothing before could be a page in one.
  if (!PAGE_TAG.test(before)) return false;
  return findFences(text).some(({ start, end }) => start <= at && at < end && PAGE_TAG.test(text.slice(start, at)));
}

/** The shortest overlap that cannot be chance, in characters; closing tags, brackets and spaces say nothing. */
const SHORTEST_OVERLAP = 8;
const SHORTEST_TELLING = 4;
const LONG_OVERLAP = 40;
const SAYS_NOTHING = /<\/[a-z][\w-]*\s*>|[\s{}()[\];,]/gi;
const LONGEST_OVERLAP = 20_000;

/**
 * Joins the parts of an answer that was continued, as a person would: a repeated fence opener, a sentence of prose and
 * what both parts have in common are dropped; a continuation that starts again from the top replaces what it repeats.
 */
export function joinAnswers(parts: readonly string[], trace: TraceStep[]): string {
  return parts.reduce((joined, part, index) => (index === 0 ? part : joinTwo(joined, part, { index, trace })), "");
}

function joinTwo(first: string, second: string, { index, trace }: { index: number; trace: TraceStep[] }): string {
  const note = (why: string) => trace.push({ part: `part ${index + 1} of the answer`, action: "joined", why });
  const open = findFences(first).at(-1);
  const isOpen = open !== undefined && !open.isClosed;
  const raw = isOpen ? null : /<!doctype\s+html|<html[\s>]|<svg[\s>]/i.exec(first);
  const isRawOpen = raw !== null && open === undefined && !/<\/html\s*>\s*$/i.test(first);
  if (!isOpen && !isRawOpen) {
    note("as it stands: the part before was over");
    return `${trimEndOf(first, /\n/)}\n\n${second}`;
  }
  const start = isOpen ? open.start : raw!.index;
  const { rest, dropped } = stripOpening(second.replace(/^\ufeff/, ""));
  const soFar = first.slice(start);
  if (isRestart(soFar, rest)) {
    const closes = /<\/(?:html|svg)\s*>/i.test(rest) || rest.length >= soFar.length;
    note(
      closes
        ? "it starts again from the top and replaces what came"
        : "it starts again from the top but gets less far; left out",
    );
    return closes ? first.slice(0, start) + rest : first;
  }
  const overlap = measureOverlap(first, rest);
  const said = [dropped, overlap > 0 ? `${overlap} repeated characters dropped` : ""].filter((text) => text !== "");
  note(`continues the part before${said.length > 0 ? `; ${said.join(", ")}` : ""}`);
  const glue = overlap === 0 && needsLineBreak(first, rest) ? "\n" : "";
  return first + glue + rest.slice(overlap);
}

/** Drops what stands before the code of a continuation: prose that ends in a fence opener, or the opener alone. */
function stripOpening(text: string): { rest: string; dropped: string } {
  const opener = /^([^`~]{0,600}?)(?:^|\n)[ \t]*(`{3,}|~{3,})[\w+-]*[ \t]*\r?\n/.exec(text);
  if (opener && !/[<>{};]/.test(opener[1]!)) {
    const hasProse = opener[1]!.trim() !== "";
    return {
      rest: text.slice(opener[0].length),
      dropped: hasProse ? "its prose and fence opener dropped" : "its fence opener dropped",
    };
  }
  const prose =
    /^\s*(?:(?:sure|okay|ok|of course|certainly|here(?:'s| is)|continuing|continued|continuation|picking up|resuming|sorry|apologies|\(continued)\b)[^\n<>{};]{0,200}[:.…)]?[ \t]*\n+/i.exec(
      text,
    );
  return prose
    ? { rest: text.slice(prose[0].length), dropped: "its sentence of prose dropped" }
    : { rest: text, dropped: "" };
}

function isRestart(soFar: string, rest: string): boolean {
  const squeeze = (text: string) => text.slice(0, 2000).replace(/\s+/g, "").slice(0, 60).toLowerCase();
  const [a, b] = [squeeze(soFar), squeeze(rest)];
  if (/^<!doctypehtml|^<html|^<svg|^<\?xml/.test(b)) return a.slice(0, 9) === b.slice(0, 9);
  return b.length >= 30 && a.startsWith(b.slice(0, 40));
}

/** How many characters at the beginning of `rest` repeat the end of `first`. */
function measureOverlap(first: string, rest: string): number {
  const longest = Math.min(first.length, rest.length, LONGEST_OVERLAP);
  const tail = first.slice(first.length - longest);
  const most = longestBorder(rest.slice(0, longest), tail);
  const telling = rest.slice(0, most).replace(SAYS_NOTHING, "").length;
  if (most >= LONG_OVERLAP || (most >= SHORTEST_OVERLAP && telling >= SHORTEST_TELLING)) return most;
  // A whole unfinished line that is written again is no chance either, however short.
  const line = tail.slice(tail.lastIndexOf("\n") + 1).trimStart();
  return line.length >= 3 && rest.startsWith(line) && most >= line.length ? line.length : 0;
}

/** Length of the longest prefix of `head` that is a suffix of `tail` (Knuth, Morris & Pratt 1977, failure function). */
function longestBorder(head: string, tail: string): number {
  const text = `${head}\u0000${tail}`;
  const borders = new Int32Array(text.length);
  for (let i = 1; i < text.length; i++) {
    let length = borders[i - 1]!;
    while (length > 0 && text[i] !== text[length]) length = borders[length - 1]!;
    borders[i] = text[i] === text[length] ? length + 1 : 0;
  }
  return Math.min(borders.at(-1) ?? 0, head.length);
}

/** Whether the second part begins a line of its own: the first ended with a whole statement. */
const needsLineBreak = (first: string, rest: string): boolean =>
  /[;{}]$/.test(first) && /^(?:[A-Za-z_$]\w+[\s.(=]|\/\/|\/\*|[.#@])/.test(rest);
