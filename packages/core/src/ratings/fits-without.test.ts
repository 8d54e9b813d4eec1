import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type CountColumns, countBallots, pickBallots, subtractCounts } from "./ballots.js";
import type { FitOptions } from "./fit-problem.js";
import { fitRatings } from "./fit-ratings.js";
import { FitsWithout } from "./fits-without.js";

const ENTRANTS = 5;
const PRIORS = { K: 5, ridge: 0.1, side: true, ridgeSide: 0.1 };

interface Row {
  isOwn: boolean;
  left: number;
  step: number;
  outcome: number;
}
const row = (outcomes: number[], shareOwn: number): fc.Arbitrary<Row> =>
  fc.record({
    isOwn: fc.nat(99).map((n) => n < 100 * shareOwn),
    left: fc.nat(ENTRANTS - 1),
    step: fc.integer({ min: 1, max: ENTRANTS - 1 }),
    outcome: fc.constantFrom(...outcomes),
  });

function count(rows: readonly Row[], isWanted: (row: Row) => boolean): CountColumns {
  const ballots = {
    ...{ voter: rows.map(() => 0), prompt: rows.map(() => 0), left: rows.map(({ left }) => left) },
    right: rows.map(({ left, step }) => (left + step) % ENTRANTS),
    outcome: rows.map(({ outcome }) => outcome),
  };
  const places = rows.flatMap((one, place) => (isWanted(one) ? [place] : []));
  return countBallots(ENTRANTS, 5, pickBallots(ballots, places));
}

/** Holds what is found without some ballots against a fit of the others alone. */
function compare(rows: readonly Row[], options: FitOptions): void {
  const all = count(rows, () => true);
  const own = count(rows, ({ isOwn }) => isOwn);
  const found = new FitsWithout(ENTRANTS, all, options).fit(own)!;
  const others = fitRatings(ENTRANTS, subtractCounts(all, own), options);
  expect([...found.component]).toEqual([...others.component]);
  expect(found.model.scale.toReduced).toEqual(others.model.scale.toReduced);
  const numbers = (fit: typeof found) => [...fit.theta.map((theta) => theta ?? -99), fit.delta ?? -99];
  const cuts = ({ model }: typeof found) => [...model.x.subarray(model.firstCutSlot)];
  for (const of of [numbers, cuts]) {
    const [a, b] = [of(found), of(others)];
    expect(a).toHaveLength(b.length);
    a.forEach((value, at) => expect(value).toBeCloseTo(b[at]!, 6));
  }
}

describe("fits without some ballots", () => {
  it("are those of the others alone, where few are taken away", () => {
    fc.assert(
      fc.property(fc.array(row([1, 2, 3, 4, 5], 0.05), { minLength: 200, maxLength: 400 }), (rows) =>
        compare(rows, PRIORS),
      ),
      { numRuns: 40 },
    );
  });

  it("are those of the others alone, where entrants, pairs or outcomes go with what is taken away", () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(row([1, 5], 0.3), row([2, 3, 4], 0.9)), { minLength: 1, maxLength: 25 }),
        fc.boolean(),
        (rows, side) => compare(rows, { ...PRIORS, side, ridgeSide: side ? 0.1 : 0 }),
      ),
      { numRuns: 300 },
    );
  });

  it("are those of the others alone, where one even ballot held two groups together, and another was all that an entrant had", () => {
    const meet = (left: number, step: number, isOwn = false): Row[] =>
      [1, 2, 3, 4, 5].map((outcome) => ({ isOwn, left, step, outcome }));
    const even = { isOwn: true, step: 1, outcome: 3 };
    const groups = Array.from({ length: 20 }, () => [...meet(0, 1), ...meet(2, 1)]).flat();
    compare([...groups, { ...even, left: 1 }], PRIORS);
    compare([...groups, { ...even, left: 3 }], PRIORS);
    compare([...groups.filter(({ outcome }) => outcome !== 3), { ...even, left: 0 }], PRIORS);
  });

  it("are none where, without priors, the others have no best ratings", () => {
    const rows: Row[] = [
      { isOwn: true, left: 1, step: ENTRANTS - 1, outcome: 1 },
      { isOwn: false, left: 0, step: 1, outcome: 1 },
    ];
    const fits = new FitsWithout(
      ENTRANTS,
      count(rows, () => true),
      { K: 5, ridge: 0, side: false, ridgeSide: 0 },
    );
    expect(fits.fit(count(rows, ({ isOwn }) => isOwn))).toBeNull();
  });

  it("are refused for ballots that are not there", () => {
    const rows: Row[] = Array.from({ length: 8 }, (_, n) => ({
      isOwn: false,
      left: n % 5,
      step: 1,
      outcome: 1 + (n % 5),
    }));
    const all = count(rows, () => true);
    const other = count([{ isOwn: true, left: 0, step: 2, outcome: 3 }], () => true);
    expect(() => new FitsWithout(ENTRANTS, all, PRIORS).fit(other)).toThrow(RangeError);
  });
});
