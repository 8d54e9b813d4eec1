import type { Standing } from "../contract/index.js";
import { describe, expect, it } from "vitest";
import { findFirst, judgePrompt, rank } from "./by-prompt.js";

const rows = ["a", "b", "c"].map((id) => ({ version: { id }, entrant: { name: id } }) as Standing);
const there = (versionId: string, rating: number, { error = 20, ballots = 40 } = {}) => ({
  ...{ versionId, rating, error, ballots },
});

describe("entrants on a prompt", () => {
  it("stand by their ratings there, with half of the 95 % interval", () => {
    const rated = rank([there("b", 1400), there("a", 1600), there("gone", 1900)], rows);
    expect(rated.map(({ row, rating }) => [row.version.id, rating])).toEqual([
      ["a", 1600],
      ["b", 1400],
    ]);
    expect(rated[0]!.halfWidth).toBeCloseTo(39.2, 6);
  });

  it("have a first one only where the ballots tell it apart from the next", () => {
    expect(findFirst(rank([there("a", 1600), there("b", 1540)], rows))?.row.version.id).toBe("a");
    expect(findFirst(rank([there("a", 1600), there("b", 1560)], rows))).toBeNull();
    expect(findFirst(rank([there("a", 1900)], rows))).toBeNull();
    // Four ballots make nobody first, nor the next after them.
    const few = rank([there("a", 1900, { ballots: 4 }), there("b", 1600), there("c", 1400)], rows);
    expect(findFirst(few)).toBeNull();
  });
});

describe("a prompt", () => {
  const overall = [1700, 1500, 1300];
  const apart = rank([there("a", 1700), there("b", 1500), there("c", 1300)], rows);
  const alike = rank([there("a", 1580), there("b", 1500), there("c", 1450)], rows);
  const judge = (more: object, rated = apart) =>
    judgePrompt({ ballots: 60, evenShare: 0.1, agreement: 0.9, ...more }, { rated, overall });

  it("tells apart, unless voters part on it", () => {
    expect(judge({})).toBe("tells apart");
    expect(judge({ agreement: 0.6 })).toBe("disputed");
  });
  it("is worn out where many ballots are even and the entrants lie close together", () => {
    expect(judge({ evenShare: 0.4, agreement: 0.6 }, alike)).toBe("worn out");
    expect(judge({ evenShare: 0.4 })).toBe("tells apart");
    expect(judge({ evenShare: 0.1 }, alike)).toBe("tells apart");
  });
  it("is not judged by few ballots", () => {
    expect(judge({ ballots: 29, agreement: 0.5 })).toBe("too few ballots");
  });
});
