import { describe, expect, it } from "vitest";
import { findBrackets, rankRanges, rejectByHolm } from "./ranks.js";

const test = (i: number, j: number, p: number, difference = 1) => ({ i, j, p, difference });

describe("rejectByHolm", () => {
  it("steps down and stops at the first failure", () => {
    // 0.01 ≤ 0.05/4, 0.013 ≤ 0.05/3, 0.03 > 0.05/2 ends it, though 0.04 ≤ 0.05/1.
    const tests = [test(0, 3, 0.04), test(0, 1, 0.01), test(0, 2, 0.03), test(1, 2, 0.013)];
    expect(rejectByHolm(tests, 0.05).map(({ p }) => p)).toEqual([0.01, 0.013]);
  });
});

describe("rankRanges", () => {
  it("counts who is surely above and below inside the component", () => {
    const significant = [test(0, 2, 0, 1), test(1, 2, 0, 1)];
    expect(rankRanges([0, 0, 0, -1], significant)).toEqual([[1, 2], [1, 2], [3, 3], null]);
  });
});

describe("findBrackets", () => {
  it("gives the longest runs that cannot be told apart, none inside another", () => {
    const significant = [test(0, 2, 0), test(0, 3, 0), test(1, 3, 0)];
    expect(findBrackets([0, 1, 2, 3], [0, 0, 0, 0], significant)).toEqual([
      [0, 1],
      [1, 2],
      [2, 3],
    ]);
    expect(findBrackets([0, 1, 2, 3], [0, 0, 0, 0], [])).toEqual([[0, 3]]);
  });

  it("never spans components or entrants without ballots", () => {
    expect(findBrackets([0, 1, 2], [0, 1, -1], [])).toEqual([]);
  });
});
