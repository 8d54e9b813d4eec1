import type { TraceStep } from "../contract/index.js";
import { trimEndOf } from "../text-ends.js";
import { type BlockKind, classifyBlock, findCut, isElided, isShell } from "./document.js";
import { findFences } from "./fences.js";
import { findFileName, toSafePath } from "./file-names.js";
import { findNamedParts } from "./named-parts.js";
import { readJsonStrings } from "./json-strings.js";

/** A part of an answer that may be a file: a fence, a here-document, a string of a JSON wrapper, or the answer itself. */
export interface Block {
  /** What it is called in the trace: fence 2 (html, lines 14–96). */
  label: string;
  kind: BlockKind;
  language: string;
  /** The file name the answer gives it, if it is a safe one. */
  name: string | null;
  content: string;
  /** Offsets in the answer. */
  start: number;
  end: number;
  isClosed: boolean;
  /** The prose before it, since the part before. */
  before: string;
  /** What is unfinished about it, or null. */
  cut: string | null;
  isElided: boolean;
}

interface Draft {
  label: string;
  language: string;
  meta: string;
  content: string;
  start: number;
  end: number;
  isClosed: boolean;
  before: string;
  /** A name given by the container, as a JSON key. */
  givenName?: string | null;
}

function finish(draft: Draft, trace: TraceStep[]): Block {
  const { label, language, content, start, end, isClosed, before } = draft;
  const guess = classifyBlock(draft);
  const written = draft.givenName ?? findFileName(draft, guess);
  const name = written === null ? null : toSafePath(written);
  if (written !== null && name === null) {
    const why = `the file name "${written.slice(0, 80)}" is not safe and was dropped`;
    trace.push({ part: label, action: "noted", why });
  }
  const kind = classifyBlock({ ...draft, name });
  const cut = findCut(content, kind) ?? (isClosed || kind === "other" ? null : findCutAtEnd(content, kind));
  return { label, kind, language, name, content, start, end, isClosed, before, cut, isElided: isElided(content) };
}

/** An unclosed part is cut off unless its own end is there to be seen. */
function findCutAtEnd(content: string, kind: BlockKind): string | null {
  if (kind === "document") {
    const isUnframed = !/<(?:html|body)[\s>]/i.test(content) && />\s*$/.test(content);
    return isUnframed || /<\/(?:html|body)\s*>/i.test(content) ? null : "the answer ends before it does";
  }
  if (kind === "fragment") return />\s*$/.test(content) ? null : "the answer ends before it does";
  return kind === "component" ? "the answer ends before it does" : null;
}

/** No person would read on in an answer with more parts. It bounds the work: some checks compare each part with every other. */
const MOST_BLOCKS = 400;

/** What may be a file in an answer, in order, up to the first 400; further notes go into the trace. */
export function findBlocks(text: string, trace: TraceStep[]): Block[] {
  const drafts = findDrafts(text);
  if (drafts.length > MOST_BLOCKS)
    trace.push({
      part: "the whole answer",
      action: "noted",
      why: `it has more than ${MOST_BLOCKS} parts; only the first ${MOST_BLOCKS} are read`,
    });
  return drafts.slice(0, MOST_BLOCKS).map((draft) => finish(draft, trace));
}

function findDrafts(text: string): Draft[] {
  const inJson = readJsonWrapper(text, 0, "the answer's JSON");
  if (inJson !== null) return inJson;
  const fences = findFences(text);
  const drafts = fences.flatMap((fence): Draft[] => {
    const label = `fence ${fence.index + 1} (${fence.language || "no label"}, lines ${fence.firstLine}–${fence.lastLine})`;
    const documents = isShell(fence.language) || fence.language === "" ? findHereDocuments(fence, label) : [];
    if (documents.length > 0) return documents;
    const isJson = ["json", "json5", "jsonc", ""].includes(fence.language);
    const wrapped = isJson && fence.meta === "" ? readJsonWrapper(fence.content, fence.start, label) : null;
    return wrapped ?? [{ ...fence, label }];
  });
  const parts = findNamedParts(text, fences).map((part): Draft => ({ ...NO_INFO, ...part, givenName: part.name }));
  if (parts.length > 0)
    return [
      ...drafts.filter(({ start }) => !parts.some((part) => part.start <= start && start < part.end)),
      ...parts,
    ].toSorted((a, b) => a.start - b.start);
  return drafts.length > 0 ? drafts : findHereDocuments({ content: text, start: 0, before: "" }, "the answer");
}

