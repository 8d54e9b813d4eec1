import { API } from "@tourney/core/contract";
import type { Logger } from "pino";
import type { Aside } from "./aside/aside.js";
import type { Feeds } from "./feed/feeds.js";
import type { Lull } from "./http/lull.js";
import type { Services } from "./services.js";

interface ReadAheadDeps {
  suites: Pick<Services["suites"], "listEditions">;
  feeds: Pick<Feeds, "walls" | "kept">;
  aside: Pick<Aside, "basis">;
  lull: Pick<Lull, "wait">;
  log: Pick<Logger, "warn">;
}

/** Where counting the ballots took less than this, whatever else pages show is read quickly, too. */
const LONG_MS = 1000;
/** Nobody has asked for anything for so long before something is read. */
const LULL_MS = 2000;

const { getStandings, getGrid, getMending, getPromptRatings, getStopping, getContests, getVotingReport } = API;
const { getRatingsBySeeing, getRatingsOverTime } = API;
/** In the order in which a lead comes to look at them. */
const BY_CELLS = [getGrid, getMending];
const BY_BALLOTS = [getStopping, getContests, getVotingReport, getRatingsBySeeing, getRatingsOverTime];

/**
 * Reads what pages show of the edition that they open first. The first reading after a start goes through all ballots and entries, with a year's ballots for seconds each: this way whoever opens the
 * standings, a report or a booth does not wait for that.
 */
export async function readAhead({ suites, feeds, aside, lull, log }: ReadAheadDeps, longMs = LONG_MS) {
  try {
    const [newest] = await suites.listEditions();
    if (newest === undefined) return;
    const params = { editionId: newest.id };
    const startedAt = performance.now();
    await feeds.kept.standings.readAhead(getStandings, params);
    if (performance.now() - startedAt < longMs) return;
    const steps = [
      () => feeds.walls.get(newest.id, API.getWall.query.parse({})),
      ...BY_CELLS.map((operation) => () => feeds.kept.byCells.readAhead(operation, params)),
      () => feeds.kept.sparingly.readAhead(getPromptRatings, params),
      ...BY_BALLOTS.map((operation) => () => feeds.kept.byBallots.readAhead(operation, params)),
      () => aside.basis.getHead({ params, query: API.getStandingsBasis.query.parse({}) }),
    ];
    // Voters who came back before the server are not kept waiting for what nobody asks for yet.
    for (const step of steps) {
      await lull.wait(LULL_MS);
      await step();
    }
  } catch (error) {
    log.warn({ err: error }, "not all was read ahead that pages show: whoever asks for the rest first waits for it");
  }
}
