import { API } from "@tourney/core/contract";
import type { Logger } from "pino";
import type { Aside } from "./aside/aside.js";
import type { AsideCall, AsideName } from "./aside/messages.js";
import type { Services } from "./services.js";
import type { WallMemory } from "./wall/wall-memory.js";

interface ReadAheadDeps {
  suites: Pick<Services["suites"], "listEditions">;
  standings: Pick<Services["standings"], "getStandings" | "getMending" | "getPromptRatings">;
  walls: Pick<WallMemory, "get">;
  aside: Pick<Aside, "keep" | "basis">;
  log: Pick<Logger, "warn">;
}

/** Where counting the ballots took less than this, whatever else pages show is read quickly, too. */
const LONG_MS = 1000;

/** In the order in which a lead comes to look at them. */
const KEPT = ["getStopping", "getContests", "getVotingReport", "getRatingsBySeeing", "getRatingsOverTime"] as const;

/**
 * Reads what pages show of the edition that they open first. The first reading after a start goes through all ballots and entries, with a year's ballots for seconds each: this way whoever opens the
 * standings, a report or a booth does not wait for that.
 */
export async function readAhead({ suites, standings, walls, aside, log }: ReadAheadDeps, longMs = LONG_MS) {
  try {
    const [newest] = await suites.listEditions();
    if (newest === undefined) return;
    const params = { editionId: newest.id };
    const startedAt = performance.now();
    await standings.getStandings(newest.id);
    if (performance.now() - startedAt < longMs) return;
    await walls.get(newest.id, API.getWall.query.parse({}));
    await standings.getMending(newest.id);
    await standings.getPromptRatings(newest.id);
    const keep = <Name extends AsideName>(name: Name) =>
      aside.keep(name)({ params, query: API[name].query.parse({}) } as AsideCall<Name>);
    // One after the other: the other core is left to whoever asks for something.
    for (const name of KEPT) await keep(name);
    await aside.basis.getHead({ params, query: API.getStandingsBasis.query.parse({}) });
  } catch (error) {
    log.warn({ err: error }, "not all was read ahead that pages show: whoever asks for the rest first waits for it");
  }
}
