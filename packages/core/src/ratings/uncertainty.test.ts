import tCdf from "@stdlib/stats-base-dists-t-cdf";
import { Matrix } from "ml-matrix";
import { describe, expect, it } from "vitest";
import { createRandom, drawNormal } from "../random.js";
import { drawOutcome, outcomeProbabilities } from "./cumulative-logit.js";
import { fitRatings } from "./fit-ratings.js";
import { type BallotColumns, countBallots, sortBallots } from "./ballots.js";
import { type PairTest, rankRanges, rejectByHolm } from "./ranks.js";
import { rateBallots, rateSorted } from "./rate-ballots.js";
import type { SquareMatrix } from "./square-matrix.js";
import { estimateCovariances, standardError, widestStandardError } from "./uncertainty.js";

interface World {
  entrants: number;
  voters: number;
  prompts: number;
  ballots: number;
  /** Standard deviation of each entrant's strength between prompts, in logits. */
  promptSpread: number;
}

/** Ballots of a made-up world, by a seed. */
function simulate(seed: number, { entrants, voters, prompts, ballots, promptSpread }: World): BallotColumns {
  const random = createRandom(seed);
  const strength = Array.from({ length: entrants }, (_, i) => 0.4 * (i - (entrants - 1) / 2));
  const onPrompt = Array.from({ length: prompts }, () =>
    strength.map((value) => value + promptSpread * drawNormal(random)),
  );
  const columns = {
    voter: [] as number[],
    prompt: [] as number[],
    left: [] as number[],
    right: [] as number[],
    outcome: [] as number[],
  };
  for (let b = 0; b < ballots; b++) {
    const prompt = Math.floor(random() * prompts);
    const left = Math.floor(random() * entrants);
    const right = (left + 1 + Math.floor(random() * (entrants - 1))) % entrants;
    const outcome = drawOutcome(random, 5, onPrompt[prompt]![left]! - onPrompt[prompt]![right]!, [0.4, 1.4]);
    columns.voter.push(Math.floor(random() * voters));
    columns.prompt.push(prompt);
    columns.left.push(left);
    columns.right.push(right);
    columns.outcome.push(outcome);
  }
  return columns;
}

const toMatrix = ({ size, data }: SquareMatrix) => Matrix.from1DArray(size, size, Array.from(data));

const OPTIONS = { K: 5, ridge: 0.1, side: true, ridgeSide: 0.1 } as const;
const WORLD: World = { entrants: 4, voters: 12, prompts: 10, ballots: 400, promptSpread: 0.5 };

describe("estimateCovariances", () => {
  it("gives the inverse of a Hessian taken by finite differences as the naive covariance", () => {
    const ballots = simulate(1, WORLD);
    const rows = countBallots(4, 5, ballots);
    const fit = fitRatings(4, rows, OPTIONS);
    const { x, covariance, firstCutSlot, deltaSlot } = fit.model;
    const objective = (at: Float64Array) => {
      const mean = (at[0]! + at[1]! + at[2]! + at[3]!) / 4;
      const { left, right, outcome, n } = rows;
      const logLik = Array.from(n).reduce((sum, times, r) => {
        const eta = at[left[r]!]! - at[right[r]!]! + at[deltaSlot!]!;
        return sum + times * Math.log(outcomeProbabilities(5, eta, at.subarray(firstCutSlot))[outcome[r]! - 1]!);
      }, 0);
      const spread = [0, 1, 2, 3].reduce((sum, i) => sum + (at[i]! - mean) ** 2, 0);
      return logLik - 0.05 * (spread + at[deltaSlot!]! ** 2);
    };
    const h = 1e-4;
    const moved = (i: number, j: number, a: number, b: number) => {
      const at = Float64Array.from(x);
      at[i]! += a * h;
      at[j]! += b * h;
      return objective(at);
    };
    const hessian = new Matrix(
      Array.from(x, (_, i) =>
        Array.from(
          x,
          (__, j) => -(moved(i, j, 1, 1) - moved(i, j, 1, -1) - moved(i, j, -1, 1) + moved(i, j, -1, -1)) / (4 * h * h),
        ),
      ),
    );
    // H · V is the projection that takes the mean of the thetas out, and the identity on the rest.
    const product = hessian.mmul(toMatrix(covariance));
    for (let i = 0; i < x.length; i++) {
      for (let j = 0; j < x.length; j++) {
        const expected = (i === j ? 1 : 0) - (i < 4 && j < 4 ? 1 / 4 : 0);
        expect(product.get(i, j)).toBeCloseTo(expected, 3);
      }
    }
  });

  it("is the same for every ballot its own cluster as the plain sandwich written out", () => {
    const ballots = simulate(2, { ...WORLD, ballots: 60 });
    const own = { ...ballots, voter: Array.from(ballots.outcome, (_, b) => b) };
    const fit = fitRatings(4, countBallots(4, 5, own), OPTIONS);
    const { voter, clusters } = estimateCovariances(fit, sortBallots(own));
    expect(clusters.voters).toBe(60);
    // Each score by finite differences of that ballot's own log-probability.
    const { x, covariance, firstCutSlot, deltaSlot } = fit.model;
    const logP = (b: number, at: Float64Array) =>
      Math.log(
        outcomeProbabilities(5, at[own.left[b]!]! - at[own.right[b]!]! + at[deltaSlot!]!, at.subarray(firstCutSlot))[
          own.outcome[b]! - 1
        ]!,
      );
    const scores = own.voter.map((b) =>
      Array.from(x, (_, i) => {
        const [up, down] = [Float64Array.from(x), Float64Array.from(x)];
        up[i]! += 1e-5;
        down[i]! -= 1e-5;
        return (logP(b, up) - logP(b, down)) / 2e-5;
      }),
    );
    const stacked = new Matrix(scores);
    const naive = toMatrix(covariance);
    const meat = stacked
      .transpose()
      .mmul(stacked)
      .mul(60 / 59);
    const expected = naive.mmul(meat).mmul(naive);
    for (let i = 0; i < x.length; i++) expect(voter!.get(i, i)).toBeCloseTo(expected.get(i, i), 6);
  });

  it("has no robust figure for a single voter, and never a two-way one below zero", () => {
    const single = { ...simulate(3, WORLD), voter: new Int32Array(400) };
    const fit = fitRatings(4, countBallots(4, 5, single), OPTIONS);
    expect(estimateCovariances(fit, sortBallots(single))).toMatchObject({ voter: null, twoWay: null });
    for (let seed = 10; seed < 20; seed++) {
      const ballots = simulate(seed, { ...WORLD, promptSpread: 0 });
      const plain = fitRatings(4, countBallots(4, 5, ballots), OPTIONS);
      const { twoWay } = estimateCovariances(plain, sortBallots(ballots));
      for (let i = 0; i < 4; i++) expect(standardError(twoWay!, plain.model, i)).toBeGreaterThanOrEqual(0);
    }
  });
});

