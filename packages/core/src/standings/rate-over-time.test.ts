import { describe, expect, it } from "vitest";
import { rateBallots } from "../ratings/index.js";
import { finish } from "../steps.js";
import { rateOverTime } from "./index.js";

const COUNT = 100;
const column = (of: (index: number) => number) => Array.from({ length: COUNT }, (_, index) => of(index));
/** Two that voters preferred in turn: the first until half of the ballots were cast, the second from then on. */
const BALLOTS = {
  voter: column((index) => index % 7),
  prompt: column((index) => index % 5),
  left: column((index) => index % 2),
  right: column((index) => 1 - (index % 2)),
  outcome: column((index) =>
    index < COUNT / 2 === (index % 2 === 0) ? (index % 3 === 0 ? 3 : 1) : index % 3 === 0 ? 3 : 5,
  ),
};
const AT = column((index) => 1_790_000_000 + 60 * index);

describe("ratings over time", () => {
  it("are those of the ballots so far, and of all in the end", () => {
    const { steps } = finish(rateOverTime(["a", "b"], BALLOTS, AT));
    expect(steps).toHaveLength(16);
    const gaps = steps.map(({ ratings }) => ratings[0]!.rating! - ratings[1]!.rating!);
    expect(gaps[3]).toBeGreaterThan(100);
    expect(gaps.at(-1)!).toBeLessThan(gaps[7]!);
    const all = rateBallots(2, BALLOTS).ratings.entrants.map(({ rating }) => rating);
    expect(steps.at(-1)).toMatchObject({ ballots: COUNT, at: new Date(AT.at(-1)! * 1000).toISOString() });
    expect(steps.at(-1)!.ratings.map(({ rating }) => rating)).toEqual(all);
    for (const { ballots, ratings } of steps) {
      const first = Object.fromEntries(
        Object.entries(BALLOTS).map(([name, values]) => [name, values.slice(0, ballots)]),
      );
      const { entrants } = rateBallots(2, first as typeof BALLOTS).ratings;
      expect(ratings).toEqual(entrants.map(({ rating, halfWidth }) => ({ rating, halfWidth })));
    }
  });

  it("have a step for each ballot where there are few, and none where there is none", () => {
    const few = Object.fromEntries(Object.entries(BALLOTS).map(([name, values]) => [name, values.slice(0, 3)]));
    expect(
      finish(rateOverTime(["a", "b"], few as typeof BALLOTS, AT.slice(0, 3))).steps.map(({ ballots }) => ballots),
    ).toEqual([1, 2, 3]);
    const none = Object.fromEntries(Object.keys(BALLOTS).map((name) => [name, []]));
    expect(finish(rateOverTime(["a", "b"], none as unknown as typeof BALLOTS, [])).steps).toEqual([]);
  });
});
