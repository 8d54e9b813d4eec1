import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { measureAlpha } from "./ordinal-alpha.js";

/** Four observers, twelve units, five categories, some values missing (Krippendorff 2011, section C). */
const PUBLISHED = [
  [1, 1, 1],
  [2, 2, 3, 2],
  [3, 3, 3, 3],
  [3, 3, 3, 3],
  [2, 2, 2, 2],
  [1, 2, 3, 4],
  [4, 4, 4, 4],
  [1, 1, 2, 1],
  [2, 2, 2, 2],
  [5, 5, 5],
  [1, 1],
  [3],
];

describe("alpha", () => {
  it("reproduces the published example", () => {
    expect(measureAlpha(PUBLISHED, 5, "nominal")).toBeCloseTo(0.743, 3);
    expect(measureAlpha(PUBLISHED, 5, "ordinal")).toBeCloseTo(0.815, 3);
    expect(measureAlpha(PUBLISHED, 5, "interval")).toBeCloseTo(0.849, 3);
  });
  it("is 1 for agreement throughout, and nothing where nothing could disagree", () => {
    expect(
      measureAlpha(
        [
          [1, 1],
          [4, 4],
        ],
        5,
        "ordinal",
      ),
    ).toBe(1);
    expect(
      measureAlpha(
        [
          [3, 3],
          [3, 3],
        ],
        5,
        "ordinal",
      ),
    ).toBeNull();
    expect(measureAlpha([[1], [2]], 5, "ordinal")).toBeNull();
    expect(measureAlpha([], 5, "ordinal")).toBeNull();
  });
  it("does not depend, when mirrored, on which way round any unit is read", () => {
    const units = fc.array(fc.array(fc.integer({ min: 1, max: 5 }), { minLength: 2, maxLength: 5 }), { minLength: 2 });
    fc.assert(
      fc.property(units, fc.array(fc.boolean(), { minLength: 60, maxLength: 60 }), (all, turned) => {
        const other = all.map((values, i) => (turned[i % 60] ? values.map((value) => 6 - value) : values));
        const [a, b] = [measureAlpha(all, 5, "ordinal", true), measureAlpha(other, 5, "ordinal", true)];
        if (a === null || b === null) expect(a).toBe(b);
        else expect(a).toBeCloseTo(b, 9);
      }),
    );
  });
});
