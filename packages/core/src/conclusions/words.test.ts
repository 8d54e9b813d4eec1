import { describe, expect, it } from "vitest";
import type { Mending } from "../contract/index.js";
import { describeMending, describeSuccession, hasMending } from "./index.js";

describe("the words for a predecessor", () => {
  it("say which is better only where the difference is wider than its interval", () => {
    expect(describeSuccession({ points: 60.4, halfWidth: 40 })).toBe("Better by 60 points, ± 40.");
    expect(describeSuccession({ points: -60, halfWidth: 40 })).toBe("Worse by 60 points, ± 40.");
    expect(describeSuccession({ points: 30, halfWidth: 40 })).toBe("Not told apart: 30 points higher, ± 40.");
    expect(describeSuccession({ points: -1, halfWidth: 40 })).toBe("Not told apart: 1 point lower, ± 40.");
    expect(describeSuccession({ points: 30, halfWidth: null })).toContain("needs two voters");
    expect(describeSuccession({ points: null, halfWidth: null })).toContain("cannot be compared");
  });
});

describe("the words for mends", () => {
  const tally = (more: Partial<Mending>): Mending => ({
    ...{
      versionId: "v",
      places: 14,
      firstClean: [10, 2, 1, 0],
      mended: 3,
      mendedAgain: 1,
      corrected: 0,
      cleanBefore: 0,
      cleanAfter: 0,
    },
    ...more,
  });

  it("add up what works after so many mends, and name what never did", () => {
    expect(describeMending(tally({}))).toEqual({
      works: ["10 of 14", "12 of 14", "13 of 14"],
      mended: "3 of 4",
      rounds: "10 at once, 2 after 1, 1 after 2, 1 not yet",
      corrected: "—",
    });
    expect(describeMending(tally({ firstClean: [14, 0, 0, 0], mended: 0 })).mended).toBe("—");
    expect(describeMending(tally({ corrected: 3, cleanBefore: 1, cleanAfter: 2 })).corrected).toBe("1 → 2 of 3");
    expect(describeMending(tally({ places: 0, firstClean: [0, 0, 0, 0], mended: 0 }))).toMatchObject({
      ...{ works: ["—", "—", "—"], rounds: "—" },
    });
  });

  it("are of no use where nothing was fed back", () => {
    expect(hasMending([tally({ mended: 0 })])).toBe(false);
    expect(hasMending([tally({ mended: 0 }), tally({})])).toBe(true);
    expect(hasMending([tally({ mended: 0, corrected: 1 })])).toBe(true);
  });
});
