import { type PromptDefinition, watchpointText } from "@tourney/core/contract";
import { BoutTally, type ChosenBout, Exhibition, mayMeet, type Situation, Teacher } from "@tourney/core/pairing";
import { cached } from "../cached.js";
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

/**
 * Knows of each panel what may be shown and how often what was shown, read at most once a second however many voters ask: choosing a bout
 * then costs what one voter's own bouts cost.
 */
export function createBoutSituations({ booth, standings }: { booth: BoothRepository; standings: StandingsService }) {
  async function read({ panelId, editionId, contest, newcomer }: AskedPanel): Promise<PanelSituation> {
    const [fitted, candidates, counts, prompts] = await Promise.all([
      // The ratings say nothing of an entrant against itself, or of pages that were mended.
      contest === "entrants" ? standings.getFit(editionId) : null,
      booth.listCandidates(panelId, contest),
      booth.countBouts(panelId),
      booth.listPrompts(editionId),
    ]);
    const losing = new Set(candidates.flatMap(({ entryId, losesUnseen }) => (losesUnseen ? [entryId] : [])));
    const shown = new Set(candidates.map(({ entryId }) => entryId));
    const needs = new Map(candidates.map((candidate) => [candidate.entryId, candidate.needs]));
    const tally = new BoutTally();
    const knowledge = fitted && { teacher: new Teacher(fitted.fit), numberOf: fitted.numberOf };
    for (const { promptId, leftCompetitorId, rightCompetitorId, n, open } of counts) {
      tally.add(promptId, leftCompetitorId, rightCompetitorId, n);
      // What others are looking at now will teach the same: it is not asked twice.
      for (let i = 0; i < open; i++) expectBallot(knowledge, leftCompetitorId, rightCompetitorId);
    }
    return {
      exhibition: new Exhibition(candidates, (a, b) => mayMeet(contest, a, b)),
      ...{ tally, knowledge, newcomer },
      isShown: (entryId) => shown.has(entryId),
      losesUnseen: (entryId) => losing.has(entryId),
      needsOf: (entryId) => needs.get(entryId) ?? [],
      prompts: new Map(
        prompts.map(({ id, content }) => [id, contest === "hints" ? withoutWords(content, prompts) : content]),
      ),
    };
  }

  return { get: cached(read, { keyOf: ({ panelId }) => panelId, keptMs: KEPT_MS, sparing: SPARING }) };
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
  expectBallot(knowledge, left.competitorId, right.competitorId);
}

/** An entrant that came after the fit has no number in it yet. */
function expectBallot(knowledge: PanelSituation["knowledge"], left: string, right: string): void {
  const [a, b] = [knowledge?.numberOf.get(left), knowledge?.numberOf.get(right)];
  if (a !== undefined && b !== undefined) knowledge!.teacher.expect(a, b);
}
