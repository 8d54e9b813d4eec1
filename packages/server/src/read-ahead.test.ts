import { setTimeout as sleep } from "node:timers/promises";
import { describe, expect, it } from "vitest";
import { keepReadAhead, readAhead } from "./read-ahead.js";

const EDITIONS = [{ id: "newest" }, { id: "older" }];
const READ_MS = 20;
const STEPS = [
  ...["getWall", "getGrid", "getMending", "getPromptRatings", "getStopping", "getContests"],
  ...["getVotingReport", "getRatingsBySeeing", "getRatingsOverTime", "listBallots", "getStandingsBasis"],
];

/** What is asked of the server's parts, in order, and when rounds began; each fails whose name is given. */
function makeParts({ editions = EDITIONS, failing = "", ballots = 200_000 } = {}) {
  const asked: unknown[][] = [];
  const rounds: number[] = [];
  const ask =
    (name: string) =>
    async (...given: unknown[]) => {
      asked.push([name, ...given]);
      if (name === "getStandings") rounds.push(performance.now());
      if (name === failing) throw new Error(`${name} failed`);
      await sleep(READ_MS);
      return { getText: () => Promise.resolve(JSON.stringify({ ballots })) };
    };
  const warned: unknown[][] = [];
  const kept = {
    readFresh: ({ id }: { id: string }, params: object) => ask(id)(params),
  };
  const parts = {
    suites: { listEditions: () => Promise.resolve(editions) },
    ballotList: { list: ask("listBallots") },
    feeds: {
      walls: { get: ask("getWall") },
      kept: { standings: kept, byBallots: kept, sparingly: kept, byCells: kept },
    },
    aside: { basis: { readFresh: ask("getStandingsBasis") } },
    lull: {
      wait: (ms: number, until: number) => {
        asked.push(["wait", ms, until - performance.now()]);
        return sleep(READ_MS);
      },
    },
    log: { warn: (...given: unknown[]) => void warned.push(given) },
  };
  return { parts: parts as unknown as Parameters<typeof readAhead>[0], asked, warned, rounds };
}

describe("reading ahead", () => {
  it("reads what pages show of the newest edition as they ask for it, where it has many ballots", async () => {
    const { parts, asked, warned } = makeParts();
    await readAhead(parts);
    const names = asked.map(([name]) => name);
    expect(names.filter((name) => name !== "wait")).toEqual(["getStandings", ...STEPS]);
    // Before each but the first, it waits until nobody asks for anything.
    expect(names.slice(1).every((name, at) => (name === "wait") === (at % 2 === 0))).toBe(true);
    expect(JSON.stringify(asked)).not.toContain("older");
    expect(asked.find(([name]) => name === "getVotingReport")![1]).toEqual({ editionId: "newest" });
    expect(asked.find(([name]) => name === "listBallots")!.slice(1)).toEqual(["newest", { only: "all" }]);
    expect(warned).toEqual([]);
  });

  it("waits no longer than twenty minutes in all, and says how long it read without waiting", async () => {
    const { parts, asked } = makeParts();
    const startedAt = performance.now();
    const tookMs = await readAhead(parts);
    const allMs = performance.now() - startedAt;
    const leftMs = asked.flatMap(([name, , left]) => (name === "wait" ? [left as number] : []));
    expect(Math.max(...leftMs)).toBeLessThanOrEqual(1_200_000);
    expect(leftMs.every((left, at) => at === 0 || left < leftMs[at - 1]!)).toBe(true);
    expect(tookMs).toBeGreaterThanOrEqual((STEPS.length + 1) * (READ_MS - 1));
    expect(tookMs).toBeLessThanOrEqual(allMs - STEPS.length * (READ_MS - 1));
  });

  it("counts alone where there are few ballots, and does nothing without an edition", async () => {
    const few = makeParts({ ballots: 9_999 });
    await readAhead(few.parts);
    expect(few.asked).toEqual([["getStandings", { editionId: "newest" }]]);
    const empty = makeParts({ editions: [] });
    await readAhead(empty.parts);
    expect(empty.asked).toEqual([]);
  });

  it("says in the log what failed, and reads the rest", async () => {
    const { parts, asked, warned } = makeParts({ failing: "getVotingReport" });
    await readAhead(parts);
    expect(asked.map(([name]) => name).filter((name) => name !== "wait")).toEqual(["getStandings", ...STEPS]);
    const what = { what: "getVotingReport", err: new Error("getVotingReport failed") };
    expect(warned).toEqual([[what, "not read ahead: whoever asks for it first waits for it"]]);
  });

  it("is done again after a rest, in proportion to what it took, until it is ended", async () => {
    const { parts, warned, rounds } = makeParts({ ballots: 0 });
    const ending = new AbortController();
    const running = keepReadAhead(parts, ending.signal, { least: 1, most: 60_000 });
    while (rounds.length < 3) await sleep(READ_MS);
    ending.abort();
    await running;
    // A round takes one reading, and rests for thirty-two.
    for (const [at, startedAt] of rounds.slice(1).entries()) {
      expect(startedAt - rounds[at]!).toBeGreaterThanOrEqual(33 * (READ_MS - 1));
    }
    const ended = rounds.length;
    await sleep(40 * READ_MS);
    expect(rounds).toHaveLength(ended);
    expect(warned).toEqual([]);
  });

  it("reads nothing more and warns of nothing once it is ended, even in the middle of a round", async () => {
    const ending = new AbortController();
    const { parts, asked, warned } = makeParts({ failing: "getWall" });
    const running = keepReadAhead(parts, ending.signal);
    await sleep(READ_MS * 1.5);
    ending.abort();
    await running;
    expect(asked.map(([name]) => name)).toEqual(["getStandings", "wait"]);
    expect(warned).toEqual([]);
  });
});
