import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { createRandom } from "../random.js";
import { drawOutcome, outcomeProbabilities } from "./cumulative-logit.js";
import type { CountColumns } from "./ballots.js";
import type { FitOptions } from "./fit-problem.js";
import { fitRatings } from "./fit-ratings.js";

/** n ballots with the same sides and outcome. */
interface CountRow {
  left: number;
  right: number;
  outcome: number;
  n: number;
}

const toColumns = (rows: readonly CountRow[]): CountColumns => ({
  left: rows.map(({ left }) => left),
  right: rows.map(({ right }) => right),
  outcome: rows.map(({ outcome }) => outcome),
  n: rows.map(({ n }) => n),
});
const fit = (count: number, rows: readonly CountRow[], options: Partial<FitOptions> = {}) =>
  fitRatings(count, toColumns(rows), { K: 5, ridge: 0, side: false, ridgeSide: 0, ...options });
const row = (left: number, right: number, outcome: number, n: number): CountRow => ({ left, right, outcome, n });

/** The penalised log-likelihood written out naively, for K = 5. */
function objective(
  theta: readonly number[],
  cuts: readonly number[],
  delta: number,
  rows: readonly CountRow[],
  ridge: number,
): number {
  const mean = theta.reduce((sum, value) => sum + value, 0) / theta.length;
  const F = (x: number) => 1 / (1 + Math.exp(-x));
  const c = [-Infinity, -cuts[1]!, -cuts[0]!, cuts[0]!, cuts[1]!, Infinity];
  const logLik = rows.reduce((sum, { left, right, outcome, n }) => {
    const eta = theta[left]! - theta[right]! + delta;
    return sum + n * Math.log(F(c[outcome]! + eta) - F(c[outcome - 1]! + eta));
  }, 0);
  return logLik - (ridge / 2) * (theta.reduce((sum, value) => sum + (value - mean) ** 2, 0) + delta ** 2);
}

function drawRows(seed: number, entrants: number, ballots: number): CountRow[] {
  const random = createRandom(seed);
  const strength = Array.from({ length: entrants }, () => random() * 2 - 1);
  return Array.from({ length: ballots }, () => {
    const left = Math.floor(random() * entrants);
    const right = (left + 1 + Math.floor(random() * (entrants - 1))) % entrants;
    const outcome = drawOutcome(random, 5, strength[left]! - strength[right]! + 0.2, [0.4, 1.5]);
    return row(left, right, outcome, 1);
  });
}