describe("rateBallots", () => {
  it("gives no interval before two voters have voted on two prompts", () => {
    const one = { voter: [0], prompt: [0], left: [0], right: [1], outcome: [1] };
    const { entrants, clusters, brackets } = rateBallots(3, one).ratings;
    expect(clusters).toEqual({ voters: 1, prompts: 1 });
    expect(entrants[0]!.rating).toBeGreaterThan(1500);
    expect(entrants[0]!.halfWidth).toBeNull();
    expect(entrants[0]!.rankRange).toEqual([1, 2]);
    expect(entrants[2]).toMatchObject({ rating: null, rankRange: null, ballots: 0 });
    expect(brackets).toEqual([[0, 1]]);
  });

  it("has an answer for no ballots at all", () => {
    const none = { voter: [], prompt: [], left: [], right: [], outcome: [] };
    expect(rateBallots(2, none).ratings.entrants.every(({ rating }) => rating === null)).toBe(true);
  });

  it("tells entrants apart as all tests of pairs by their own p do together", () => {
    const found = new Set<number>();
    for (let seed = 0; seed < 20; seed++) {
      const sorted = sortBallots(simulate(500 + seed, { ...WORLD, entrants: 8, ballots: 60 + 60 * seed }));
      const { fit, ratings } = rateSorted(8, sorted);
      const covariances = estimateCovariances(fit, sorted);
      const degrees = Math.min(ratings.clusters.voters, ratings.clusters.prompts) - 1;
      const tests: PairTest[] = [];
      for (let i = 0; i < 8; i++) {
        for (let j = i + 1; j < 8; j++) {
          const difference = fit.theta[i]! - fit.theta[j]!;
          const error = widestStandardError(covariances, fit.model, i, j)!;
          tests.push({ i, j, difference, p: 2 * (1 - tCdf(Math.abs(difference) / error, degrees)) });
        }
      }
      const significant = rejectByHolm(tests, 0.05);
      found.add(significant.length);
      expect(ratings.entrants.map(({ rankRange }) => rankRange)).toEqual(rankRanges(fit.component, significant));
    }
    expect(found.size).toBeGreaterThan(8);
  });

  it("covers the difference of two entrants far better than the naive interval does when prompts differ", () => {
    // The limit with very many prompts and voters stands in for the truth.
    const world = { ...WORLD, ballots: 300, promptSpread: 0.8 };
    const limit = rateBallots(4, simulate(99, { ...world, prompts: 4000, voters: 4000, ballots: 40_000 })).ratings;
    let [product, naive] = [0, 0];
    const runs = 120;
    for (let seed = 0; seed < runs; seed++) {
      const ballots = simulate(1000 + seed, world);
      const rated = rateBallots(4, ballots).ratings;
      const fit = fitRatings(4, countBallots(4, 5, ballots), OPTIONS);
      const off = Math.abs(rated.entrants[0]!.rating! - limit.entrants[0]!.rating!);
      if (off <= rated.entrants[0]!.halfWidth!) product++;
      if (off <= 1.96 * standardError(fit.model.covariance, fit.model, 0)! * (400 / Math.LN10)) naive++;
    }
    expect(product / runs).toBeGreaterThan(0.9);
    expect(naive / runs).toBeLessThan(product / runs - 0.1);
  });
});
