import { setTimeout as sleep } from "node:timers/promises";
import { describe, expect, it } from "vitest";
import { readAhead } from "./read-ahead.js";

const EDITIONS = [{ id: "newest" }, { id: "older" }];
const COUNT_MS = 20;

/** What is asked of the server's parts, in order; each fails whose name is given. */
function makeParts({ editions = EDITIONS, failing = "" } = {}) {
  const asked: unknown[][] = [];
  const ask =
    (name: string) =>
    async (...given: unknown[]) => {
      asked.push([name, ...given]);
      if (name === failing) throw new Error(`${name} failed`);
      await sleep(COUNT_MS);
    };
  const warned: unknown[] = [];
  const kept = {
    readAhead: ({ id }: { id: string }, params: object) => ask(id)(params),
  };
  const parts = {
    suites: { listEditions: () => Promise.resolve(editions) },
    feeds: {
      walls: { get: ask("getWall") },
      kept: { standings: kept, byBallots: kept, sparingly: kept, byCells: kept },
    },
    aside: { basis: { getHead: ask("getStandingsBasis") } },
    lull: { wait: ask("wait") },
    log: { warn: (...given: unknown[]) => warned.push(given) },
  };
  return { parts: parts as unknown as Parameters<typeof readAhead>[0], asked, warned };
}

describe("reading ahead", () => {
  it("reads what pages show of the newest edition as they ask for it, where counting takes long", async () => {
    const { parts, asked, warned } = makeParts();
    await readAhead(parts, COUNT_MS / 2);
    const names = asked.map(([name]) => name);
    expect(names.filter((name) => name !== "wait")).toEqual([
      ...["getStandings", "getWall", "getGrid", "getMending", "getPromptRatings", "getStopping", "getContests"],
      ...["getVotingReport", "getRatingsBySeeing", "getRatingsOverTime", "getStandingsBasis"],
    ]);
    // Before each but the first, it waits until nobody asks for anything.
    expect(names.slice(1).every((name, at) => (name === "wait") === (at % 2 === 0))).toBe(true);
    expect(JSON.stringify(asked)).not.toContain("older");
    expect(asked.find(([name]) => name === "getVotingReport")![1]).toEqual({ editionId: "newest" });
    expect(warned).toEqual([]);
  });

  it("counts alone where that is quick, and does nothing without an edition", async () => {
    const quick = makeParts();
    await readAhead(quick.parts, COUNT_MS * 100);
    expect(quick.asked).toEqual([["getStandings", { editionId: "newest" }]]);
    const empty = makeParts({ editions: [] });
    await readAhead(empty.parts, 0);
    expect(empty.asked).toEqual([]);
  });

  it("says in the log that something failed, and does not fail itself", async () => {
    const { parts, asked, warned } = makeParts({ failing: "getVotingReport" });
    await readAhead(parts, 0);
    expect(asked.at(-1)![0]).toBe("getVotingReport");
    expect(warned).toHaveLength(1);
  });
});
