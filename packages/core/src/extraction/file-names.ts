import { trimEndOf } from "../text-ends.js";
import type { BlockKind } from "./document.js";

const WHOLE_NAME =
  /^(?:[a-z]:)?(?:[\w@.$()[\]-]*[/\\])*[\w@$()[\]-][\w@.$()[\]-]*\.(?:html?|xhtml|svg|css|[mc]?jsx?|json|txt|csv|glsl|vert|frag|wgsl|tsx?|vue|md|py|sh)$/i;
const RESERVED = /^(?:con|prn|aux|nul|com\d|lpt\d)(?:\.|$)/i;
const LONGEST_PATH = 200;
/** A longer text is no name that a file could have. */
const LONGEST_NAME = 1000;
const isFileName = (text: string) => text.length <= LONGEST_NAME && WHOLE_NAME.test(text);
const LONGEST_LINE = 160;

/**
 * A file name as an answer gave it, made safe to use as a relative path, or null when it cannot be:
 * nothing absolute, no way upwards, no drive letter, no control character, none that systems or objects reserve.
 */
export function toSafePath(name: string): string | null {
  const path = name
    .trim()
    .replaceAll("\\", "/")
    .replace(/^(?:\.\/)+/, "");
  // eslint-disable-next-line no-control-regex -- control characters are what this looks for
  if (path === "" || path.length > LONGEST_PATH || /[\u0000-\u001f\u007f:*?"<>|]/.test(path)) return null;
  const parts = path.split("/");
  const isBad = (part: string) =>
    part === "" ||
    part === "." ||
    part === ".." ||
    ["__proto__", "constructor", "prototype"].includes(part.toLowerCase()) ||
    RESERVED.test(part) ||
    /[. ]$/.test(part);
  return parts.some(isBad) ? null : path;
}

/** A file name within marks of code spans, quotes or bold, or null when it is none. */
export function toFileName(text: string): string | null {
  const name = text.trim().replace(/^[`"'*_]+/, "");
  const bare = trimEndOf(name, /[`"'*_]/);
  return isFileName(bare) ? bare : null;
}

/** What a block needs to be given a name. */
export interface Nameable {
  language: string;
  /** The rest of the info string. */
  meta: string;
  content: string;
  /** The text before the block. */
  before: string;
}

/** The name in the info string: ```html index.html, ```index.html, ```html title="index.html", ```html:index.html */
function findInInfo({ language, meta }: Nameable): string | null {
  if (isFileName(language)) return language;
  const colon = /^[a-z]+[:=](.+)$/i.exec(language)?.[1];
  if (colon !== undefined && isFileName(colon)) return colon;
  const attribute = /(?:title|file(?:name|path)?|name|path|src)\s*[=:]\s*(?:"([^"]*)"|'([^']*)'|([^"'\s}]+))/i.exec(
    meta,
  );
  const value = attribute?.[1] ?? attribute?.[2] ?? attribute?.[3];
  // A name that is given as one counts as such even when it is hostile, so that it can be refused aloud.
  if (value !== undefined && (isFileName(value) || /\.[a-z]{2,5}$/i.test(value))) return value;
  return meta.split(/[\s{}(),]+/).find((word) => isFileName(word)) ?? null;
}

const trimMarks = (text: string) => trimEndOf(withoutLead(text), /[\s:*_`"'=\-–—.]/).replace(/^[`"'*]+/, "");

const withoutLead = (text: string) =>
  (/^_{1,2}[^_].*_{1,2}:?$/.test(text) ? text.replace(/^_+/, "") : text)
    .replace(/^[\s>*_#\-–—=+\d.()[\]]*?(?=[\w@./\\`"'])/, "")
    .replace(
      /^(?:the\s+)?(?:file(?:\s*name)?|path|save(?:d)? (?:this )?(?:as|in|to)|create|put (?:this )?in(?:to)?)\s*[:=]?\s+/i,
      "",
    );

/** Names on one line of prose, the most telling first: in a code span or bold, or as the whole line. */
function listNamesOnLine(line: string): string[] {
  if (line.length > LONGEST_LINE) return [];
  const marked = [...line.matchAll(/`([^`]+)`|\*\*([^*]+)\*\*|__([^_]+)__|"([^"]+)"/g)].map((match) =>
    trimMarks(match[1] ?? match[2] ?? match[3] ?? match[4] ?? ""),
  );
  const whole = trimMarks(line.trim());
  const described = /^(\S+)\s*(?:[-–—:(]|\s{2,})/.exec(whole)?.[1] ?? "";
  const said = [...line.matchAll(/\b(?:file|as|in|called|named|to|into)\s+(\S+)/gi)].map((match) =>
    trimMarks(match[1]!),
  );
  return [whole, ...marked, described, ...said].filter((name) => isFileName(name));
}

const isHeadingLike = (line: string) => /^\s*(?:#{1,6}\s|\*\*|__|`[^`]+`\s*(?::\s*)?$|\d+[.)]\s|[-*]\s)/.test(line);

/** The name in a heading, bold text or a code span before the block: on its last line, or in a heading a little above it. */
function findInProse({ before }: Nameable, kind: BlockKind): string | null {
  const lines = before
    .slice(-1500)
    .split("\n")
    .map((line) => line.trim())
    .filter((line) => line !== "")
    .slice(-4)
    .toReversed();
  for (const [distance, line] of lines.entries()) {
    if (distance > 0 && !isHeadingLike(line) && !isFileName(trimMarks(line))) continue;
    const name = listNamesOnLine(line).find((candidate) => fits(candidate, kind));
    if (name !== undefined) return name;
    if (/^#{1,6}\s/.test(line)) return null;
  }
  return null;
}

/** Whether a name's extension agrees with what the block is: prose often names another file in passing. */
export function fits(name: string, kind: BlockKind): boolean {
  const extension = /\.([a-z]+)$/i.exec(name)?.[1]?.toLowerCase() ?? "";
  switch (kind) {
    case "document":
    case "fragment":
      return /^(?:x?html?|svg|vue)$/.test(extension);
    case "svg":
      return /^(?:svg|html?)$/.test(extension);
    case "css":
      return extension === "css";
    case "js":
      return /^[mc]?[jt]s$/.test(extension);
    case "component":
      return /^(?:[mc]?[jt]sx?|vue|html)$/.test(extension);
    case "data":
    case "other":
      return true;
  }
}

/** The name in a comment on the block's first line, as HTML, CSS, JavaScript and shells write them. */
function findInFirstLine({ content }: Nameable): string | null {
  const first = content.slice(0, 300).trimStart().split("\n", 1)[0]!.trim();
  const opening = /^(?:<!--|\/\*+|\/\/+|#+)/.exec(first)?.[0];
  if (opening === undefined) return null;
  const inside = first.slice(opening.length);
  const said = (
    opening === "<!--" ? inside.replace(/-->$/, "") : opening.startsWith("/*") ? inside.replace(/\*\/$/, "") : inside
  ).trim();
  const candidate = trimMarks(said);
  if (isFileName(candidate)) return candidate;
  const described = /^(\S+)\s+[-–—:(]/.exec(candidate)?.[1] ?? "";
  return isFileName(described) ? described : null;
}

/** The file name an answer gives a block, as written, or null. */
export function findFileName(block: Nameable, kind: BlockKind): string | null {
  const inInfo = findInInfo(block);
  if (inInfo !== null) return inInfo;
  const inFirstLine = findInFirstLine(block);
  if (inFirstLine !== null && fits(inFirstLine, kind)) return inFirstLine;
  return findInProse(block, kind);
}
