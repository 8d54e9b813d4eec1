import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type RoundFacts, sumMending, tallyMending } from "./index.js";

const round = (mends: number, isClean: boolean, more: Partial<RoundFacts> = {}): RoundFacts => ({
  ...{ promptId: "p", versionId: "v", take: 1, mends, corrections: 0, isTried: true, isClean },
  ...more,
});
const tally = (...rounds: RoundFacts[]) => tallyMending(rounds)[0]!;

describe("what mends come to", () => {
  it("counts a place where its first clean page came, whatever came later", () => {
    expect(tally(round(0, true))).toMatchObject({ places: 1, firstClean: [1, 0, 0, 0], mended: 0 });
    expect(tally(round(0, false), round(1, true))).toMatchObject({ places: 1, firstClean: [0, 1, 0, 0], mended: 1 });
    const again = tally(round(1, true), round(2, false), round(0, false));
    expect(again).toMatchObject({ firstClean: [0, 1, 0, 0], mended: 1, mendedAgain: 1 });
    expect(tally(round(0, false), round(1, false), round(2, false), round(4, true)).firstClean).toEqual([0, 0, 0, 1]);
    expect(tally(round(0, false), round(1, false))).toMatchObject({ places: 1, firstClean: [0, 0, 0, 0], mended: 1 });
    expect(tally(round(0, false))).toMatchObject({ places: 1, firstClean: [0, 0, 0, 0], mended: 0 });
  });

  it("leaves out what cannot be told clean or not", () => {
    expect(tally(round(0, false, { isTried: false }), round(1, true))).toMatchObject({ places: 0, mended: 0 });
  });

  it("does not take a correction for a mend", () => {
    const corrected = tally(round(0, false), round(0, true, { corrections: 1 }));
    expect(corrected).toMatchObject({
      firstClean: [0, 0, 0, 0],
      corrected: 1,
      cleanBefore: 0,
      cleanAfter: 1,
      mended: 0,
    });
    const spoilt = tally(round(0, false), round(1, true), round(1, false, { corrections: 1 }));
    expect(spoilt).toMatchObject({ firstClean: [0, 1, 0, 0], corrected: 1, cleanBefore: 1, cleanAfter: 0 });
  });

  it("counts takes apart, and prompts and versions in rows of their own", () => {
    const rows = tallyMending([
      round(0, true),
      round(0, false, { take: 2 }),
      round(0, true, { promptId: "q" }),
      round(0, false, { versionId: "w" }),
    ]);
    expect(rows.map(({ places, firstClean }) => [places, firstClean[0]])).toEqual([
      [2, 1],
      [1, 1],
      [1, 0],
    ]);
    expect(sumMending(rows)).toMatchObject({ places: 4, firstClean: [2, 0, 0, 0] });
    expect(sumMending([])).toMatchObject({ places: 0, firstClean: [0, 0, 0, 0] });
  });

  it("does not depend on the order of the rounds, and never counts more clean places than there are", () => {
    const facts = fc.record({
      promptId: fc.constantFrom("p", "q"),
      versionId: fc.constantFrom("v", "w"),
      take: fc.integer({ min: 1, max: 2 }),
      mends: fc.integer({ min: 0, max: 4 }),
      corrections: fc.integer({ min: 0, max: 1 }),
      isTried: fc.boolean(),
      isClean: fc.boolean(),
    });
    // There is one of each round.
    const rounds = fc.uniqueArray(facts, {
      maxLength: 30,
      selector: ({ promptId, versionId, take, mends, corrections }) =>
        [promptId, versionId, take, mends + corrections].join(),
    });
    fc.assert(
      fc.property(rounds, (list) => {
        const all = sumMending(tallyMending(list));
        expect(sumMending(tallyMending(list.toReversed()))).toEqual(all);
        expect(all.firstClean.reduce((sum, n) => sum + n, 0)).toBeLessThanOrEqual(all.places);
        expect(all.cleanAfter).toBeLessThanOrEqual(all.corrected);
        expect(all.mended).toBeLessThanOrEqual(all.places);
        expect(all.mendedAgain).toBeLessThanOrEqual(all.mended);
      }),
    );
  });
});
