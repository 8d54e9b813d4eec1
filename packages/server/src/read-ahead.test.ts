import { setTimeout as sleep } from "node:timers/promises";
import { EVERYTHING } from "@tourney/core/contract";
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
  const parts = {
    suites: { listEditions: () => Promise.resolve(editions) },
    standings: {
      getStandings: ask("getStandings"),
      getMending: ask("getMending"),
      getPromptRatings: ask("getPromptRatings"),
    },
    walls: { get: ask("getWall") },
    aside: { keep: ask, basis: { getHead: ask("getStandingsBasis") } },
    log: { warn: (...given: unknown[]) => warned.push(given) },
  };
  return { parts: parts as unknown as Parameters<typeof readAhead>[0], asked, warned };
}

describe("reading ahead", () => {
  it("reads what pages show of the newest edition as they ask for it, where counting takes long", async () => {
    const { parts, asked, warned } = makeParts();
    await readAhead(parts, COUNT_MS / 2);
    const names = ["getStandings", "getWall", "getMending", "getPromptRatings", "getStopping", "getContests"];
    expect(asked.map(([name]) => name)).toEqual([
      ...names,
      ...["getVotingReport", "getRatingsBySeeing", "getRatingsOverTime", "getStandingsBasis"],
    ]);
    expect(asked.find(([name]) => name === "getRatingsOverTime")![1]).toEqual({
      params: { editionId: "newest" },
      query: EVERYTHING,
    });
    expect(asked.slice(0, 4).every(([, editionId]) => editionId === "newest")).toBe(true);
    expect(warned).toEqual([]);
  });

  it("counts alone where that is quick, and does nothing without an edition", async () => {
    const quick = makeParts();
    await readAhead(quick.parts, COUNT_MS * 100);
    expect(quick.asked).toEqual([["getStandings", "newest"]]);
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
