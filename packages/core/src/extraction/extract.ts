import type {
  ArtifactFacts,
  ArtifactKind,
  Leak,
  MissingReference,
  RemoteReference,
  RuleBreak,
  Rules,
  TraceStep,
  Verdict,
} from "../contract/index.js";
import { blankOutReasoning, joinAnswers } from "./answer-text.js";
import { assemble, type Assembled, type ExtractedFile } from "./assemble.js";
import { type Block, findBlocks, findRawBlock, isEscapedMarkup, unescapeMarkup } from "./blocks.js";
import { keepingReadings } from "./keeping.js";
import { findLeaks, type KnownName } from "./leaks.js";
import { findReferences } from "./references.js";
import { isRefusal } from "./refusal.js";
import { findRuleBreaks } from "./rule-breaks.js";
import { choosePage } from "./versions.js";

/** Hard limits: an answer is hostile input. */
export const LIMITS = { files: 100, fileBytes: 5_000_000, totalBytes: 20_000_000, answerLength: 20_000_000 } as const;

export interface ExtractionOptions {
  /** What the endpoint reported, or null. A hint only: the verdict is judged by the document. */
  stopReason: string | null;
  /** The prompt's rules, to say which were not kept. */
  rules?: Rules;
  /** Names that would tell who made the output. */
  names?: readonly KnownName[];
  /** The label of the part that is to be the page, where a person has chosen one. */
  choose?: string;
}

export interface Extraction {
  verdict: Verdict;
  kind: ArtifactKind;
  /** Path of the file a browser opens, or null. */
  entry: string | null;
  files: ExtractedFile[];
  missing: MissingReference[];
  remote: RemoteReference[];
  ruleBreaks: RuleBreak[];
  leaks: Leak[];
  /** Labels of the parts that could be the page. */
  choices: string[];
  trace: TraceStep[];
}

/**
 * Takes the artifact out of an answer: the page, drawing, files or component that a person would save from it.
 * Pure, linear in the answer's length for any text, never throws.
 *
 * @param answer the exact text that came back, or the texts when the answer was continued.
 */
export const extractArtifact = (answer: string | readonly string[], options: ExtractionOptions): Extraction =>
  keepingReadings(() => takeOut(answer, options));

function takeOut(answer: string | readonly string[], options: ExtractionOptions): Extraction {
  const trace: TraceStep[] = [];
  const parts = (typeof answer === "string" ? [answer] : answer).map((part) => part.slice(0, LIMITS.answerLength));
  const joined = joinAnswers(parts, trace);
  const text = blankOutReasoning(joined.startsWith("\ufeff") ? ` ${joined.slice(1)}` : joined, trace);
  if (text.trim() === "") return nothing("empty", trace);
  const { blocks, found } = find(text, trace, options.choose);
  noteRemaining(blocks, trace);
  const limited = found === null ? null : applyLimits(found, trace);
  if (limited === null || (isCrumb(limited) && isRefusal(text, "whole")))
    return withoutArtifact(text, blocks, options, trace);
  return { ...describe(limited, { text, options, trace }), choices: listChoices(blocks) };
}

const LARGEST_CRUMB = 200;

/** A line or two of markup that nobody would call a page: an answer that declines may offer it as a beginning. */
const isCrumb = ({ files }: Assembled): boolean =>
  files.length === 1 &&
  files[0]!.text.length < LARGEST_CRUMB &&
  !/<(?:!doctype|html|body|script|style|canvas|svg|button|input)\b/i.test(files[0]!.text);

const nothing = (verdict: Verdict, trace: TraceStep[]): Extraction => ({
  verdict,
  kind: "none",
  entry: null,
  files: [],
  missing: [],
  remote: [],
  ruleBreaks: [],
  leaks: [],
  choices: [],
  trace,
});

