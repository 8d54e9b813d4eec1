import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { compareCounted, compareRows } from "./index.js";

const row = (key: string, rating: number | null) => ({
  entrant: { id: key, key, name: key, maker: "", glyph: 0, sample: false },
  version: { id: key, number: 1, isPresent: true, until: null },
  ...{ rating, halfWidth: null, rankRange: null, ballots: 1 },
});

describe("two moments of standings", () => {
  it("part the ballots into those that came, went and count otherwise", () => {
    const ballots = fc.uniqueArray(
      fc.tuple(fc.integer({ min: 0, max: 9 }).map(String), fc.integer({ min: -2, max: 2 })),
      {
        selector: ([id]) => id,
      },
    );
    fc.assert(
      fc.property(ballots, ballots, (a, b) => {
        const [from, to] = [new Map(a), new Map(b)];
        const { added, removed, changed } = compareCounted(from, to);
        // What is done to the earlier makes the later.
        const made = new Map(from);
        for (const id of removed) expect(made.delete(id)).toBe(true);
        for (const id of added) expect(made.has(id)).toBe(false);
        for (const id of [...added, ...changed]) made.set(id, to.get(id)!);
        expect(made).toEqual(to);
        for (const id of changed) expect(from.get(id)).not.toBe(to.get(id));
      }),
    );
  });

  it("stand side by side in the order of the later, with who is there no more at the end", () => {
    const rows = compareRows([row("gorse", 1500), row("heath", 1400)], [row("sedge", 1600), row("gorse", 1450)]);
    expect(rows.map(({ entrant, from, to }) => [entrant.key, from?.rating, to?.rating])).toEqual([
      ["sedge", undefined, 1600],
      ["gorse", 1500, 1450],
      ["heath", 1400, undefined],
    ]);
  });
});
