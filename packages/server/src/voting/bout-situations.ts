import type { PromptDefinition } from "@tourney/core/contract";
import { BoutTally, type ChosenBout, Exhibition, type Situation, Teacher } from "@tourney/core/pairing";
import { keep } from "../kept.js";
import type { StandingsService } from "../standings/service.js";
import type { BoothRepository } from "./booth-repository.js";
import type { Turn } from "./turn.js";

/** What all voters of a panel share when a bout is chosen. */
export interface PanelSituation extends Pick<Situation, "exhibition" | "tally"> {
  knowledge: NonNullable<Situation["knowledge"]>;
  isBroken: (entryId: string) => boolean;
  /** Whether the panel may show it. */
  isShown: (entryId: string) => boolean;
  /** Whether an entry that shows nothing loses without being shown. */
  losesUnseen: boolean;
  /** Of the whole edition. */
  prompts: ReadonlyMap<string, PromptDefinition>;
}

/** It may be this old. What this process issued since is in it; what others did, and what became ready, comes with the next. */
const KEPT_MS = 1000;
/** Of the time, at most one part in so many is spent on reading it. */
const SPARING = 40;

/**
 * Knows of each panel what may be shown and how often what was shown, read at most once a second however many voters ask: choosing a bout
 * then costs what one voter's own bouts cost.
 */
export function createBoutSituations({ booth, standings }: { booth: BoothRepository; standings: StandingsService }) {
  async function read({ panelId, editionId }: Pick<Turn, "panelId" | "editionId">): Promise<PanelSituation> {
    const [{ fit, numberOf }, candidates, counts, losesUnseen, prompts] = await Promise.all([
      standings.getFit(editionId),
      booth.listCandidates(panelId),
      booth.countBouts(panelId),
      booth.losesUnseen(panelId),
      booth.listPrompts(editionId),
    ]);
    const broken = new Set(candidates.flatMap(({ entryId, isBroken }) => (isBroken ? [entryId] : [])));
    const shown = new Set(candidates.map(({ entryId }) => entryId));
    const tally = new BoutTally();
    const teacher = new Teacher(fit);
    for (const { promptId, leftEntrantId, rightEntrantId, n, open } of counts) {
      tally.add(promptId, leftEntrantId, rightEntrantId, n);
      // What others are looking at now will teach the same: it is not asked twice.
      for (let i = 0; i < open; i++) expectBallot({ teacher, numberOf }, leftEntrantId, rightEntrantId);
    }
    return {
      exhibition: new Exhibition(candidates),
      tally,
      knowledge: { teacher, numberOf },
      isBroken: (entryId) => broken.has(entryId),
      isShown: (entryId) => shown.has(entryId),
      losesUnseen,
      prompts: new Map(prompts.map(({ id, content }) => [id, content])),
    };
  }

  return { get: keep(read, { keyOf: ({ panelId }) => panelId, keptMs: KEPT_MS, sparing: SPARING }) };
}

/** Notes that a bout was issued, for whoever is next. */
export function noteBout({ tally, knowledge }: PanelSituation, { promptId, left, right }: ChosenBout): void {
  tally.add(promptId, left.entrantId, right.entrantId);
  expectBallot(knowledge, left.entrantId, right.entrantId);
}

/** An entrant that came after the fit has no number in it yet. */
function expectBallot({ teacher, numberOf }: PanelSituation["knowledge"], left: string, right: string): void {
  const [a, b] = [numberOf.get(left), numberOf.get(right)];
  if (a !== undefined && b !== undefined) teacher.expect(a, b);
}