function find(text: string, trace: TraceStep[], choose?: string): { blocks: Block[]; found: Assembled | null } {
  const blocks = findBlocks(text, trace);
  const wanted = blocks.find((block) => block.label === choose && isPage(block));
  if (wanted !== undefined) return { blocks, found: assembleChosen(wanted, blocks, trace) };
  const inBlocks = assembleFrom(blocks, text, trace);
  if (inBlocks !== null) return { blocks, found: inBlocks };
  const raw = findRawBlock(text, trace);
  if (raw !== null) return { blocks: [...blocks, raw], found: assembleFrom([...blocks, raw], text, trace) };
  if (!isEscapedMarkup(text)) return { blocks, found: null };
  trace.push({
    part: "the whole answer",
    action: "noted",
    why: "its angle brackets were escaped; offsets are those of the text without escapes",
  });
  const plain = unescapeMarkup(text);
  const escaped = findBlocks(plain, trace);
  const plainRaw = escaped.some(({ kind }) => kind === "document" || kind === "svg")
    ? null
    : findRawBlock(plain, trace);
  const all = plainRaw === null ? escaped : [...escaped, plainRaw];
  return { blocks: all, found: assembleFrom(all, plain, trace) };
}

const isPage = ({ kind }: Block): boolean => kind !== "css" && kind !== "js" && kind !== "other";

const listChoices = (blocks: readonly Block[]): string[] => blocks.filter(isPage).map(({ label }) => label);

/** The page that a person chose, with what belongs to it; every other page is left out. */
function assembleChosen(page: Block, blocks: readonly Block[], trace: TraceStep[]): Assembled {
  trace.push({ part: page.label, action: "taken", why: "the lead chose it" });
  const excluded = new Set(blocks.filter((block) => block !== page && isPage(block) && block.name === null));
  return assemble({ page, excluded }, blocks, trace);
}

/** Pages come before page code, page code before components; of each sort the version that is meant. */
function assembleFrom(blocks: readonly Block[], text: string, trace: TraceStep[]): Assembled | null {
  const of = (...kinds: Block["kind"][]) => blocks.filter(({ kind }) => kinds.includes(kind));
  const components = of("component");
  const documents = of("document", "svg");
  const isShell = components.length > 0 && documents.every(({ content }) => isMountPage(content));
  const pools = isShell ? [components, documents, of("fragment")] : [documents, of("fragment"), components];
  for (const pool of pools) {
    const pages = pool.length > 0 ? preferEntry(pool) : [];
    const chosen = pages.length > 0 ? choosePage(pages, { text, trace }) : null;
    if (chosen !== null) return assemble(chosen, blocks, trace);
  }
  return null;
}

