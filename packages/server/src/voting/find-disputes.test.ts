import fc from "fast-check";
import { expect, it } from "vitest";
import { findDisputes } from "./find-disputes.js";

interface Ballot {
  left: number;
  right: number;
  lean: number;
}
const SIDES = 8;
const ballot = fc
  .record({
    left: fc.integer({ min: 0, max: SIDES - 1 }),
    right: fc.integer({ min: 0, max: SIDES - 1 }),
    lean: fc.integer({ min: -2, max: 2 }),
  })
  .filter(({ left, right }) => left !== right);

const find = (ballots: readonly Ballot[], counting = Int32Array.from(ballots.keys())) =>
  findDisputes(
    {
      prompts: [{ id: "p" }] as never,
      sides: Array.from({ length: SIDES }, (_, n) => ({ id: `${n}`, entrantId: `entrant ${n}` })) as never,
      prompt: new Int32Array(ballots.length),
      left: Int32Array.from(ballots, ({ left }) => left),
      right: Int32Array.from(ballots, ({ right }) => right),
      lean: Int8Array.from(ballots, ({ lean }) => lean),
    },
    counting,
  );

/** The same, one pair of entries after another. */
function listByHand(ballots: readonly Ballot[]) {
  const leansOf = new Map<string, number[]>();
  for (const { left, right, lean } of ballots) {
    const [key, own] = left < right ? [`${left} ${right}`, lean] : [`${right} ${left}`, -lean];
    leansOf.set(key, [...(leansOf.get(key) ?? []), own + 0]);
  }
  const spreadOf = (leans: readonly number[]) => {
    const mean = leans.reduce((sum, lean) => sum + lean, 0) / leans.length;
    return leans.reduce((sum, lean) => sum + (lean - mean) ** 2, 0) / leans.length;
  };
  return [...leansOf]
    .filter(([, leans]) => leans.some((lean) => lean < 0) && leans.some((lean) => lean > 0))
    .map(([key, leans]) => ({ key, leans, spread: spreadOf(leans) }));
}

it("lists the bouts that voters lean both ways on, the widest spread first, eight at most", () => {
  fc.assert(
    fc.property(fc.array(ballot, { maxLength: 120 }), (ballots) => {
      const [found, all] = [find(ballots), listByHand(ballots)];
      expect(found).toHaveLength(Math.min(8, all.length));
      const spreads = found.map(({ firstEntryId, secondEntryId, leans }) => {
        const own = all.find(({ key }) => key === `${firstEntryId} ${secondEntryId}`)!;
        expect(leans.map((lean) => lean + 0)).toEqual(own.leans);
        return own.spread;
      });
      const widest = all.map(({ spread }) => spread).toSorted((a, b) => b - a);
      for (const [place, spread] of spreads.entries()) expect(spread).toBeCloseTo(widest[place]!, 9);
    }),
  );
});

it("puts the one with more ballots first where spreads are the same, and then the one that was contested first", () => {
  const [left, right] = [
    { left: 0, right: 1 },
    { left: 2, right: 3 },
  ];
  const once = [-1, 1].map((lean) => ({ ...left, lean }));
  const twice = [-1, 1, -1, 1].map((lean) => ({ ...right, lean }));
  expect(find([...once, ...twice]).map(({ firstEntryId }) => firstEntryId)).toEqual(["2", "0"]);
  const again = [-1, 1].map((lean) => ({ ...right, lean }));
  expect(find([...again, ...once]).map(({ firstEntryId }) => firstEntryId)).toEqual(["2", "0"]);
  expect(find([...once, ...again], Int32Array.of(0, 2, 3))).toMatchObject([{ firstEntryId: "2", leans: [-1, 1] }]);
});
