import type { ArtifactKind, TraceStep } from "../contract/index.js";
import type { Block } from "./blocks.js";
import { insertIntoPage } from "./document.js";
import { fits, toSafePath } from "./file-names.js";
import { listReferences, type Reference } from "./references.js";
import { type Chosen, CORRECTION_WORDS, isWithin, lastWords, OFFER_WORDS } from "./versions.js";

export interface ExtractedFile {
  path: string;
  text: string;
  /** Offsets of the text in the answer it came from (in the joined text, when several parts were given). */
  from: { start: number; end: number };
}

export interface Assembled {
  kind: ArtifactKind;
  entry: string;
  files: ExtractedFile[];
  /** What is unfinished, or null. */
  cut: string | null;
  /** Parts that stood apart in the answer and were put into the page. */
  insertedParts: number;
}

const NOT_FOR_BROWSERS =
  /(?:^|\/)(?:package(?:-lock)?\.json|tsconfig[\w.]*\.json|vite\.config\.\w+|webpack\.config\.\w+|\.eslintrc[\w.]*|readme\.md|license(?:\.\w+)?|server\.[mc]?[jt]s|[^/]+\.(?:test|spec)\.[jt]sx?)$/i;
const TWEAKS =
  /\b(?:for example|e\.g\.|to (?:change|adjust|tweak|speed|slow|make|use|add|turn|test)|adjust|tweak|try|you (?:can|could|may|might)|if you(?:'d)? (?:want|like|prefer|need)|optional(?:ly)?|want (?:to|it)|experiment|customi[sz]e|explain|how it works|the (?:key|core|important|main|interesting) (?:part|idea|bit|piece|line|trick)|works like this|this (?:line|part|function)|snippet)\b/i;
const SMALL_LINES = 12;

/** Joins the chosen page with the style sheets, scripts and further files that belong to it. */
export function assemble({ page, excluded }: Chosen, blocks: readonly Block[], trace: TraceStep[]): Assembled {
  const entry = page.name ?? defaultName(page);
  const named = new Map<string, Block & { name: string }>();
  const unnamed: Block[] = [];
  const candidates = blocks.filter(
    (block) => block !== page && !excluded.has(block) && !belongsToExcluded(block, blocks, excluded),
  );
  const links = page.kind === "component" ? () => [] : listingLinks(page.content);
  for (const block of candidates) {
    const why = whyLeftOut(block, page, entry) ?? whyUnmentioned(block, page, candidates);
    if (why !== null) {
      // The choice among versions may have told of it already, and better.
      if (trace.every(({ part, action }) => part !== block.label || action !== "skipped"))
        trace.push({ part: block.label, action: "skipped", why });
      continue;
    }
    const name = block.name ?? guessName(block, { links, candidates, taken: named });
    if (name !== null && name.toLowerCase() !== entry.toLowerCase()) keepNewest(named, { ...block, name }, trace);
    else if (block.kind === "css" || block.kind === "js") unnamed.push(block);
    else trace.push({ part: block.label, action: "skipped", why: "it is not part of the page" });
  }
  for (const block of named.values()) trace.push({ part: block.label, action: "joined", why: `as ${block.name}` });
  const inserted = chooseInserted(page, unnamed, trace);
  return toAssembled({ page, entry, named: [...named.values()], inserted });
}

const defaultName = ({ kind, language, content }: Block): string => {
  if (kind === "svg") return "drawing.svg";
  if (kind !== "component") return "index.html";
  if (language === "vue" || /^\s*<(?:template|script)/i.test(content)) return "App.vue";
  return language === "tsx" || language === "typescript" || language === "ts" ? "App.tsx" : "App.jsx";
};

/** Whether a block without a document stands with one that was left out: behind an alternative, or before a newer version. */
function belongsToExcluded(block: Block, blocks: readonly Block[], excluded: ReadonlySet<Block>): boolean {
  if (excluded.size === 0 || block.name !== null) return false;
  const before = blocks.findLast((other) => other.start < block.start && isPageKind(other));
  return before !== undefined && excluded.has(before);
}

const isPageKind = ({ kind }: Block) =>
  kind === "document" || kind === "svg" || kind === "fragment" || kind === "component";

function whyLeftOut(block: Block, page: Block, entry: string): string | null {
  if (block.kind === "other") return "a browser cannot run it";
  if (block.name !== null && NOT_FOR_BROWSERS.test(block.name)) return "a browser does not need it";
  if (block.name?.toLowerCase() === entry.toLowerCase() && isPageKind(block))
    return "it is another version of the page";
  if (block.kind === "component" && page.kind !== "component" && block.name === null)
    return "a component alone is not part of a page";
  if ((block.kind === "document" || block.kind === "fragment" || block.kind === "svg") && block.name === null)
    return "it is not the version that is meant";
  if (block.name === null && isWithin(block, page)) return "it quotes a part of the page";
  return null;
}

/** A component with a name of its own belongs to a page only if the page, or something with it, names it. */
function whyUnmentioned(block: Block, page: Block, candidates: readonly Block[]): string | null {
  if (block.kind !== "component" || page.kind === "component" || block.name === null) return null;
  const stem = block.name
    .split("/")
    .at(-1)!
    .replace(/\.\w+$/, "")
    .replace(/[^\w-]/g, "\\$&");
  const names = new RegExp(`["'/]${stem}(?:\\.\\w+)?["']`);
  const isNamed = [page, ...candidates].some((other) => other !== block && names.test(other.content));
  return isNamed ? null : "nothing in the page names it";
}

/** Of two files with one name the last complete one counts; names that differ only in case are one name. */
function keepNewest(
  named: Map<string, Block & { name: string }>,
  block: Block & { name: string },
  trace: TraceStep[],
): void {
  const key = block.name.toLowerCase();
  const known = named.get(key);
  if (known === undefined) {
    named.set(key, block);
    return;
  }
  if (isAddition(block, known)) {
    trace.push({ part: block.label, action: "joined", why: `added to ${known.name}, as the answer says` });
    named.set(key, { ...known, content: `${known.content.trimEnd()}\n\n${block.content}`, cut: block.cut });
    return;
  }
  const isWorse =
    (block.isElided && !known.isElided) || (block.cut !== null && known.cut === null) || isQuoteOf(block, known);
  const [kept, left] = isWorse ? [known, block] : [block, known];
  const caseNote = known.name === block.name ? "" : ` (${known.name} and ${block.name} differ only in case)`;
  trace.push({
    part: left.label,
    action: "skipped",
    why: isWorse
      ? `it leaves out parts of ${known.label}${caseNote}`
      : `${kept.label} is a later version of ${kept.name}${caseNote}`,
  });
  named.set(key, { ...kept, name: known.name });
}

const ADDS = /\b(?:add(?:ed|s|ing|ition(?:al)?)?|append(?:ed)?|extend(?:ed)?|as well|at the (?:end|bottom))\b/i;

/** A style sheet or script that is said to come on top of what the file has already. */
const isAddition = (block: Block, known: Block): boolean =>
  (block.kind === "css" || block.kind === "js") &&
  block.kind === known.kind &&
  block.content.length < known.content.length &&
  !isWithin(block, known) &&
  ADDS.test(lastWords(block.before)) &&
  !/\b(?:full|whole|complete|updated|replace|final)\b/i.test(lastWords(block.before));

const isQuoteOf = (block: Block, known: Block) => block.content.length < known.content.length && isWithin(block, known);

/** The files that a page links, listed once it is asked for them: most answers have no part without a name. */
function listingLinks(page: string): () => readonly string[] {
  let links: readonly string[] | null = null;
  const toPath = ({ target }: Reference) => target.replace(/^\.\//, "").split(/[?#]/, 1)[0]!;
  return () =>
    (links ??= [...new Set(listReferences(page, "html").map(toPath))].filter((path) => toSafePath(path) !== null));
}

/** A style sheet or script without a name is the file that the page links and nobody else brings, when there is just one such. */
function guessName(
  block: Block,
  {
    links,
    candidates,
    taken,
  }: { links: () => readonly string[]; candidates: readonly Block[]; taken: ReadonlyMap<string, Block> },
): string | null {
  if (block.kind !== "css" && block.kind !== "js") return null;
  const isTaken = (link: string) =>
    taken.has(link.toLowerCase()) || candidates.some(({ name }) => name?.toLowerCase() === link.toLowerCase());
  const open = links().filter((link) => fits(link, block.kind) && !isTaken(link));
  const rivals = candidates.filter(
    ({ kind, name, before }) => kind === block.kind && name === null && !TWEAKS.test(lastWords(before)),
  );
  return open.length > 0 &&
    (open.length === 1 || rivals.length <= open.length) &&
    (rivals.includes(block) || rivals.length === 0)
    ? open[0]!
    : null;
}

/** The unnamed style sheets and scripts that are put into the page: not those that explain, tweak or repeat it. */
function chooseInserted(page: Block, unnamed: readonly Block[], trace: TraceStep[]): Block[] {
  return (["css", "js"] as const).flatMap((kind) => {
    const all = unnamed.filter((block) => block.kind === kind);
    const behind = all.filter(({ start }) => start > page.start);
    // What stands before a corrected page belonged to the version before it.
    const isCorrected =
      behind.length > 0 && behind.length < all.length && CORRECTION_WORDS.test(lastWords(page.before));
    let kept: Block[] = [];
    for (const block of all) {
      const why =
        page.kind === "svg" || (isCorrected && !behind.includes(block))
          ? "it is not part of the page"
          : whyNotInserted(block, page, kept);
      if (why !== null) trace.push({ part: block.label, action: "skipped", why });
      else if (
        kept.length > 0 &&
        CORRECTION_WORDS.test(lastWords(block.before)) &&
        block.cut === null &&
        !block.isElided
      ) {
        for (const old of kept)
          trace.push({ part: old.label, action: "skipped", why: `${block.label} is a later version of it` });
        kept = [block];
      } else kept.push(block);
    }
    for (const block of kept)
      trace.push({ part: block.label, action: "joined", why: "put into the page, since nothing links it" });
    return kept;
  });
}

const OWN_STYLE = /<style[\s>]/i;
const OWN_SCRIPT = /<script(?![^>]*\ssrc\s*=)(?![^>]*importmap)[^>]*>\s*\S/i;

function whyNotInserted(block: Block, page: Block, kept: readonly Block[]): string | null {
  const said = lastWords(block.before);
  const isSmall = block.content.trim().split("\n").length <= SMALL_LINES;
  if ((block.kind === "css" ? OWN_STYLE : OWN_SCRIPT).test(page.content))
    return "the page brings its own; this explains a part of it";
  if (isSmall && TWEAKS.test(said)) return "it shows how a part may be changed";
  return OFFER_WORDS.test(said) && kept.length > 0 ? "it is an alternative; the first one counts" : null;
}

function toAssembled({
  page,
  entry,
  named,
  inserted,
}: {
  page: Block;
  entry: string;
  named: (Block & { name: string })[];
  inserted: Block[];
}): Assembled {
  const contents = (kind: Block["kind"]) =>
    inserted.filter((block) => block.kind === kind).map(({ content }) => content);
  const text =
    inserted.length > 0 ? insertIntoPage(page.content, { css: contents("css"), js: contents("js") }) : page.content;
  const files = [
    { path: entry, text, from: { start: page.start, end: page.end } },
    ...named.map(({ name, content, start, end }) => ({ path: name, text: content, from: { start, end } })),
  ];
  const hasComponents = page.kind === "component" || named.some(({ kind }) => kind === "component");
  const cutBlock = [page, ...named, ...inserted].find(({ cut }) => cut !== null);
  return {
    kind: hasComponents ? "component" : files.length > 1 ? "files" : page.kind === "svg" ? "svg" : "html",
    entry,
    files,
    cut: cutBlock === undefined ? null : cutBlock.cut,
    insertedParts: inserted.length,
  };
}
