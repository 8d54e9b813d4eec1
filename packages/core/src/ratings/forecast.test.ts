import { describe, expect, it } from "vitest";
import type { RatingFit } from "./fit-ratings.js";
import { forecastSeparation } from "./forecast.js";
import { SquareMatrix } from "./square-matrix.js";
import type { Covariances } from "./uncertainty.js";

/** Two entrants a gap apart, with the variance of their difference by each view. */
function board(
  gap: number,
  variances: { own: number; voter: number; prompt: number; both: number },
  clusters = 40,
  ballots = 1000,
) {
  // Var(a − b) of a diagonal matrix is the sum of the two.
  const of = (variance: number) => new SquareMatrix(2, Float64Array.of(variance / 2, 0, 0, variance / 2));
  const fit = {
    theta: [gap / 2, -gap / 2],
    model: { slot: Int32Array.of(0, 1), slotComponent: Int32Array.of(0, 0) },
  } as unknown as RatingFit;
  const covariances: Covariances = {
    naive: of(variances.own),
    voter: of(variances.voter),
    prompt: of(variances.prompt),
    twoWay: of(variances.both),
    clusters: { voters: clusters, prompts: clusters, intersections: clusters },
  };
  return forecastSeparation(fit, covariances, { i: 0, j: 1, ballots, comparisons: 1 });
}

describe("a forecast", () => {
  it("asks for as many times the ballots as the variance is too large", () => {
    const { ballots, voters, prompts, needs } = board(0.2, { own: 0.02, voter: 0.02, prompt: 0.02, both: 0.02 })!;
    // 2 · √0.02 = 0.283 against 0.2: twice as many, by a quantile of about 1.99.
    expect(ballots.likely).toBeGreaterThan(940);
    expect(ballots.likely).toBeLessThan(1040);
    expect(ballots.low).toBeLessThan(ballots.likely!);
    expect(ballots.high).toBeGreaterThan(ballots.likely!);
    expect(needs).toBe("ballots");
    // Twice as many of everything: as many more as there are.
    expect([voters, prompts]).toEqual([prompts, Math.ceil((ballots.likely! / 1000) * 40)]);
  });
  it("says what must be new where more of the same would never do", () => {
    expect(board(0.2, { own: 0.001, voter: 0.03, prompt: 0.002, both: 0.031 })!.needs).toBe("voters");
    expect(board(0.2, { own: 0.001, voter: 0.002, prompt: 0.03, both: 0.031 })!.needs).toBe("prompts");
    expect(board(0.2, { own: 0.001, voter: 0.03, prompt: 0.03, both: 0.059 })!.needs).toBe("voters and prompts");
  });
  it("has no upper end where there may be no difference at all, and none where there is hardly one", () => {
    expect(board(0.1, { own: 0.02, voter: 0.02, prompt: 0.02, both: 0.02 })!.ballots.high).toBeNull();
    expect(board(0.0001, { own: 0.02, voter: 0.02, prompt: 0.02, both: 0.02 })!.ballots.likely).toBeNull();
  });
  it("names no number of ballots that nobody could collect: twenty times as many, or a hundred thousand", () => {
    // 2 · √0.02 = 0.283 against 0.05: 32 times as many.
    const likelyOf = (ballots: number) =>
      board(0.05, { own: 0.02, voter: 0.02, prompt: 0.02, both: 0.02 }, 40, ballots)!.ballots.likely;
    expect(likelyOf(200_000)).toBeNull();
    expect(likelyOf(3000)! / 3000).toBeCloseTo(30, 0);
    expect(likelyOf(3500)).toBeNull();
  });
  it("is not made of what is told apart, or has no errors yet", () => {
    expect(board(2, { own: 0.02, voter: 0.02, prompt: 0.02, both: 0.02 })).toBeNull();
    const fit = {
      theta: [1, 0],
      model: { slot: Int32Array.of(0, 1), slotComponent: Int32Array.of(0, 0) },
    } as unknown as RatingFit;
    const covariances = {
      naive: new SquareMatrix(2),
      voter: null,
      prompt: null,
      twoWay: null,
      clusters: { voters: 1, prompts: 1, intersections: 1 },
    };
    expect(forecastSeparation(fit, covariances, { i: 0, j: 1, ballots: 3, comparisons: 1 })).toBeNull();
  });
});
