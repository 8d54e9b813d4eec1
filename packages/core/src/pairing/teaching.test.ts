import { describe, expect, it } from "vitest";
import { createRandom } from "../random.js";
import { fitRatings, outcomeProbabilities, type RatingFit } from "../ratings/index.js";
import { expectedInformation, Teacher } from "./teaching.js";

/** A fit of ballots between entrants of falling strength, more on some pairs than on others. */
function fitSome(seed: number, entrants: number): RatingFit {
  const random = createRandom(seed);
  const rows: number[][] = [];
  for (let i = 0; i < entrants; i++)
    for (let j = 0; j < i; j++)
      outcomeProbabilities(5, (j - i) * -0.2, [0.4, 1.4]).forEach((p, k) =>
        rows.push([j, i, k + 1, Math.ceil(40 * p * random())]),
      );
  const column = (at: number) => rows.map((row) => row[at]!);
  return fitRatings(
    entrants,
    { left: column(0), right: column(1), outcome: column(2), n: column(3) },
    { K: 5, ridge: 0.1, side: false, ridgeSide: 0 },
  );
}

describe("the information of a ballot", () => {
  it("is F(1 − F) for two outcomes, and 1/3 at most for many (McCullagh 1980)", () => {
    const F = 1 / (1 + Math.exp(-0.7));
    expect(expectedInformation(0.7, 2, [])).toBeCloseTo(F * (1 - F), 12);
    const many = expectedInformation(
      0,
      101,
      Array.from({ length: 50 }, (_, j) => Math.log((51 + j) / (50 - j))),
    );
    expect(many).toBeGreaterThan(0.33);
    expect(many).toBeLessThan(1 / 3);
  });
});

describe("a teacher", () => {
  it("lowers the covariance of a fit as another ballot's information would", () => {
    const fit = fitSome(2, 4);
    const teacher = new Teacher(fit);
    const before = teacher.valueOf(0, 1);
    for (let i = 0; i < 200; i++) teacher.expect([[0, 1]]);
    // What was asked a hundred times is not worth asking once more.
    expect(teacher.valueOf(0, 1)).toBeLessThan(before / 10);
    expect(teacher.valueOf(2, 3)).toBeGreaterThan(teacher.valueOf(0, 1));
  });

  it("takes some ballots at once into account as one after the other", () => {
    const fit = fitSome(2, 4);
    const [atOnce, oneByOne] = [new Teacher(fit), new Teacher(fit)];
    const pairs = [
      [0, 1],
      [2, 3],
      [0, 3],
      [0, 1],
    ] as const;
    const before = atOnce.valueOf(0, 1);
    atOnce.expect(pairs);
    for (const pair of pairs) oneByOne.expect([pair]);
    for (const [a, b] of pairs) expect(atOnce.valueOf(a, b)).toBe(oneByOne.valueOf(a, b));
    expect(atOnce.valueOf(0, 1)).toBeLessThan(before);
  });

  it("values a pair by how much it lowers what is to be lowered, by the sum written out", () => {
    const fit = fitSome(3, 4);
    const { x, covariance, firstCutSlot } = fit.model;
    const order = [0, 1, 2, 3].toSorted((a, b) => x[b]! - x[a]!);
    const sum = (V: number[][]) =>
      order.slice(1).reduce((total, low, at) => {
        const high = order[at]!;
        const gap = Math.max(x[high]! - x[low]!, (20 * Math.LN10) / 400);
        return total + ((V[high]![high]! + V[low]![low]! - 2 * V[high]![low]!) / (gap / 2.3) ** 2) ** 2;
      }, 0);
    const V = order.map((_, i) => order.map((__, j) => covariance.get(i, j)));
    const information = expectedInformation(x[1]! - x[3]!, 5, x.slice(firstCutSlot));
    const step = V.map((row) => row[1]! - row[3]!);
    const shrink = information / (1 + information * (step[1]! - step[3]!));
    const after = V.map((row, i) => row.map((value, j) => value - shrink * step[i]! * step[j]!));
    expect(new Teacher(fit).valueOf(1, 3)).toBeCloseTo(sum(V) - sum(after), 8);
  });

  it("knows nothing of entrants without ballots, of two components, or of ballots that are all even", () => {
    const rows = { left: [0, 3], right: [1, 4], outcome: [1, 2], n: [3, 3] };
    const teacher = new Teacher(fitRatings(5, rows, { K: 5, ridge: 0.1, side: false, ridgeSide: 0 }));
    expect(teacher.valueOf(0, 1)).toBeGreaterThan(0);
    expect([teacher.valueOf(0, 2), teacher.valueOf(0, 3)]).toEqual([0, 0]);
    const even = { left: [0], right: [1], outcome: [3], n: [3] };
    expect(new Teacher(fitRatings(2, even, { K: 5, ridge: 0.1, side: false, ridgeSide: 0 })).valueOf(0, 1)).toBe(0);
  });
});