describe("fitRatings", () => {
  it("gives log(wins/losses) for two entrants and two outcomes", () => {
    const { theta } = fit(2, [row(0, 1, 1, 30), row(0, 1, 2, 12)], { K: 2 });
    expect(theta[0]! - theta[1]!).toBeCloseTo(Math.log(30 / 12), 9);
  });

  it("fits three outcomes of one pair exactly: its probabilities are the shares", () => {
    const { theta, cuts } = fit(2, [row(0, 1, 1, 50), row(0, 1, 2, 20), row(0, 1, 3, 30)], { K: 3 });
    const p = outcomeProbabilities(3, theta[0]! - theta[1]!, cuts as number[]);
    expect(p[0]).toBeCloseTo(0.5, 8);
    expect(p[1]).toBeCloseTo(0.2, 8);
  });

  it("reproduces a published table: seven teams of one season (Agresti 1990, section 10.6)", () => {
    const wins = [
      [0, 7, 9, 7, 7, 9, 11],
      [6, 0, 7, 5, 11, 9, 9],
      [4, 6, 0, 7, 7, 8, 12],
      [6, 8, 6, 0, 6, 7, 10],
      [6, 2, 6, 7, 0, 7, 12],
      [4, 4, 5, 6, 6, 0, 6],
      [2, 4, 1, 3, 1, 7, 0],
    ];
    const rows = wins.flatMap((line, i) => line.flatMap((n, j) => (n > 0 ? [row(i, j, 1, n)] : [])));
    const { theta } = fit(7, rows, { K: 2 });
    const againstLast = theta.map((value) => value! - theta[6]!);
    [1.581, 1.436, 1.294, 1.248, 1.108, 0.684, 0].forEach((expected, i) =>
      expect(againstLast[i]).toBeCloseTo(expected, 3),
    );
  });

  it("is a maximum: no small step from it is better, by an objective written out apart", () => {
    const rows = drawRows(5, 4, 300);
    const { theta, cuts, delta, penalizedLogLik } = fit(4, rows, { ridge: 0.1, side: true, ridgeSide: 0.1 });
    const at = [...(theta as number[]), ...(cuts as number[]), delta!];
    const value = (x: readonly number[]) => objective(x.slice(0, 4), x.slice(4, 6), x[6]!, rows, 0.1);
    expect(value(at)).toBeCloseTo(penalizedLogLik, 8);
    for (let i = 0; i < at.length; i++) {
      for (const step of [-1e-4, 1e-4]) expect(value(at.with(i, at[i]! + step))).toBeLessThan(penalizedLogLik);
    }
  });

  it("does not change but for delta's sign when all sides and outcomes are mirrored", () => {
    const rows = drawRows(8, 5, 200);
    const options = { ridge: 0.1, side: true, ridgeSide: 0.1 };
    const straight = fit(5, rows, options);
    const mirrored = fit(
      5,
      rows.map(({ left, right, outcome, n }) => row(right, left, 6 - outcome, n)),
      options,
    );
    straight.theta.forEach((value, i) => expect(mirrored.theta[i]).toBeCloseTo(value!, 9));
    expect(mirrored.delta).toBeCloseTo(-straight.delta!, 9);
  });

  it("follows a relabelling of the entrants", () => {
    const rows = drawRows(9, 5, 200);
    const to = [3, 0, 4, 1, 2];
    const straight = fit(5, rows, { ridge: 0.1 });
    const moved = fit(
      5,
      rows.map((item) => ({ ...item, left: to[item.left]!, right: to[item.right]! })),
      { ridge: 0.1 },
    );
    straight.theta.forEach((value, i) => expect(moved.theta[to[i]!]).toBeCloseTo(value!, 8));
  });

  it("keeps theta and shrinks the covariance when counts are multiplied", () => {
    const rows = drawRows(10, 4, 200);
    const once = fit(4, rows);
    const often = fit(
      4,
      rows.map((item) => ({ ...item, n: item.n * 10_000 })),
    );
    once.theta.forEach((value, i) => expect(often.theta[i]).toBeCloseTo(value!, 7));
    expect(often.model.covariance.get(0, 0) * 10_000).toBeCloseTo(once.model.covariance.get(0, 0), 8);
  });

  it("merges outcomes that nobody used", () => {
    expect(fit(2, [row(0, 1, 1, 6), row(0, 1, 5, 3)], { ridge: 0.1 }).cuts).toEqual([0, 0]);
    expect(fit(2, [row(0, 1, 2, 6), row(0, 1, 3, 3), row(0, 1, 4, 1)], { ridge: 0.1 }).cuts[1]).toBeNull();
    const between = fit(2, [row(0, 1, 1, 6), row(0, 1, 3, 3), row(0, 1, 5, 1)], { ridge: 0.1 }).cuts;
    expect(between[0]).toBe(between[1]);
  });

  it("has an answer for all ballots even: equal ratings and the prior's covariance", () => {
    const { theta, cuts, model } = fit(3, [row(0, 1, 3, 5), row(1, 2, 3, 5)], { ridge: 0.1 });
    expect(theta).toEqual([0, 0, 0]);
    expect(cuts).toEqual([null, null]);
    expect(model.covariance.get(0, 0)).toBeCloseTo((1 - 1 / 3) / 0.1, 9);
  });

  it("rates nobody who has no ballot, and centres every component by itself", () => {
    const { theta, component } = fit(5, [row(0, 1, 1, 5), row(0, 1, 4, 3), row(3, 4, 2, 5), row(3, 4, 5, 2)], {
      ridge: 0.1,
    });
    expect(theta[2]).toBeNull();
    expect(Array.from(component)).toEqual([0, 0, -1, 1, 1]);
    expect(theta[0]! + theta[1]!).toBeCloseTo(0, 10);
    expect(theta[3]! + theta[4]!).toBeCloseTo(0, 10);
  });

  it("refuses ballots without a finite best rating, and takes them with a ridge", () => {
    const rows = [row(0, 1, 1, 5)];
    expect(() => fit(2, rows, { K: 2 })).toThrow("no finite best rating");
    expect(fit(2, rows, { K: 2, ridge: 0.1 }).theta[0]).toBeGreaterThan(0);
  });

  it.each([
    ["an unknown entrant", row(0, 9, 1, 1), "names entrant 9"],
    ["a pair of one", row(1, 1, 1, 1), "pairs entrant 1 with itself"],
    ["an outcome off the scale", row(0, 1, 6, 1), "outcome 6"],
    ["a negative count", row(0, 1, 1, -2), "count -2"],
    ["no number", row(0, 1, 1, Number.NaN), "count NaN"],
  ])("refuses %s", (_what, bad, message) => {
    expect(() => fit(3, [bad], { ridge: 0.1 })).toThrow(message);
  });

  it("always gives finite ratings with the product's ridge", () => {
    const anyRow = fc.record({
      left: fc.nat(4),
      right: fc.nat(4),
      outcome: fc.integer({ min: 1, max: 5 }),
      n: fc.integer({ min: 0, max: 10_000 }),
    });
    fc.assert(
      fc.property(fc.array(anyRow, { maxLength: 30 }), (rows) => {
        const { theta, model } = fit(
          5,
          rows.filter(({ left, right }) => left !== right),
          { ridge: 0.1, side: true, ridgeSide: 0.1 },
        );
        for (const value of theta) expect(value === null || Number.isFinite(value)).toBe(true);
        for (let i = 0; i < model.covariance.size; i++) expect(model.covariance.get(i, i)).toBeGreaterThan(-1e-9);
      }),
    );
  });

  it("finds the same from a fit of other ballots, also where their outcomes or entrants are others", () => {
    const product = { K: 5, ridge: 0.1, side: true, ridgeSide: 0.1 };
    const ballot = fc.tuple(fc.nat(4), fc.integer({ min: 1, max: 4 }), fc.integer({ min: 1, max: 5 }), fc.nat(9));
    const rows = fc
      .array(ballot, { minLength: 1, maxLength: 30 })
      .map((all) => all.map(([left, step, outcome, n]) => row(left, (left + step) % 5, outcome, n)));
    fc.assert(
      fc.property(rows, rows, (some, others) => {
        const near = fitRatings(5, toColumns(others), product);
        const [found, sooner] = [null, near].map((from) => fitRatings(5, toColumns(some), product, from));
        for (const [i, theta] of found!.theta.entries())
          if (theta === null) expect(sooner!.theta[i]).toBeNull();
          else expect(sooner!.theta[i]).toBeCloseTo(theta, 7);
        expect(sooner!.penalizedLogLik).toBeCloseTo(found!.penalizedLogLik, 8);
      }),
      {
        examples: [
          // The other fit's components are others: {1, 2, 0} and {3, 4}, where here they are {0, 1, 4} and {2, 3}.
          [
            [row(0, 1, 2, 1), row(2, 3, 1, 1), row(0, 4, 3, 1)],
            [row(3, 4, 1, 1), row(0, 1, 3, 1), row(1, 2, 2, 1)],
          ],
        ],
      },
    );
  });
});
