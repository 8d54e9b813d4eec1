import type { Kind, Standings } from "@tourney/core/contract";
import type { SuiteService } from "../suites/service.js";
import type { WallService } from "../wall/service.js";
import { countStandings } from "./count-standings.js";
import type { StandingsRepository } from "./repository.js";

interface StandingsDeps {
  standings: StandingsRepository;
  suites: SuiteService;
  wall: WallService;
}

export function createStandingsService({ standings, suites, wall }: StandingsDeps) {
  return {
    async getStandings(editionId: string, kind: Kind | null): Promise<Standings> {
      const [edition, { entrants }, ballots] = await Promise.all([
        suites.getEdition(editionId),
        wall.listFigures(editionId),
        standings.listBallots(editionId, kind),
      ]);
      return {
        edition: { ...edition, promptCount: edition.prompts.length },
        kind,
        ...countStandings(entrants, ballots),
        countedAt: new Date().toISOString(),
      };
    },
  };
}
export type StandingsService = ReturnType<typeof createStandingsService>;
