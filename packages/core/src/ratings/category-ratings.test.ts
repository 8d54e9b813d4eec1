import { describe, expect, it } from "vitest";
import { createRandom } from "../random.js";
import { type CategoryCounts, fitCategories } from "./category-ratings.js";
import { drawOutcome, outcomeProbabilities } from "./cumulative-logit.js";
import { fitRatings } from "./fit-ratings.js";

const OPTIONS = { K: 5, ridge: 0.2, side: true, ridgeSide: 0.1, ridgeCategory: 0.8, categoryCount: 3 };

/** Counts of a made-up world in which entrants are better in one category than in another. */
function draw(seed: number, entrants: number, ballots: number): CategoryCounts {
  const random = createRandom(seed);
  const strength = Array.from({ length: entrants * 3 }, () => random() * 2 - 1);
  const rows = { left: [] as number[], right: [] as number[], outcome: [] as number[], category: [] as number[] };
  for (let b = 0; b < ballots; b++) {
    const left = Math.floor(random() * entrants);
    const right = (left + 1 + Math.floor(random() * (entrants - 1))) % entrants;
    const category = Math.floor(random() * 3);
    const eta = strength[left * 3 + category]! - strength[right * 3 + category]!;
    rows.left.push(left);
    rows.right.push(right);
    rows.category.push(category);
    rows.outcome.push(drawOutcome(random, 5, eta, [0.4, 1.4]));
  }
  return { ...rows, n: rows.left.map(() => 1) };
}
const counts = draw(4, 4, 300);
const fit = fitCategories(4, counts, OPTIONS);

describe("ratings by category", () => {
  it("keep the identities of the optimum", () => {
    for (let m = 0; m < 4; m++) {
      const sum = fit.u[m]!.reduce<number>((total, value) => total + value!, 0);
      expect(sum).toBeCloseTo((OPTIONS.ridge / OPTIONS.ridgeCategory) * fit.theta[m]!, 9);
    }
    for (let c = 0; c < 3; c++) expect(fit.u.reduce((total, row) => total + row[c]!, 0)).toBeCloseTo(0, 9);
  });

  it("are a maximum, by an objective written out apart", () => {
    const objective = (theta: number[], u: number[][], delta: number, cuts: number[]) => {
      let value = 0;
      for (let r = 0; r < counts.n.length; r++) {
        const [l, g, c] = [counts.left[r]!, counts.right[r]!, counts.category[r]!];
        const eta = theta[l]! + u[l]![c]! - theta[g]! - u[g]![c]! + delta;
        value += Math.log(outcomeProbabilities(5, eta, cuts)[counts.outcome[r]! - 1]!);
      }
      const squares = (values: number[]) => values.reduce((sum, x) => sum + x * x, 0);
      return value - 0.1 * squares(theta) - 0.4 * squares(u.flat()) - 0.05 * delta ** 2;
    };
    const [theta, u, cuts] = [fit.theta as number[], fit.u as number[][], fit.cuts as number[]];
    expect(objective(theta, u, fit.delta!, cuts)).toBeCloseTo(fit.penalizedLogLik, 8);
    for (const step of [-1e-4, 1e-4]) {
      const best = fit.penalizedLogLik;
      for (let m = 0; m < 4; m++) {
        expect(objective(theta.with(m, theta[m]! + step), u, fit.delta!, cuts)).toBeLessThan(best);
        for (let c = 0; c < 3; c++) {
          const moved = u.map((row, i) => (i === m ? row.with(c, row[c]! + step) : row));
          expect(objective(theta, moved, fit.delta!, cuts)).toBeLessThan(best);
        }
      }
      expect(objective(theta, u, fit.delta! + step, cuts)).toBeLessThan(best);
      expect(objective(theta, u, fit.delta!, cuts.with(1, cuts[1]! + step))).toBeLessThan(best);
    }
  });

  it("take an empty category for the average, with more doubt", () => {
    const empty = fitCategories(4, counts, { ...OPTIONS, categoryCount: 4 });
    for (let m = 0; m < 4; m++) {
      expect(empty.u[m]![3]).toBeCloseTo(0, 12);
      expect(empty.seThetaCategory[m]![3]).toBeGreaterThan(empty.seThetaCategory[m]![0]!);
    }
  });

  it("come to the plain fit, errors too, when categories may not differ", () => {
    const pooled = fitCategories(4, counts, { ...OPTIONS, ridgeCategory: 1e9 });
    const plain = fitRatings(4, counts, OPTIONS);
    plain.theta.forEach((theta, m) => {
      expect(pooled.theta[m]).toBeCloseTo(theta!, 6);
      expect(pooled.seTheta[m]).toBeCloseTo(Math.sqrt(plain.model.covariance.get(m, m)), 6);
    });
    expect(pooled.cuts[0]).toBeCloseTo(plain.cuts[0]!, 6);
  });

  it("rate nobody without ballots, and refuse what is no category or has no finite answer", () => {
    expect(fitCategories(5, counts, OPTIONS).theta[4]).toBeNull();
    expect(() => fitCategories(4, counts, { ...OPTIONS, categoryCount: 2 })).toThrow("has category 2");
    const one = { left: [0], right: [1], outcome: [1], category: [0], n: [1] };
    expect(() => fitCategories(2, one, { ...OPTIONS, ridge: 0, ridgeCategory: 0 })).toThrow("no finite best rating");
  });
});
