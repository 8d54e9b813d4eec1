import type { Kind, Standings } from "@tourney/core/contract";
import { keep } from "../kept.js";
import type { SuiteService } from "../suites/service.js";
import type { WallService } from "../wall/service.js";
import { countStandings, digestTallies } from "./count-standings.js";
import type { StandingsRepository } from "./repository.js";

interface StandingsDeps {
  standings: StandingsRepository;
  suites: SuiteService;
  wall: WallService;
}

type Rated = ReturnType<typeof countStandings> & { digest: string; countedAt: string };

/** The fit that bouts are chosen by may be this old: what the ballots since then teach is a detail. */
const FIT_MS = 1000;
/** Of the time, one part in so many is spent on it at most. */
const SPARING = 40;

/**
 * Ratings by the counts of the ballots. The counts are read each time, which costs the same however many ballots there are; the fit is
 * made anew only when they have changed, and then kept as a snapshot.
 */
export function createStandingsService({ standings, suites, wall }: StandingsDeps) {
  const rated = new Map<string, Rated>();

  async function rate(editionId: string, kind: Kind | null): Promise<Rated> {
    const [{ entrants }, tallies] = await Promise.all([
      wall.listFigures(editionId),
      standings.listTallies(editionId, kind),
    ]);
    const key = `${editionId} ${kind ?? ""}`;
    const digest = digestTallies(tallies);
    const last = rated.get(key);
    const isSameList = entrants.every(({ entrant }, index) => last?.numberOf.get(entrant.id) === index);
    if (last?.digest === digest && isSameList && last.numberOf.size === entrants.length) {
      const rows = last.counted.rows.map((row) => ({ ...row, ...entrants[last.numberOf.get(row.entrant.id)!]! }));
      return { ...last, counted: { ...last.counted, rows } };
    }
    const fresh = { ...countStandings(entrants, tallies), digest, countedAt: new Date().toISOString() };
    rated.set(key, fresh);
    const { methodVersion, ballots, rows, side } = fresh.counted;
    if (ballots > 0) {
      const ratings = rows.map(({ entrant, rating, halfWidth, rankRange }) => ({
        entrantId: entrant.id,
        rating,
        halfWidth,
        rankRange,
      }));
      await standings.keepSnapshot({
        editionId,
        kind,
        methodVersion,
        inputDigest: digest,
        ballots,
        ratings: { ratings, side },
      });
    }
    return fresh;
  }

  return {
    async getStandings(editionId: string, kind: Kind | null): Promise<Standings> {
      const [edition, { counted, countedAt }, brokenRules] = await Promise.all([
        suites.getEdition(editionId),
        rate(editionId, kind),
        standings.listBrokenRules(editionId),
      ]);
      return { edition: { ...edition, promptCount: edition.prompts.length }, kind, ...counted, brokenRules, countedAt };
    },
    /** The fit of an edition's ballots so far, for choosing the next bout, and how it numbers the entrants. */
    getFit: keep((editionId: string): Promise<Pick<Rated, "fit" | "numberOf">> => rate(editionId, null), {
      keyOf: (editionId) => editionId,
      keptMs: FIT_MS,
      sparing: SPARING,
    }),
  };
}
export type StandingsService = ReturnType<typeof createStandingsService>;
