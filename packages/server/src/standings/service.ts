import type { Kind, Standings } from "@tourney/core/contract";
import type { WallService } from "../wall/service.js";
import { countStandings } from "./count-standings.js";
import type { StandingsRepository } from "./repository.js";

export function createStandingsService({ standings, wall }: { standings: StandingsRepository; wall: WallService }) {
  return {
    async getStandings(editionId: string, kind: Kind | null): Promise<Standings> {
      const [{ edition, entrants }, ballots] = await Promise.all([
        wall.getWall(editionId),
        standings.listBallots(editionId, kind),
      ]);
      const figures = entrants.map(({ cleanShare, costPerEntryUsd, medianTotalMs, ...entrant }) => ({
        entrant,
        cleanShare,
        costPerEntryUsd,
        medianTotalMs,
      }));
      return { edition, kind, ...countStandings(figures, ballots), countedAt: new Date().toISOString() };
    },
  };
}
export type StandingsService = ReturnType<typeof createStandingsService>;
