import { trimEndOf } from "../text-ends.js";
import type { Fence } from "./fences.js";
import { toFileName } from "./file-names.js";

/** A file that stands in the answer between marks other than fences. */
export interface NamedPart {
  label: string;
  name: string;
  content: string;
  start: number;
  end: number;
  isClosed: boolean;
}

const MOST_PARTS = 200;
/** A line of an element that holds a file: <file path="index.html">, at the line's beginning. */
const OPENING_TAG =
  /^[ \t]*<([a-z][\w:.-]*)\b[^<>\n]{0,300}?\b(?:file_?path|path|file_?name|file|name|title)\s*=\s*(?:"([^"\n]{1,200})"|'([^'\n]{1,200})')[^<>\n]{0,300}>/gim;
const PAGE = /<(?:!doctype|html|body|svg)\b/i;
/** A line that is nothing but a file's name and decoration: === index.html ===, --- FILE: style.css ---. */
const NAME_LINE = /^[ \t]*(?:[=\-#*~+/<>!_[\]]{2}|file(?:name)?\s*:|#)[^\n]+$/gim;
const LONGEST_LINE = 240;

/**
 * Files that an answer gives in elements with a path, or between lines that name them, as models do that were told of no
 * fences. Elements may hold a fence in their turn; lines that name files count only where there is no fence.
 */
export function findNamedParts(text: string, fences: readonly Fence[]): NamedPart[] {
  const inElements = findInElements(text, fences);
  if (inElements.length > 0) return inElements;
  return fences.length === 0 ? findBetweenNames(text) : [];
}

function findInElements(text: string, fences: readonly Fence[]): NamedPart[] {
  const parts: NamedPart[] = [];
  OPENING_TAG.lastIndex = 0;
  for (let match = OPENING_TAG.exec(text); match && parts.length < MOST_PARTS; match = OPENING_TAG.exec(text)) {
    const name = toFileName(match[2] ?? match[3] ?? "");
    const opened = match.index;
    if (name === null || fences.some(({ start, end }) => start <= opened && opened < end)) continue;
    // Past the beginning of a page that no such element holds, elements are the page's own.
    if (PAGE.test(text.slice(parts.at(-1)?.end ?? 0, opened))) break;
    const from = opened + match[0].length;
    const closing = `</${match[1]!}>`;
    const close = text.indexOf(closing, from);
    const end = close === -1 ? text.length : close;
    parts.push({
      ...trimPart(text, from, end, fences),
      label: `element ${parts.length + 1} (${name})`,
      name,
      isClosed: close !== -1,
    });
    OPENING_TAG.lastIndex = end;
  }
  return parts;
}

/** The text between two offsets without the line break after its mark and before the next; a fence round all of it is looked through. */
function trimPart(text: string, from: number, to: number, fences: readonly Fence[]) {
  const inside = fences.filter(({ start, end }) => from <= start && end <= to);
  const [fence] = inside;
  if (fence !== undefined && inside.length === 1) return { content: fence.content, start: fence.start, end: fence.end };
  const start = from + (/^(?:[ \t]*\r?\n)+/.exec(text.slice(from, Math.min(to, from + 200)))?.[0].length ?? 0);
  const whole = text.slice(start, Math.max(start, to));
  const bare = whole.trimEnd();
  const lineEnd = whole.indexOf("\n", bare.length);
  const content = lineEnd === -1 ? whole : whole.slice(0, lineEnd + 1);
  return { content, start, end: start + content.length };
}

const LEADING = /^[ \t]*(?:[=\-#*~+/<>!_[\]\s]*)(?:file(?:name)?\s*[:=]\s*)?/i;
const TRAILING = /[\s=\-#*~+/<>!_[\]:]/;

function findBetweenNames(text: string): NamedPart[] {
  const marks: { name: string; leading: string; start: number; end: number }[] = [];
  NAME_LINE.lastIndex = 0;
  for (let match = NAME_LINE.exec(text); match && marks.length < MOST_PARTS; match = NAME_LINE.exec(text)) {
    const [line] = match;
    if (line.length > LONGEST_LINE) continue;
    const leading = LEADING.exec(line)![0];
    const name = toFileName(trimEndOf(line.slice(leading.length), TRAILING));
    // Lines that name files within a page or script look otherwise than the first that names one.
    if (name !== null && (marks.length === 0 || marks[0]!.leading === leading))
      marks.push({ name, leading, start: match.index, end: match.index + line.length });
  }
  const [first] = marks;
  const isSplit = new Set(marks.map(({ name }) => name.toLowerCase())).size > 1;
  if (first === undefined || !isSplit || /<(?:!doctype|html|svg|script|style)\b/i.test(text.slice(0, first.start)))
    return [];
  return marks.map(({ name, end }, index) => {
    const next = marks[index + 1]?.start ?? text.length;
    const part = trimPart(text, end, next, []);
    return { ...part, label: `part ${index + 1} (${name})`, name, isClosed: index < marks.length - 1 };
  });
}
