import type { ArtifactKind, TraceStep, Verdict } from "../contract/index.js";
import { type BlockKind, classifyBlock, insertIntoPage, isCutOff, isElided, refersTo } from "./document.js";
import { findFences, type Fence } from "./fences.js";
import { findFileName, toSafePath } from "./file-names.js";

/** Hard limits: an answer is hostile input. */
export const LIMITS = { files: 100, fileBytes: 2_000_000, totalBytes: 8_000_000 } as const;

export interface ExtractedFile {
  path: string;
  text: string;
  /** Offsets of the text in the answer it came from. */
  from: { start: number; end: number };
}

export interface Extraction {
  verdict: Verdict;
  kind: ArtifactKind;
  /** Path of the file a browser opens, or null. */
  entry: string | null;
  files: ExtractedFile[];
  trace: TraceStep[];
}

interface Block extends Fence {
  kind: BlockKind;
  name: string | null;
}

/**
 * Takes the artifact out of an answer: the page, drawing or files that a person would save from it.
 * Pure, linear in the answer's length for any text, never throws.
 *
 * @param answer the exact text that came back.
 * @param stopReason what the endpoint reported, or null. A hint only: the verdict is judged by the document.
 */
export function extractArtifact(answer: string, { stopReason }: { stopReason: string | null }): Extraction {
  const trace: TraceStep[] = [];
  const text = blankOutReasoning(answer.startsWith("\ufeff") ? ` ${answer.slice(1)}` : answer, trace);
  if (text.trim() === "") return { verdict: "empty", kind: "none", entry: null, files: [], trace };

  const blocks = findFences(text).map((fence) => toBlock(fence, trace));
  const found = chooseFromFences(blocks, trace) ?? chooseRaw(text, trace);
  if (found === null) return withoutArtifact(text, blocks, trace);
  return applyLimits(judge(found, stopReason, trace));
}

/** The reasoning some models print first is not the answer. Blanked, not removed, so that offsets stay true. */
function blankOutReasoning(text: string, trace: TraceStep[]): string {
  const opening = /^\s*<(think|thinking|reasoning)>/i.exec(text);
  if (!opening) return text;
  const closing = new RegExp(`</${opening[1]!}>`, "i").exec(text);
  const end = closing ? closing.index + closing[0].length : text.length;
  trace.push({
    part: "reasoning block",
    action: "skipped",
    why: closing ? "it stands before the answer" : "it never ends",
  });
  return text.slice(0, end).replace(/[^\n]/g, " ") + text.slice(end);
}

const label = (block: Pick<Fence, "index" | "language" | "firstLine" | "lastLine">) =>
  `fence ${block.index + 1} (${block.language || "no label"}, lines ${block.firstLine}–${block.lastLine})`;

function toBlock(fence: Fence, trace: TraceStep[]): Block {
  const written = findFileName(fence);
  const name = written === null ? null : toSafePath(written);
  if (written !== null && name === null) {
    trace.push({
      part: label(fence),
      action: "noted",
      why: `the file name "${written.slice(0, 80)}" is not safe and was dropped`,
    });
  }
  return { ...fence, kind: classifyBlock(fence), name };
}

interface Found {
  page: Block;
  others: Block[];
}

function chooseFromFences(blocks: readonly Block[], trace: TraceStep[]): Found | null {
  const pages = blocks.filter(({ kind }) => kind === "document" || kind === "svg");
  const fragments = blocks.filter(({ kind }) => kind === "fragment");
  const page = choosePage(pages, trace) ?? choosePage(fragments, trace);
  if (page === null) return null;
  for (const other of [...pages, ...fragments]) {
    if (other !== page && other.name === null) {
      trace.push({
        part: label(other),
        action: "skipped",
        why: `fence ${page.index + 1} is the version that is meant`,
      });
    }
  }
  return { page, others: chooseOthers(blocks, page, trace) };
}

/** The last complete version when the answer corrects itself, the first complete one when it offers alternatives. */
function choosePage(pages: readonly Block[], trace: TraceStep[]): Block | null {
  const named = pages.findLast(({ name }) => name !== null && /(^|\/)index\.html?$/i.test(name));
  const whole = pages.filter((block) => {
    if (!isElided(block.content)) return true;
    trace.push({ part: label(block), action: "skipped", why: "it leaves out parts of an earlier version" });
    return false;
  });
  const complete = whole.filter((block) => !isCutOff(block.content, block.kind));
  const candidates = complete.length > 0 ? complete : whole;
  if (candidates.length === 0) return null;
  const areAlternatives =
    candidates.length > 1 &&
    candidates.every(({ before }) =>
      /\b(option|alternative|variant|version)\s*(\d|[a-c]\b|one|two)/i.test(before.slice(-300)),
    );
  const chosen =
    named !== undefined && candidates.includes(named) ? named : areAlternatives ? candidates[0]! : candidates.at(-1)!;
  const why =
    candidates.length === 1
      ? `it is the only ${complete.length > 0 ? "complete " : ""}${chosen.kind}`
      : chosen === named
        ? "it is named as the page to open"
        : areAlternatives
          ? "the answer offers alternatives; the first counts"
          : "it is the last complete version";
  trace.push({ part: label(chosen), action: "taken", why });
  return chosen;
}

