import type { TraceStep } from "../contract/index.js";
import type { Block } from "./blocks.js";

/** The page that is meant, and what stands with it. */
export interface Chosen {
  page: Block;
  /** Blocks that belong to other alternatives or to earlier versions, and so not to this page. */
  excluded: ReadonlySet<Block>;
}

const CORRECTS =
  /\b(?:correct(?:ed|ion|ing|s)?|fix(?:ed|es|ing)?|bugs?|oops|sorry|mistakes?|apologi[sz]e|actually|wait|final|revis(?:ed|ion|ing)|updat(?:ed?|ing)|improv(?:ed?|ing|ements?)|rewrit(?:e|ten)|rewrote|refin(?:ed?|ing)|polish(?:ed)?|complete|full|whole|better|instead of the above|replace|now with|that leaves out|v(?:ersion )?[2-9](?:\.\d)?\b)\b/i;
const OFFERS =
  /\b(?:alternativ(?:e|ely|es)|option\s*(?:[b-f]|[2-9]|two|three)\b|(?:variant|version|variation|approach|design|take|concept|style|idea)\s*(?:[b-f]\b|two|three|#?[2-9]\b)|or,? if you(?:'d)? (?:prefer|want|like|rather|need)|if you(?:'d)? (?:prefer|rather)|another (?:option|approach|variant|variation|take|way|version|design|possibility)|(?:second|third) (?:option|approach|variant|variation|design|concept|alternative)|(?:simpler|lighter|minimal|shorter|fancier|plain(?:er)?|lite|basic|smaller|bonus) (?:version|variant|alternative|option|edition))/i;
const OFFERS_MANY =
  /\b(?:two|three|four|several|a few|a couple of|both|2|3|4)\b[^.\n]{0,40}\b(?:versions?|options?|variants?|variations?|approaches|alternatives?|ways|takes|designs|concepts|directions|styles)\b/i;
const LEAVES_CHOICE =
  /\b(?:which(?:ever)?(?: one| version| option)? (?:you|do you|would you|suits)|(?:pick|choose|use) (?:one|either|whichever|the one)|either (?:one|version|of (?:these|them)) works|both (?:versions |of them )?work|up to you)\b/i;
const USES =
  /\b(?:test(?:ing|ed)? (?:it|this|page|harness|file|the)|to test|quick test|unit test|try it (?:in|with)|embed(?:ding|ded)?|iframe|include (?:it|this) in|usage|use it like|to use (?:it|this)|for example|example of|e\.g\.|for instance|snippet|skeleton|boilerplate|minimal example|reproduc|compare|this (?:part|section|piece|line)|looks? like this|structure is|how it works|explain|quot(?:e|ing)|the (?:key|important|relevant|interesting|core) (?:part|piece|bit|section|line))/i;
const ALTERNATIVE_NAMED =
  /(?:option|alternative|variant|version|alt|simple|lite|minimal)[-_ ]?[a-z0-9]?\.(?:html?|svg)$/i;

const skip = (block: Block, why: string): TraceStep => ({ part: block.label, action: "skipped", why });

/**
 * Chooses among the pages of an answer: the last complete version when the answer corrects itself, the first complete one
 * when it offers alternatives, the earlier complete one when the later only quotes, leaves out, or tests it.
 */
export function choosePage(
  pages: readonly Block[],
  { text, trace }: { text: string; trace: TraceStep[] },
): Chosen | null {
  const whole = preferring(pages, (page) => !page.isElided, trace, "it leaves out parts of another version");
  const complete = preferring(
    whole,
    (page) => page.cut === null,
    trace,
    (page) => `it is cut off (${page.cut!})`,
  );
  const [first, ...later] = complete;
  if (first === undefined) return null;
  if (later.length === 0) {
    const quality = pages.length > 1 ? "complete " : "";
    trace.push({ part: first.label, action: "taken", why: `it is the only ${quality}${describe(first)}` });
    return { page: first, excluded: new Set() };
  }
  return walkVersions(first, later, { text, trace });
}

const describe = ({ kind }: Block) =>
  ({ document: "page", fragment: "page code", svg: "drawing", component: "component" })[kind as string] ?? kind;

/** Those that pass, or all when none does; the others are skipped aloud. */
function preferring(
  blocks: readonly Block[],
  passes: (block: Block) => boolean,
  trace: TraceStep[],
  why: string | ((block: Block) => string),
): readonly Block[] {
  const passing = blocks.filter(passes);
  if (passing.length === 0 || passing.length === blocks.length) return blocks;
  for (const block of blocks) if (!passes(block)) trace.push(skip(block, typeof why === "string" ? why : why(block)));
  return passing;
}

type Relation = "corrects" | "alternative" | "uses" | "quotes" | "sibling";

function walkVersions(
  first: Block,
  later: readonly Block[],
  { text, trace }: { text: string; trace: TraceStep[] },
): Chosen {
  const intro = text.slice(0, first.start).slice(-1500);
  const closing = text.slice(later.at(-1)!.end).slice(0, 600);
  const offersMany =
    OFFERS_MANY.test(intro.replace(/\b(?:two|three|four|several|2|3|4) (?:files|parts|sections)\b/gi, "")) ||
    LEAVES_CHOICE.test(closing);
  const excluded = new Set<Block>();
  let page = first;
  let why = "it is the first complete version";
  for (const next of later) {
    const relation = relate(page, next, offersMany);
    if (relation === "corrects") {
      trace.push(skip(page, `${next.label} is a later version of it`));
      excluded.add(page);
      page = next;
      why = "it is the last complete version";
    } else if (relation === "sibling") continue;
    else {
      excluded.add(next);
      const reasons = {
        alternative: "it is an alternative; the first one counts",
        uses: "it only shows how the page is used, tested or built",
        quotes: "it quotes a part of the page",
      };
      trace.push(skip(next, reasons[relation]));
      if (relation === "alternative") why = "the answer offers alternatives; the first one counts";
    }
  }
  trace.push({ part: page.label, action: "taken", why });
  return { page, excluded };
}

/** What a later complete page is to the one that is meant so far, by what is said before it and by what it holds. */
function relate(page: Block, next: Block, offersMany: boolean): Relation {
  const said = lastWords(next.before);
  const corrects = CORRECTS.test(said);
  const offers = OFFERS.test(said) || (next.name !== null && ALTERNATIVE_NAMED.test(next.name));
  if (isWithin(next, page)) return next.content.length === page.content.length ? "corrects" : "quotes";
  const isNamedApart = next.name !== null && page.name !== null && next.name.toLowerCase() !== page.name.toLowerCase();
  if (offers && !/\b(?:fix|correct|bug|mistake|oops|final)/i.test(said)) return "alternative";
  if (page.kind === "svg" && next.kind === "document" && USES.test(said) && isWithin(page, next)) return "uses";
  if (isParallel(page, next) && !corrects) return "alternative";
  if (isNamedApart && !offersMany) return isTestName(next.name!) ? "uses" : "sibling";
  if (offersMany && !/\b(?:fix|correct|bug|mistake|oops|final|combin|merg)/i.test(said)) return "alternative";
  const isSmall = next.content.length < page.content.length * 0.35;
  if (page.kind === "document" && next.kind === "svg" && !corrects) return "uses";
  if (showsPage(next, page)) return "uses";
  if (USES.test(said) && !corrects) return isSmall || /\b(?:test|embed|usage|iframe)/i.test(said) ? "uses" : "corrects";
  return isSmall && !corrects && next.content.length < 1500 ? "uses" : "corrects";
}

/** Labels that tell of one work going on rather than of two works side by side. */
const GOES_ON =
  /\b(?:step|stage|part|phase|round|iteration|attempt|try|draft|sketch|outline|skeleton|rough|initial|start(?:ing)?|before|after|day|next|then|now|result|together|first|structure|markup)\b/i;
const LONGEST_LABEL = 60;

/** Whether two blocks stand under labels of one form, as in "### Light theme" and "### Dark theme": neither corrects the other. */
function isParallel(page: Block, next: Block): boolean {
  const [a, b] = [readLabel(page.before), readLabel(next.before)];
  return a !== null && b !== null && a.form === b.form && a.text !== b.text && !GOES_ON.test(`${a.text} ${b.text}`);
}

/** The label right before a block: a heading, a bold line, or a few words and a colon. */
function readLabel(before: string): { form: string; text: string } | null {
  const line = before.trim().split("\n").at(-1)!.trim();
  if (line === "" || line.length > LONGEST_LABEL) return null;
  const heading = /^(#{1,6})\s+(\S.*)$/.exec(line) ?? /^(\*\*|__)(.+?):?(?:\*\*|__):?$/.exec(line);
  if (heading) return { form: heading[1]!, text: heading[2]!.toLowerCase() };
  const words = line.split(/\s+/).length;
  return /^[^.!?]+:$/.test(line) && words <= 4 ? { form: ":", text: line.toLowerCase() } : null;
}

/** The last paragraph or two before a block: what the answer says of it. */
const lastWords = (before: string) =>
  before
    .trim()
    .split(/\n\s*\n/)
    .slice(-3)
    .join("\n")
    .slice(-700);

const isTestName = (name: string) => /(?:^|[/_.-])(?:test|tests|spec|demo|example|embed)(?:[/_.-]|$)/i.test(name);

/** Whether a page only frames the other one. */
const showsPage = (next: Block, page: Block): boolean =>
  next.content.length < page.content.length &&
  /<(?:iframe|embed|object)\b[^>]{0,300}\b(?:src|data)\s*=/i.test(next.content) &&
  next.content.length < 3000;

const squeeze = (text: string) => text.replace(/\s+/g, " ").trim();

function isWithin(part: Block, whole: Block): boolean {
  return part.content.length <= whole.content.length && squeeze(whole.content).includes(squeeze(part.content));
}

export { isWithin, lastWords, CORRECTS as CORRECTION_WORDS, OFFERS as OFFER_WORDS };
