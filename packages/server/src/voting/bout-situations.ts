import { type PromptDefinition, watchpointText } from "@tourney/core/contract";
import { BoutTally, type ChosenBout, Exhibition, mayMeet, type Situation, Teacher } from "@tourney/core/pairing";
import { cached } from "../cached.js";
import type { Stamps } from "../changes/changes.js";
import { Kept } from "../changes/kept.js";
import { RowsByWording } from "../changes/rows-by-wording.js";
import type { StandingsService } from "../standings/service.js";
import type { BoothRepository } from "./booth-repository.js";
import type { Turn } from "./turn.js";

/** What all voters of a panel share when a bout is chosen. */
export interface PanelSituation extends Pick<Situation, "exhibition" | "tally" | "knowledge" | "newcomer"> {
  /** Whether the panel may put it into a bout. */
  isShown: (entryId: string) => boolean;
  /** Whether it loses without being shown: it shows nothing, or there is no page. */
  losesUnseen: (entryId: string) => boolean;
  /** What its page asks a machine for, in words. */
  needsOf: (entryId: string) => readonly string[];
  /** Of the whole edition. */
  prompts: ReadonlyMap<string, PromptDefinition>;
}

/** The panel whose turn it is. */
type AskedPanel = Pick<Turn, "panelId" | "editionId" | "contest" | "newcomer">;

/** How old it may be. What this process issued since is in it; what others did, and what became ready, comes with the next. */
const KEPT_MS = 1000;
/** Reading it takes at most one part in this many of the time. */
const SPARING = 40;
/** What is counted in less than this is counted anew each time. */
const QUICK_MS = 100;
/**
 * Counting all bouts of a panel, which grows with them, takes at most one part in so many. Meanwhile what this process issues is counted as it is issued; what is taken back or
 * never answered stays in until then, which is a detail.
 */
const SPARING_COUNTS = 200;

/** What a panel shows. */
type Shown = Pick<PanelSituation, "exhibition" | "isShown" | "losesUnseen" | "needsOf" | "prompts"> & {
  sides: readonly string[];
};

/**
 * Knows of each panel what may be shown and how often what was shown, read at most once a second however many voters ask: choosing a bout
 * then costs what one voter's own bouts cost.
 */
export function createBoutSituations({ booth, standings }: { booth: BoothRepository; standings: StandingsService }) {
  const shown = new Kept<Shown>(null, { rests: SPARING });
  const candidatesOf = new RowsByWording<Awaited<ReturnType<BoothRepository["listCandidates"]>>[number]>();
  const counts = new Map<string, { sides: string; tally: BoutTally; until: number }>();

  async function readShown({ panelId, editionId, contest }: AskedPanel): Promise<Shown> {
    const [candidates, prompts] = await Promise.all([
      candidatesOf.list(`${panelId} ${contest}`, (wordingIds) => booth.listCandidates(panelId, contest, wordingIds)),
      booth.listPrompts(editionId),
    ]);
    const losing = new Set(candidates.flatMap(({ entryId, losesUnseen }) => (losesUnseen ? [entryId] : [])));
    const own = new Set(candidates.map(({ entryId }) => entryId));
    const needs = new Map(candidates.map((candidate) => [candidate.entryId, candidate.needs]));
    return {
      exhibition: new Exhibition(candidates, (a, b) => mayMeet(contest, a, b)),
      sides: [...new Set(candidates.map(({ competitorId }) => competitorId))].toSorted(),
      isShown: (entryId) => own.has(entryId),
      losesUnseen: (entryId) => losing.has(entryId),
      needsOf: (entryId) => needs.get(entryId) ?? [],
      prompts: new Map(
        prompts.map(({ id, content }) => [id, contest === "hints" ? withoutWords(content, prompts) : content]),
      ),
    };
  }

  async function countBouts(panelId: string, sides: readonly string[]): Promise<BoutTally> {
    const key = JSON.stringify(sides);
    const before = counts.get(panelId);
    if (before !== undefined && before.sides === key && performance.now() < before.until) return before.tally;
    const startedAt = performance.now();
    const tally = await booth.countBouts(panelId, sides);
    const now = performance.now();
    counts.set(panelId, {
      sides: key,
      tally,
      until: now + (now - startedAt < QUICK_MS ? 0 : SPARING_COUNTS * (now - startedAt)),
    });
    return tally;
  }

  async function read(panel: AskedPanel): Promise<PanelSituation> {
    const { panelId, editionId, contest, newcomer } = panel;
    const [fitted, { sides, ...found }, open] = await Promise.all([
      // The ratings say nothing of an entrant against itself, or of pages that were mended.
      contest === "entrants" ? standings.getFit(editionId) : null,
      shown.get(`${panelId} ${contest}`, () => readShown(panel)),
      booth.listOpenBouts(panelId),
    ]);
    const tally = await countBouts(panelId, sides);
    const knowledge = fitted && { teacher: new Teacher(fitted.fit), numberOf: fitted.numberOf };
    // What others are looking at now will teach the same: it is not asked twice.
    expectBallots(
      knowledge,
      open.map(({ leftCompetitorId, rightCompetitorId }) => [leftCompetitorId, rightCompetitorId]),
    );
    return { ...found, tally, knowledge, newcomer };
  }

  return {
    get: cached(read, { keyOf: ({ panelId }) => panelId, keptMs: KEPT_MS, sparing: SPARING }),
    /** From now on what a panel shows is read again when entries have changed, not each time. */
    follow(changes: Stamps) {
      candidatesOf.follow(changes);
      shown.follow(changes);
    },
  };
}

/**
 * A prompt as voters read it who compare it with its variants: one of the two texts would speak for the page that was made from it, so they read neither, and
 * look for what all of them ask.
 */
function withoutWords(prompt: PromptDefinition, prompts: readonly { content: PromptDefinition }[]): PromptDefinition {
  const variants = prompts.filter(({ content }) => content.variantOf?.prompt === prompt.key);
  const isInAll = (watchpoint: PromptDefinition["watchpoints"][number]) =>
    variants.every(({ content }) =>
      content.watchpoints.some((other) => watchpointText(other) === watchpointText(watchpoint)),
    );
  return { ...prompt, text: WORDED_APART, turns: [], watchpoints: prompt.watchpoints.filter(isInAll) };
}
const WORDED_APART = "The two were asked for in different words. Judge by the task in the line above.";

/** Notes that a bout was issued, for whoever is next. */
export function noteBout({ tally, knowledge }: PanelSituation, { promptId, left, right }: ChosenBout): void {
  tally.add(promptId, left.competitorId, right.competitorId);
  expectBallots(knowledge, [[left.competitorId, right.competitorId]]);
}

/** An entrant that came after the fit has no number in it yet. */
function expectBallots(
  knowledge: PanelSituation["knowledge"],
  sides: readonly (readonly [left: string, right: string])[],
): void {
  if (knowledge === null) return;
  const { numberOf, teacher } = knowledge;
  teacher.expect(
    sides.flatMap(([left, right]) => {
      const [a, b] = [numberOf.get(left), numberOf.get(right)];
      return a === undefined || b === undefined ? [] : [[a, b] as const];
    }),
  );
}
