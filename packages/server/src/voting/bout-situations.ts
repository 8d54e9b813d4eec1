import { BoutTally, Exhibition, type Situation, Teacher } from "@tourney/core/pairing";
import type { StandingsService } from "../standings/service.js";
import type { BoothRepository } from "./booth-repository.js";
import type { BoothPanel } from "./panel-repository.js";

/** What all voters of a panel share when a bout is chosen. */
export interface PanelSituation extends Pick<Situation, "exhibition" | "tally"> {
  knowledge: NonNullable<Situation["knowledge"]>;
  isBroken: (entryId: string) => boolean;
  /** Whether an entry that shows nothing loses without being shown. */
  losesUnseen: boolean;
}

/** It may be this old. What this process issued since is in it; what others did, and what became ready, comes with the next. */
const KEPT_MS = 1000;

/**
 * Knows of each panel what may be shown and how often what was shown, read at most once a second however many voters ask: choosing a bout
 * then costs what one voter's own bouts cost.
 */
export function createBoutSituations({ booth, standings }: { booth: BoothRepository; standings: StandingsService }) {
  const kept = new Map<string, { at: number; situation: Promise<PanelSituation> }>();

  async function read({ id, editionId }: BoothPanel): Promise<PanelSituation> {
    const [{ fit, numberOf }, candidates, counts, losesUnseen] = await Promise.all([
      standings.getFit(editionId),
      booth.listCandidates(id),
      booth.countBouts(id),
      booth.losesUnseen(id),
    ]);
    const broken = new Set(candidates.flatMap(({ entryId, isBroken }) => (isBroken ? [entryId] : [])));
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
      losesUnseen,
    };
  }

  return {
    async get(panel: BoothPanel): Promise<PanelSituation> {
      const last = kept.get(panel.id);
      if (last && Date.now() - last.at < KEPT_MS) return last.situation;
      const situation = read(panel);
      kept.set(panel.id, { at: Date.now(), situation });
      situation.catch(() => kept.delete(panel.id));
      return situation;
    },
  };
}

/** Notes that a bout was issued, for whoever is next. */
export function noteBout({ tally, knowledge }: PanelSituation, promptId: string, left: string, right: string): void {
  tally.add(promptId, left, right);
  expectBallot(knowledge, left, right);
}

/** An entrant that came after the fit has no number in it yet. */
function expectBallot({ teacher, numberOf }: PanelSituation["knowledge"], left: string, right: string): void {
  const [a, b] = [numberOf.get(left), numberOf.get(right)];
  if (a !== undefined && b !== undefined) teacher.expect(a, b);
}