/** Style sheets, scripts and further files that go with the chosen page; of two with one name the last counts. */
function chooseOthers(blocks: readonly Block[], page: Block, trace: TraceStep[]): Block[] {
  const isSelfContained =
    page.kind === "svg" || /<(script|style)[\s>]/i.test(page.content.replace(/<script[^>]*\ssrc=/gi, ""));
  const byName = new Map<string, Block>();
  const unnamed: Block[] = [];
  for (const block of blocks) {
    if (block === page || block.kind === "other" || block.kind === "component") continue;
    const linked = block.name ?? guessLinkedName(block, page.content);
    if (linked !== null) {
      byName.set(linked.toLowerCase(), { ...block, name: linked });
      trace.push({ part: label(block), action: "joined", why: `as ${linked}` });
    } else if ((block.kind === "css" || block.kind === "js") && !isSelfContained) {
      unnamed.push(block);
      trace.push({ part: label(block), action: "joined", why: "put into the page, since nothing links it" });
    } else if (block.kind === "css" || block.kind === "js") {
      trace.push({ part: label(block), action: "skipped", why: "the page brings its own; this explains a part of it" });
    }
  }
  return [...byName.values(), ...unnamed];
}

function guessLinkedName(block: Block, page: string): string | null {
  const usual =
    block.kind === "css"
      ? ["style.css", "styles.css", "main.css"]
      : block.kind === "js"
        ? ["script.js", "app.js", "main.js", "game.js"]
        : [];
  return usual.find((name) => refersTo(page, name)) ?? null;
}

/** An answer without fences, or whose fences hold no page, may still be or hold a document as it stands. */
function chooseRaw(text: string, trace: TraceStep[]): Found | null {
  const opening = /<!doctype\s+html|<html[\s>]|<svg[\s>]/i.exec(text);
  if (!opening) return null;
  const kind: BlockKind = /^<svg/i.test(opening[0]) ? "svg" : "document";
  const closing = kind === "svg" ? "</svg>" : "</html>";
  const last = text.toLowerCase().lastIndexOf(closing);
  const end = last > opening.index ? last + closing.length : text.length;
  trace.push({
    part: `the answer's own text from offset ${opening.index}`,
    action: "taken",
    why: `it is a ${kind} without a fence`,
  });
  const content = text.slice(opening.index, end);
  const place = { index: 0, firstLine: 1, lastLine: 1, isClosed: true, before: "", language: "", meta: "" };
  return { page: { ...place, kind, name: null, content, start: opening.index, end }, others: [] };
}

function judge({ page, others }: Found, stopReason: string | null, trace: TraceStep[]): Extraction {
  const named = others.filter((block): block is Block & { name: string } => block.name !== null);
  const css = others.filter(({ name, kind }) => name === null && kind === "css").map(({ content }) => content);
  const js = others.filter(({ name, kind }) => name === null && kind === "js").map(({ content }) => content);
  const isSvg = page.kind === "svg";
  const entry = page.name ?? (isSvg ? "drawing.svg" : "index.html");
  const pageText = css.length + js.length > 0 ? insertIntoPage(page.content, { css, js }) : page.content;
  const files = [
    { path: entry, text: pageText, from: { start: page.start, end: page.end } },
    ...named
      .filter(({ name }) => name.toLowerCase() !== entry.toLowerCase())
      .map(({ name, content, start, end }) => ({ path: name, text: content, from: { start, end } })),
  ];
  const isCut = isCutOff(page.content, page.kind) || others.some(({ isClosed }) => !isClosed);
  if (isCut) trace.push({ part: entry, action: "noted", why: "it ends in the middle" });
  else if (stopReason === "length") {
    trace.push({
      part: entry,
      action: "noted",
      why: "the endpoint stopped at its limit, but the document is complete",
    });
  }
  return {
    verdict: isCut ? "truncated" : "ok",
    kind: files.length > 1 ? "files" : isSvg ? "svg" : "html",
    entry,
    files,
    trace,
  };
}

function applyLimits(extraction: Extraction): Extraction {
  const trace = [...extraction.trace];
  let total = 0;
  const files = extraction.files.filter((file, index) => {
    // One UTF-16 unit is at most three bytes of UTF-8: a safe bound without encoding.
    const bytes = file.text.length * 3;
    total += bytes;
    const fits = index < LIMITS.files && bytes <= LIMITS.fileBytes * 3 && total <= LIMITS.totalBytes * 3;
    if (!fits) trace.push({ part: file.path, action: "skipped", why: "it is over the limit on files or sizes" });
    return fits;
  });
  if (files[0]?.path !== extraction.entry)
    return { verdict: "no_artifact", kind: "none", entry: null, files: [], trace };
  return { ...extraction, files, trace };
}

/** A refusal is told by what the answer is: short prose that declines, with nothing built. Else it is an answer without an artifact. */
function withoutArtifact(text: string, blocks: readonly Block[], trace: TraceStep[]): Extraction {
  const component = blocks.find(({ kind }) => kind === "component");
  if (component) trace.push({ part: label(component), action: "skipped", why: "a component alone is not a page" });
  const declines =
    /\bI(?:'m| am)? (?:can(?:'|’|no)t|cannot|won['’]t|unable|not able|sorry|must decline|have to decline|decline)\b/i;
  const isRefusal = blocks.length === 0 && text.length < 2000 && declines.test(text.slice(0, 600));
  trace.push({
    part: "the whole answer",
    action: "noted",
    why: isRefusal ? "it declines and builds nothing" : "it holds nothing a browser can run",
  });
  return { verdict: isRefusal ? "refusal" : "no_artifact", kind: "none", entry: null, files: [], trace };
}
