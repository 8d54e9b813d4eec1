import { describe, expect, it } from "vitest";
import { measureAgreement } from "./agreement.js";
import { rateCategories } from "./category-board.js";
import type { ClusterCounts } from "./ballots.js";

type Row = [prompt: number, left: number, right: number, outcome: number, n: number];
const counts = (rows: readonly Row[]): ClusterCounts => ({
  cluster: Int32Array.from(rows, ([prompt]) => prompt),
  left: Int32Array.from(rows, ([, left]) => left),
  right: Int32Array.from(rows, ([, , right]) => right),
  outcome: Int32Array.from(rows, ([, , , outcome]) => outcome),
  n: Int32Array.from(rows, ([, , , , n]) => n),
});

describe("ratings by category", () => {
  /** The first wins on prompts 0 and 1, of category 0; the second on prompt 2, of category 1, on few ballots. */
  const mix = (few: number) =>
    counts([
      [0, 0, 1, 1, 40],
      [1, 0, 1, 2, 40],
      [2, 0, 1, 5, few],
    ]);
  const mixed = mix(3);

  it("part where the ballots do, and are drawn towards the average where they are few", () => {
    const [games, apps] = rateCategories(3, mixed, [0, 0, 1]);
    expect(games![0]!.rating).toBeGreaterThan(games![1]!.rating + 200);
    const [, manyApps] = rateCategories(3, mix(30), [0, 0, 1]);
    const ahead = (category: typeof apps) => category![1]!.rating - category![0]!.rating;
    expect(ahead(apps)).toBeLessThan(ahead(manyApps));
    expect(apps![0]!.error).toBeGreaterThan(games![0]!.error);
    expect([games![0]!.ballots, apps![0]!.ballots]).toEqual([80, 3]);
  });

  it("say nothing of an entrant without a ballot, and give one that is missing in a category its average", () => {
    const [games, apps] = rateCategories(3, counts([[0, 0, 1, 1, 10]]), [0, 1]);
    expect([games![2], apps?.[2]]).toEqual([null, null]);
    expect(apps![0]!.ballots).toBe(0);
    expect(apps![0]!.rating).toBeGreaterThan(1500);
  });

  it("have the ballots of each category add up to twice the whole", () => {
    const all = rateCategories(3, mixed, [0, 0, 1]).flat();
    expect(all.reduce((sum, one) => sum + (one?.ballots ?? 0), 0)).toBe(2 * 83);
  });
});

describe("how far voters agree on a prompt", () => {
  it("counts deciding ballots on the side that most took, whichever side it was shown on", () => {
    const [one, two] = measureAgreement(
      counts([
        [0, 0, 1, 1, 3],
        [0, 1, 0, 5, 2],
        [0, 1, 0, 2, 1],
        [0, 0, 1, 3, 4],
        [0, 0, 2, 1, 1],
      ]),
      2,
    );
    // Five of six took the first; a single ballot on another pair tells nothing.
    expect(one).toEqual({ ballots: 11, evenShare: 4 / 11, agreement: 5 / 6 });
    expect(two).toEqual({ ballots: 0, evenShare: null, agreement: null });
  });
});