/** A page that only makes room for a component: an empty element and a module that is not plain JavaScript. */
const isMountPage = (content: string): boolean =>
  /<div\s+id\s*=\s*["'](?:root|app)["']\s*>\s*<\/div>/i.test(content) &&
  /\bsrc\s*=\s*["'](?!https?:|\/\/)[^"']*\.(?:jsx|tsx|ts|vue|m?js)["']/i.test(content) &&
  content.length < 4000;

/** Among pages with names of their own, those called index; among components, the one that the others hang on. */
function preferEntry(pool: readonly Block[]): readonly Block[] {
  const isComponent = pool[0]!.kind === "component";
  const named = isComponent
    ? pool.filter(({ name }) => name !== null && /(?:^|\/)app\.\w+$/i.test(name))
    : pool.filter(({ name }) => name === null || /(?:^|\/)index\.x?html?$/i.test(name));
  const unnamed = pool.filter(({ name }) => name === null);
  if (named.length > 0)
    return isComponent
      ? [...named, ...unnamed].toSorted((a, b) => a.start - b.start)
      : named.every(({ name }) => name === null)
        ? pool
        : named;
  if (!isComponent) return pool;
  const exporting = pool.filter(({ content }) => /export\s+default\b/.test(content));
  return exporting.length > 0 ? exporting : pool;
}

/** Every part is told of, also those that nothing was decided about. */
function noteRemaining(blocks: readonly Block[], trace: TraceStep[]): void {
  const told = new Set(trace.filter(({ action }) => action !== "noted").map(({ part }) => part));
  for (const { label, kind } of blocks) {
    if (told.has(label)) continue;
    told.add(label);
    const why =
      kind === "other"
        ? "a browser cannot run it"
        : kind === "component"
          ? "it is not the component that is meant"
          : "it is not part of a page";
    trace.push({ part: label, action: "skipped", why });
  }
}

function applyLimits(found: Assembled, trace: TraceStep[]): Assembled | null {
  let total = 0;
  const files = found.files.filter((file, index) => {
    // One UTF-16 unit is at most three bytes of UTF-8: a safe bound without encoding.
    const most = file.text.length * 3;
    total += most;
    const fits = index < LIMITS.files && most <= LIMITS.fileBytes * 3 && total <= LIMITS.totalBytes * 3;
    if (!fits) trace.push({ part: file.path, action: "skipped", why: "it is over the limit on files or sizes" });
    return fits;
  });
  return files[0]?.path === found.entry ? { ...found, files } : null;
}

function describe(
  { kind, entry, files, cut, insertedParts }: Assembled,
  { text, options, trace }: { text: string; options: ExtractionOptions; trace: TraceStep[] },
): Omit<Extraction, "choices"> {
  const { stopReason } = options;
  const facts = findFacts(files, { kind, entry, insertedParts, ...options });
  const isAtLimit = stopReason !== null && /length|max_?tokens|limit/i.test(stopReason);
  const owed = isAtLimit
    ? facts.missing.find(({ kind: what, path }) => (what === "script" || what === "style") && !path.includes(":"))
    : undefined;
  const why = cut ?? (owed === undefined ? null : `the answer stopped at its limit before ${owed.path} came`);
  if (why !== null) trace.push({ part: entry, action: "noted", why: `it is cut off: ${why}` });
  else if (isAtLimit)
    trace.push({
      part: entry,
      action: "noted",
      why: "the endpoint stopped at its limit, but what there is is complete",
    });
  if (isRefusal(text, "part"))
    trace.push({ part: "the whole answer", action: "noted", why: "it declines a part of what was asked" });
  return {
    verdict: why === null ? "ok" : "truncated",
    kind,
    entry,
    files,
    ...facts,
    trace,
  };
}

/** What there is to tell of an artifact's files besides their text. */
export function findFacts(
  files: readonly { path: string; text: string }[],
  {
    kind,
    entry,
    insertedParts = 0,
    rules,
    names = [],
  }: { kind: ArtifactKind; entry: string; insertedParts?: number } & Partial<
    Pick<ExtractionOptions, "rules" | "names">
  >,
): Omit<ArtifactFacts, "choices"> {
  const { missing, remote } = findReferences(files);
  const ruleBreaks =
    rules === undefined ? [] : findRuleBreaks(files, { entry, remote, missing, insertedParts, kind }, rules);
  return { missing, remote, ruleBreaks, leaks: findLeaks(files, names) };
}

function withoutArtifact(
  text: string,
  blocks: readonly Block[],
  { stopReason }: ExtractionOptions,
  trace: TraceStep[],
): Extraction {
  const declines =
    isRefusal(text, "whole") || (stopReason !== null && /refus|content_?filter|safety/i.test(stopReason));
  const cutPart = blocks.find(({ cut, isClosed }) => cut !== null || !isClosed);
  const isCut =
    !declines && cutPart !== undefined && (cutPart.kind === "css" || cutPart.kind === "js") && cutPart.cut !== null;
  const why = declines
    ? "it declines and builds nothing"
    : isCut
      ? "it breaks off before there is a page"
      : "it holds nothing a browser can run";
  trace.push({ part: "the whole answer", action: "noted", why });
  return nothing(declines ? "refusal" : "no_artifact", trace);
}
