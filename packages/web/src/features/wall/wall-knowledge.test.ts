import type { JudgedEntry, PromptRatings } from "@tourney/core/contract";
import { describe, expect, it } from "vitest";
import { WALL } from "../../../test-support/fixtures.js";
import { knowWall } from "./wall-knowledge.js";

const [first, second] = WALL.entrants as [(typeof WALL.entrants)[0], (typeof WALL.entrants)[0]];
const [gorse, heath] = [first.version.id, second.version.id];
const prompt = WALL.prompts[0]!.id;
const ENTRANTS = [
  { ...first, costPerEntryUsd: 0.02 },
  { ...second, costPerEntryUsd: 0 },
];
const rated = (...of: [versionId: string, rating: number, ballots: number][]): PromptRatings => ({
  overall: [{ versionId: gorse, rating: 1500 }],
  prompts: [
    {
      promptId: prompt,
      ballots: 30,
      evenShare: 0.1,
      agreement: 0.8,
      ratings: of.map(([versionId, rating, ballots]) => ({ versionId, rating, ballots, error: 50 })),
    },
  ],
  categories: [],
});
const judged = (versionId: string, verdict: JudgedEntry["verdict"], marks: number | null = null) =>
  ({ entryId: versionId, promptId: prompt, versionId, verdict, marks }) as JudgedEntry;

describe("what is known of a wall", () => {
  it("has the best by ballots, from five of them on, and the best that cost nothing", () => {
    const known = knowWall(ENTRANTS, [judged(heath, "pass")], rated([gorse, 1600, 5], [heath, 1400, 9]));
    expect(known.bestOf(prompt)).toEqual({ versionId: gorse, by: "ballots" });
    expect(known.bestForNothingOf(prompt)).toEqual({ versionId: heath, by: "ballots" });
    expect(known.spreadOf(prompt)).toBe(200);
    expect(known.range).toEqual([1400, 1600]);
    const few = knowWall(ENTRANTS, [], rated([gorse, 1600, 4], [heath, 1400, 9]));
    expect(few.bestOf(prompt)).toEqual({ versionId: heath, by: "ballots" });
    expect(few.spreadOf(prompt)).toBeNull();
  });

  it("has the best by score sheets without ballots: the verdict first, then the marks, and no failure", () => {
    const by = (...sheets: JudgedEntry[]) => knowWall(ENTRANTS, sheets, undefined).bestOf(prompt);
    expect(by(judged(gorse, "part", 9), judged(heath, "pass", 1))).toEqual({ versionId: heath, by: "score sheets" });
    expect(by(judged(gorse, "pass", 9), judged(heath, "pass", 7))?.versionId).toBe(gorse);
    expect(by(judged(gorse, "fail", 9), judged(heath, null, 9))).toBeNull();
    expect(by()).toBeNull();
  });

  it("marks nothing as the best for nothing where everything costs something", () => {
    expect(knowWall([ENTRANTS[0]!], [], rated([gorse, 1600, 9])).bestForNothingOf(prompt)).toBeNull();
  });
});
