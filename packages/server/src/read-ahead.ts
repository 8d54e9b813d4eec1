import { setTimeout as sleep } from "node:timers/promises";
import { API } from "@tourney/core/contract";
import type { Logger } from "pino";
import type { Aside } from "./aside/aside.js";
import type { Feeds } from "./feed/feeds.js";
import type { Lull } from "./http/lull.js";
import type { Services } from "./services.js";

interface ReadAheadDeps {
  suites: Pick<Services["suites"], "listEditions">;
  ballotList: Pick<Services["ballotList"], "list">;
  feeds: Pick<Feeds, "walls" | "kept">;
  aside: Pick<Aside, "basis">;
  lull: Pick<Lull, "wait">;
  log: Pick<Logger, "warn">;
}

/** An edition with fewer ballots is read quickly enough when somebody asks. */
const MANY_BALLOTS = 10_000;
/** Nobody has asked for anything for so long before something is read. */
const LULL_MS = 2000;
/** Where voters vote all the time, no such lull comes: then a round goes on without it. */
const LONGEST_WAIT_MS = 1_200_000;
/** Between two rounds it rests for so many times as long as it read. */
const RESTS = 32;
/** Between two rounds in any case. With the longest wait, the longest of these is well below the age at which an answer is not given any more (`Kept`). */
const REST_MS = { least: 60_000, most: 1_200_000 };

const { getStandings, getGrid, getMending, getPromptRatings, getStopping, getContests, getVotingReport } = API;
const { getRatingsBySeeing, getRatingsOverTime } = API;
/** In the order in which a lead comes to look at them. */
const BY_CELLS = [getGrid, getMending];
const BY_BALLOTS = [getStopping, getContests, getVotingReport, getRatingsBySeeing, getRatingsOverTime];

/**
 * Reads what pages show of the edition that they open first, as far as it has changed since it was read last. With a year's ballots each of these takes seconds: this way whoever opens the standings,
 * a report or a booth does not wait for that.
 *
 * @param isOver whether nothing more is to be read
 * @returns for how many milliseconds it was reading, without its waiting for lulls
 */
export async function readAhead(
  { suites, ballotList, feeds: { kept, walls }, aside, lull, log }: ReadAheadDeps,
  isOver: () => boolean = () => false,
): Promise<number> {
  let tookMs = 0;
  const timed = async <T>(name: string, read: () => Promise<T>): Promise<T | null> => {
    const startedAt = performance.now();
    try {
      return await read();
    } catch (error) {
      if (!isOver()) log.warn({ err: error, what: name }, "not read ahead: whoever asks for it first waits for it");
      return null;
    } finally {
      tookMs += performance.now() - startedAt;
    }
  };
  const [newest] = (await timed("listEditions", () => suites.listEditions())) ?? [];
  if (newest === undefined) return tookMs;
  const params = { editionId: newest.id };
  const ballots = await timed(getStandings.id, async () =>
    countBallots(await (await kept.standings.readFresh(getStandings, params)).getText()),
  );
  if (ballots === null || ballots < MANY_BALLOTS) return tookMs;
  const steps: [name: string, read: () => Promise<unknown>][] = [
    [API.getWall.id, () => walls.get(newest.id, API.getWall.query.parse({}))],
    ...BY_CELLS.map((one) => toStep(kept.byCells, one, params)),
    toStep(kept.sparingly, getPromptRatings, params),
    ...BY_BALLOTS.map((one) => toStep(kept.byBallots, one, params)),
    // With the first page, the server counts all ballots, and keeps their number.
    [API.listBallots.id, () => ballotList.list(newest.id, API.listBallots.query.parse({}))],
    [API.getStandingsBasis.id, () => aside.basis.readFresh({ params, query: API.getStandingsBasis.query.parse({}) })],
  ];
  const until = performance.now() + LONGEST_WAIT_MS;
  for (const [name, read] of steps) {
    // Voters are not kept waiting for what nobody asks for yet.
    await lull.wait(LULL_MS, until);
    if (isOver()) break;
    await timed(name, read);
  }
  return tookMs;
}

/** Reads ahead again and again. @param signal ends it */
export async function keepReadAhead(deps: ReadAheadDeps, signal: AbortSignal, rest = REST_MS): Promise<void> {
  while (!signal.aborted) {
    const tookMs = await readAhead(deps, () => signal.aborted);
    const restMs = Math.min(rest.most, Math.max(rest.least, RESTS * tookMs));
    await sleep(restMs, undefined, { ref: false, signal }).catch(() => undefined);
  }
}

type Kept = Pick<Feeds["kept"]["byBallots"], "readFresh">;

const toStep = (
  kept: Kept,
  operation: Parameters<Kept["readFresh"]>[0],
  params: object,
): [name: string, read: () => Promise<unknown>] => [operation.id, () => kept.readFresh(operation, params)];

const Counted = API.getStandings.response.pick({ ballots: true });
const countBallots = (standings: string): number => Counted.parse(JSON.parse(standings)).ballots;