const NO_INFO = { language: "", meta: "", before: "" } as const;

const HERE_DOCUMENT = /(?:^|[\s;&|])(?:cat|tee)\b[^\n]{0,200}<<-?[ \t]*(["']?)(\w+)\1[^\n]{0,200}$/;

/** Files written by shell here-documents: cat > index.html <<'EOF' … EOF */
function findHereDocuments(
  { content, start, before }: { content: string; start: number; before: string },
  label: string,
): Draft[] {
  const found: Draft[] = [];
  let offset = 0;
  let open: { end: string; name: string | null; from: number } | null = null;
  for (const line of content.split("\n")) {
    const next = offset + line.length + 1;
    if (open === null) {
      const match = HERE_DOCUMENT.exec(line);
      if (match) {
        const target = /(?:>{1,2}\s*|\btee\s+(?:-a\s+)?)["']?([^\s"'<>|;&]+)["']?/.exec(line)?.[1] ?? null;
        open = { end: match[2]!, name: target, from: next };
      }
    } else if (line.trim() === open.end) {
      found.push(toDraft(open, offset, true));
      open = null;
      if (found.length > MOST_BLOCKS) break;
    }
    offset = next;
  }
  if (open !== null) found.push(toDraft(open, content.length, false));
  return found;

  function toDraft({ name, from }: { name: string | null; from: number }, end: number, isClosed: boolean): Draft {
    const at = { start: start + from, end: start + end, isClosed, before: found.length === 0 ? before : "" };
    const part = `${label}, here-document ${name ?? found.length + 1}`;
    return { ...at, label: part, language: "", meta: "", content: content.slice(from, end), givenName: name };
  }
}

const CONTENT_KEYS =
  /^(?:html|code|content|contents|source|text|body|answer|output|page|svg|css|js|javascript|script|style|data|artifact)$/i;
const NAME_KEYS = /^(?:path|name|file|filename|file_name|filepath|title)$/i;
const IS_FILE_NAME = /^[^\n]{1,200}\.[a-z]{2,5}$/i;

/** The files in a JSON text that wraps them, or null when it is not one. */
function readJsonWrapper(text: string, offset: number, label: string): Draft[] | null {
  if (!/^\s*[[{"]/.test(text)) return null;
  const strings = readJsonStrings(text);
  if (strings === null) return null;
  const [only] = strings;
  // JSON within a string of JSON: written twice on its way here.
  if (strings.length === 1 && only!.path.length === 0 && /^\s*[[{"]/.test(only!.value)) {
    const place = { start: offset + only!.start, end: offset + only!.end };
    return readJsonWrapper(only!.value, 0, label)?.map((draft) => ({ ...draft, ...place })) ?? null;
  }
  const names = new Map<string, string>();
  for (const { path, value } of strings)
    if (NAME_KEYS.test(path.at(-1) ?? "") && IS_FILE_NAME.test(value)) names.set(path.slice(0, -1).join("\n"), value);
  const drafts = strings
    .filter(({ value }) => /[<{;]/.test(value) && value.length > 20)
    .flatMap(({ path, value, start, end, isClosed }): Draft[] => {
      const key = path.at(-1) ?? "";
      const owner = path.slice(0, -1).join("\n");
      const isUnderName = IS_FILE_NAME.test(key);
      const parentKey = path.at(-2) ?? "";
      const name =
        (isUnderName ? key : null) ??
        names.get(owner) ??
        (CONTENT_KEYS.test(key) && IS_FILE_NAME.test(parentKey) ? parentKey : null);
      if (name === null && path.length > 0 && !CONTENT_KEYS.test(key) && !/^\d+$/.test(key)) return [];
      const language = /^(?:css|style)$/i.test(key) ? "css" : /^(?:js|javascript|script)$/i.test(key) ? "js" : "";
      const place = { start: offset + start, end: offset + end, isClosed, before: "" };
      // A string may hold a fenced page in its turn.
      const [inner, ...more] = /```/.test(value) ? findFences(value) : [];
      const only = inner !== undefined && more.length === 0 ? inner : null;
      const content = only?.content ?? value;
      return [
        {
          label: `${label}, "${path.join(".") || "text"}"`,
          language: only?.language ?? language,
          meta: "",
          content,
          ...place,
          givenName: name,
        },
      ];
    });
  const isPage = drafts.some(({ content, language, givenName }) => {
    const kind = classifyBlock({ content, language, name: givenName ?? null });
    return kind === "document" || kind === "svg" || kind === "fragment" || kind === "component";
  });
  return isPage ? drafts : null;
}

/** The answer's own text as a block, when it holds a document or drawing that no fence is round. */
export function findRawBlock(text: string, trace: TraceStep[]): Block | null {
  const opening = /<!doctype\s+html|<html[\s>]|<svg[\s>]/i.exec(text);
  if (!opening) return findRawFragment(text, trace);
  const isDrawing = opening[0].toLowerCase().startsWith("<svg");
  const start = isDrawing ? findProlog(text, opening.index) : opening.index;
  const closing = isDrawing ? "</svg>" : "</html>";
  const last = text.toLowerCase().lastIndexOf(closing);
  const end = last > start ? last + closing.length : text.length;
  const before = text.slice(0, start);
  const content = dedent(text.slice(start, end), before.slice(trimEndOf(before, /[ \t]/).length));
  const isClosed = last > start;
  const draft = { language: "", meta: "", content, start, end, isClosed, before: "", givenName: null };
  return finish({ ...draft, label: `the answer's own text from offset ${start}` }, trace);
}

/** Where a drawing begins: at the declaration that stands right before its first tag, or at that tag. */
function findProlog(text: string, at: number): number {
  const before = text.slice(0, at).trimEnd();
  if (!before.endsWith("?>")) return at;
  const start = before.lastIndexOf("<?xml");
  return start === -1 || before.slice(start, -1).includes(">") ? at : start;
}

/** Code that was set in by four spaces or more, as a code block without a fence is, as it was before. */
function dedent(content: string, indent: string): string {
  if (indent.length < 4 && !indent.includes("\t")) return content;
  const [first = "", ...rest] = content.split("\n");
  const isSetIn = rest.every((line) => line.trim() === "" || line.startsWith(indent));
  return isSetIn ? [first, ...rest.map((line) => line.slice(indent.length))].join("\n") : content;
}

/** Page code without a document round it and without a fence: the answer begins with markup and is all markup. */
function findRawFragment(text: string, trace: TraceStep[]): Block | null {
  const start = text.search(/\S/);
  if (
    start === -1 ||
    !/^<(?:style|script|div|canvas|main|section|header|body|head|link|meta|table|form|template)[\s>]/i.test(
      text.slice(start, start + 40),
    )
  )
    return null;
  const content = text.slice(start);
  const place = {
    language: "html",
    meta: "",
    content,
    start,
    end: text.length,
    isClosed: false,
    before: "",
    givenName: null,
  };
  return finish({ ...place, label: "the answer's own text" }, trace);
}

const REFERENCES: Readonly<Record<string, string>> = {
  lt: "<",
  gt: ">",
  quot: '"',
  "#39": "'",
  apos: "'",
  "#x27": "'",
  amp: "&",
  nbsp: "\u00a0",
  "#x2f": "/",
  "#47": "/",
  "#96": "`",
  "#x60": "`",
};

/** Whether a text is markup whose angle brackets were escaped on the way. */
export const isEscapedMarkup = (text: string): boolean =>
  /&lt;(?:!doctype|html|svg|body|div|canvas|script)\b/i.test(text) && !/<(?:!doctype|html|svg)\b/i.test(text);

/** Undoes one level of HTML escaping. */
export const unescapeMarkup = (text: string): string =>
  text.replace(
    /&(lt|gt|quot|#39|apos|#x27|amp|nbsp|#x2f|#47|#96|#x60);/gi,
    (_, name: string) => REFERENCES[name.toLowerCase()]!,
  );
