import { describe, expect, it } from "vitest";
import { createRandom } from "../random.js";
import { drawOutcome, outcomeProbabilities } from "./cumulative-logit.js";
import { fitRatings } from "./fit-ratings.js";
import { ratePrompts } from "./prompt-ratings.js";
import { BASE_RATING, POINTS_PER_LOGIT, PRODUCT_OPTIONS } from "./rate-ballots.js";

const ENTRANTS = 5;

/** Ballots of a made-up world: alike on all prompts, but on prompt 1 entrant 0 is far better than elsewhere. */
function draw(seed: number, ballots: number, prompts = 3) {
  const random = createRandom(seed);
  const rows = { left: [] as number[], right: [] as number[], outcome: [] as number[], cluster: [] as number[] };
  for (let b = 0; b < ballots; b++) {
    const left = Math.floor(random() * ENTRANTS);
    const right = (left + 1 + Math.floor(random() * (ENTRANTS - 1))) % ENTRANTS;
    const prompt = Math.floor(random() * prompts);
    const strength = (entrant: number) => entrant * 0.3 + (entrant === 0 && prompt === 1 ? 3 : 0);
    rows.left.push(left);
    rows.right.push(right);
    rows.cluster.push(prompt);
    rows.outcome.push(drawOutcome(random, 5, strength(left) - strength(right), [0.4, 1.4]));
  }
  return { ...rows, n: rows.left.map(() => 1) };
}
const asColumns = ({ left, right, outcome, cluster, n }: ReturnType<typeof draw>) => ({
  left: Int32Array.from(left),
  right: Int32Array.from(right),
  outcome: Int32Array.from(outcome),
  cluster: Int32Array.from(cluster),
  n: Int32Array.from(n),
});

describe("ratings on each prompt", () => {
  const rows = draw(3, 900);
  const counts = asColumns(rows);
  const fit = fitRatings(ENTRANTS, counts, PRODUCT_OPTIONS);
  const rated = ratePrompts(fit, counts, 3);

  it("show the prompt on which an entrant is better than elsewhere, and count its ballots", () => {
    const ratingOf = (prompt: number, entrant: number) => rated[prompt]![entrant]!.rating;
    expect(ratingOf(1, 0) - ratingOf(0, 0)).toBeGreaterThan(200);
    expect(Math.max(...rated[1]!.map((one) => one!.rating))).toBe(ratingOf(1, 0));
    for (const prompt of [0, 1, 2])
      expect(rated[prompt]!.reduce((sum, one) => sum + one!.ballots, 0)).toBe(
        2 * rows.cluster.filter((own) => own === prompt).length,
      );
  });

  it("are the maximum of an objective that is written out apart", () => {
    const cuts = fit.cuts as number[];
    const objective = (prompt: number, u: readonly number[]) => {
      let value = 0;
      for (let r = 0; r < rows.n.length; r++) {
        if (rows.cluster[r] !== prompt) continue;
        const [l, g] = [rows.left[r]!, rows.right[r]!];
        const eta = fit.theta[l]! + u[l]! - fit.theta[g]! - u[g]! + fit.delta!;
        value += Math.log(outcomeProbabilities(5, eta, cuts)[rows.outcome[r]! - 1]!);
      }
      return value - u.reduce((sum, one) => sum + one ** 2 / 2, 0);
    };
    for (const prompt of [0, 1, 2]) {
      const best = rated[prompt]!.map((one, m) => (one!.rating - BASE_RATING) / POINTS_PER_LOGIT - fit.theta[m]!);
      const most = objective(prompt, best);
      for (let m = 0; m < ENTRANTS; m++)
        for (const step of [-1e-3, 1e-3]) expect(objective(prompt, best.with(m, best[m]! + step))).toBeLessThan(most);
    }
  });

  it("stay near the rating over all prompts where ballots are few, with an error near the prior's", () => {
    const few = asColumns({ ...rows, cluster: rows.cluster.map((_, b) => (b === 0 ? 1 : 0)) });
    const [, second] = ratePrompts(fit, few, 2);
    const present = second!.flatMap((one, m) => (one === null ? [] : [{ ...one, m }]));
    expect(present.map(({ ballots }) => ballots)).toEqual([1, 1]);
    for (const { rating, error, m } of present) {
      expect(Math.abs(rating - BASE_RATING - POINTS_PER_LOGIT * fit.theta[m]!)).toBeLessThan(120);
      expect(error).toBeLessThan(POINTS_PER_LOGIT);
      expect(error).toBeGreaterThan(0.8 * POINTS_PER_LOGIT);
    }
  });

  it("are those over all prompts where every ballot is even, and null without ballots", () => {
    const even = asColumns({ ...rows, outcome: rows.outcome.map(() => 3) });
    const flat = fitRatings(ENTRANTS, even, PRODUCT_OPTIONS);
    for (const row of ratePrompts(flat, even, 3))
      for (const one of row) expect(one!.rating).toBeCloseTo(BASE_RATING, 9);
    expect(ratePrompts(fit, counts, 4)[3]).toEqual(Array.from({ length: ENTRANTS }, () => null));
  });
});
