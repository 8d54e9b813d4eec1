import { describe, expect, it } from "vitest";
import { playOnlineElo } from "./online-elo.js";

const OPTIONS = { K: 5, base: 1500, kFactor: 20, sideElo: 0 };

describe("online ratings", () => {
  it("move by the share of the factor that was not expected", () => {
    const { final, history } = playOnlineElo(3, [{ left: 0, right: 1, outcome: 1 }], OPTIONS);
    expect(final).toEqual([1510, 1490, 1500]);
    expect(history).toEqual([final]);
    expect(playOnlineElo(2, [{ left: 0, right: 1, outcome: 2 }], OPTIONS).final).toEqual([1505, 1495]);
    expect(playOnlineElo(2, [{ left: 0, right: 1, outcome: 3 }], OPTIONS).final).toEqual([1500, 1500]);
  });
  it("expect ten to one of 400 points, and more of a favoured place", () => {
    const [first] = playOnlineElo(2, [{ left: 0, right: 1, outcome: 1 }], { ...OPTIONS, sideElo: 400 }).final;
    expect(first).toBeCloseTo(1500 + 20 * (1 - 10 / 11), 9);
  });
  it("conserve their sum", () => {
    const ballots = Array.from({ length: 50 }, (_, i) => ({ left: i % 3, right: (i + 1) % 3, outcome: 1 + (i % 5) }));
    const { final } = playOnlineElo(3, ballots, OPTIONS);
    expect(final.reduce((sum, rating) => sum + rating, 0)).toBeCloseTo(4500, 9);
    expect(playOnlineElo(2, [], OPTIONS)).toEqual({ final: [1500, 1500], history: [] });
  });
  it.each([
    { left: 0, right: 0, outcome: 1 },
    { left: 0, right: 7, outcome: 1 },
    { left: 0, right: 1, outcome: 0 },
    { left: 0, right: 1, outcome: 6 },
    { left: -1, right: 1, outcome: 2 },
  ])("refuse %o", (ballot) => {
    expect(() => playOnlineElo(2, [ballot], OPTIONS)).toThrow("Ballot 1 of the sequence");
  });
});
