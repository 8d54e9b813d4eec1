import { describe, expect, it } from "vitest";
import { outcomeProbabilities } from "./cumulative-logit.js";
import { expectShare, findCircles, type Meeting } from "./expected-share.js";
import { fitRatings } from "./fit-ratings.js";
import { PRODUCT_OPTIONS } from "./rate-ballots.js";

describe("the share that a fit expects", () => {
  const fit = fitRatings(
    4,
    {
      left: [0, 1, 1, 2, 0, 2],
      right: [1, 0, 2, 1, 2, 0],
      outcome: [1, 4, 2, 3, 5, 2],
      n: [20, 12, 9, 7, 3, 4],
    },
    PRODUCT_OPTIONS,
  );

  it("is what the probabilities of its outcomes come to, each on the left equally often", () => {
    const [theta, delta, cuts] = [fit.theta as number[], fit.delta!, fit.cuts as number[]];
    const leaning = (eta: number) => {
      const p = outcomeProbabilities(5, eta, cuts);
      return p[0]! + p[1]! + p[2]! / 2;
    };
    const eta = theta[0]! - theta[1]!;
    expect(expectShare(fit, 0, 1)).toBeCloseTo((leaning(eta + delta) + 1 - leaning(-eta + delta)) / 2, 12);
  });

  it("adds up to one from both sides, and is unknown where two never met", () => {
    expect(expectShare(fit, 0, 2)! + expectShare(fit, 2, 0)!).toBeCloseTo(1, 12);
    expect(expectShare(fit, 0, 3)).toBeNull();
  });
});

describe("circles", () => {
  const meet = (shares: readonly (readonly number[])[], ballots = 100): Meeting[][] =>
    shares.map((row) => row.map((share) => ({ ballots, share })));
  const round = [
    [0.5, 0.7, 0.3],
    [0.3, 0.5, 0.7],
    [0.7, 0.3, 0.5],
  ];

  it("are said once, whichever way round they go", () => {
    expect(findCircles(meet(round))).toEqual([[0, 1, 2]]);
    const other = round.map((row) => row.map((share) => 1 - share));
    expect(findCircles(meet(other))).toEqual([[0, 2, 1]]);
  });

  it("are not said of an order, of few ballots, or of what chance may give", () => {
    const order = [
      [0.5, 0.7, 0.8],
      [0.3, 0.5, 0.7],
      [0.2, 0.3, 0.5],
    ];
    expect(findCircles(meet(order))).toEqual([]);
    expect(findCircles(meet(round, 9))).toEqual([]);
    expect(findCircles(meet(round.map((row) => row.map((share) => 0.5 + (share - 0.5) / 5))))).toEqual([]);
  });
});
