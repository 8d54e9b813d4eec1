import { API, RunDetail } from "@tourney/core/contract";
import type { Pool } from "pg";
import type { Logger } from "pino";
import type { Services } from "../services.js";
import { Changes } from "../changes/changes.js";
import { QUICK_MS } from "../changes/kept.js";
import { KeptAnswers, RESTS } from "../changes/kept-answers.js";
import { WallMemory } from "../wall/wall-memory.js";
import { Feed } from "./feed.js";
import { Signals } from "./signals.js";

export interface Feeds {
  runs: Feed;
  standings: Feed;
  changes: Changes;
  signals: Signals;
  walls: WallMemory;
  /** Answers that are kept: standings, others that a ballot may change, of these those that are read sparingly, and those that only a cell changes. */
  kept: { standings: KeptAnswers; byBallots: KeptAnswers; sparingly: KeptAnswers; byCells: KeptAnswers };
}

/** What a wall asks for all the time beside its cells. */
const LONG_RESTS = 40;
/** Pages ask for some ten each of an edition; a few leads look at a few. */
const MOST_KEPT = 48;
/** Of a few editions, by a few choices of what counts. */
const MOST_STANDINGS = 6;
/**
 * Where ballots come in all the time, counting them less often than each time is most of what can be saved: pages have them within two seconds, and within ten where there are so
 * many ballots that counting them is slow.
 */
const LEAST_REST_MS = 1600;

/** What is pushed to open pages, and when it moves. */
export function createFeeds({ pool, log, services }: { pool: Pool; log: Logger; services: Services }): Feeds {
  const changes = new Changes({ pool, log });
  services.suites.follow(changes.of("setup"));
  services.entrants.follow(changes.of("setup"));
  services.wall.follow(changes.of("cells"));
  services.booth.follow(changes.of("cells"));
  services.compare.follow(changes);
  services.renders.follow(changes.of("cells"));
  services.ballotList.follow(changes);
  const standings = new KeptAnswers(changes, { rests: RESTS, most: MOST_STANDINGS });
  return {
    changes,
    signals: new Signals(changes),
    walls: new WallMemory({ wall: services.wall, changes }),
    kept: {
      standings,
      byBallots: new KeptAnswers(changes, { rests: RESTS, most: MOST_KEPT }),
      sparingly: new KeptAnswers(changes, { rests: LONG_RESTS, slowMs: QUICK_MS }),
      byCells: new KeptAnswers(changes.of("cells"), { rests: RESTS, most: MOST_KEPT }),
    },
    runs: new Feed({
      pool,
      log,
      channel: "tourney_runs",
      event: "run",
      read: async (runId) => JSON.stringify(RunDetail.parse(await services.runs.getDetail(runId))),
      intervalMs: 500,
      refreshMs: 3000,
    }),
    standings: new Feed({
      pool,
      log,
      channel: "tourney_ballots",
      event: "standings",
      // The last ballot of many must be shown, too, though nothing comes after it. Whoever asks for standings afterwards gets what was read here.
      read: async (editionId) => (await standings.readFresh(API.getStandings, { editionId })).getText(),
      follow: (editionId) => editionId,
      // Editions share wordings, so that a ballot of one panel may count for any of them.
      concerns: () => true,
      intervalMs: 400,
      restOf: (editionId) => Math.max(LEAST_REST_MS, services.standings.restOf(editionId)),
    }),
  };
}

export function closeFeeds({ runs, standings, changes, signals }: Feeds): void {
  signals.close();
  changes.close();
  runs.close();
  standings.close();
}
