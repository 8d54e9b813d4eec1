import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { BasisPart, StandingsBasis } from "../contract/index.js";
import { joinBasis, splitBasis } from "./index.js";

type Ballot = { [Name in keyof BasisPart]: number };

const number = fc.nat(9);
const ballot: fc.Arbitrary<Ballot> = fc.record({
  ...{ prompt: number, voter: number, left: number, right: number, marks: number },
  ...{ lean: fc.integer({ min: -2, max: 2 }), at: fc.nat() },
});

const NAMES = ["prompt", "voter", "left", "right", "lean", "at", "marks"] as const;
const toBasis = (cast: readonly Ballot[]): StandingsBasis =>
  ({
    formerVersions: 3,
    ballots: Object.fromEntries(NAMES.map((name) => [name, cast.map((one) => one[name])])),
  }) as unknown as StandingsBasis;
const listBallots = ({ lean, ...columns }: BasisPart): Ballot[] =>
  lean.map((own, place) => ({
    ...(Object.fromEntries(Object.entries(columns).map(([name, column]) => [name, column[place]!])) as Ballot),
    lean: own,
  }));

/** Its columns in one order. */
const keyed = (one: Ballot) => NAMES.map((name) => one[name]);

describe("a basis in parts", () => {
  it("has all ballots in their order", () => {
    fc.assert(
      fc.property(fc.array(ballot, { maxLength: 40 }), fc.integer({ min: 1, max: 9 }), (cast, size) => {
        const { rest, parts } = splitBasis(toBasis(cast), size);
        const all = [...parts].map((part) => part.list());
        const joined = joinBasis(rest, all);
        expect(joined.formerVersions).toBe(3);
        expect(listBallots(joined.ballots)).toEqual(cast);
        expect(all.every(({ at }) => at.length > 0 && at.length <= size)).toBe(true);
      }),
    );
  });

  it("has other numbers where its ballots are others", () => {
    const listNumbers = (ballots: readonly Ballot[]) =>
      [...splitBasis(toBasis(ballots)).parts].map(({ numbers }) => numbers.join());
    fc.assert(
      fc.property(fc.array(ballot, { maxLength: 3 }), fc.array(ballot, { maxLength: 3 }), (some, others) => {
        expect(listNumbers(some).join() === listNumbers(others).join()).toBe(
          JSON.stringify(some.map(keyed)) === JSON.stringify(others.map(keyed)),
        );
      }),
    );
  });

  it("keeps every full part as it was when ballots come", () => {
    const size = 4;
    fc.assert(
      fc.property(fc.array(ballot, { maxLength: 30 }), fc.array(ballot, { maxLength: 9 }), (cast, more) => {
        const listNumbers = (ballots: readonly Ballot[]) =>
          [...splitBasis(toBasis(ballots), size).parts].map(({ numbers }) => [...numbers]);
        const [before, after] = [listNumbers(cast), listNumbers([...cast, ...more])];
        const full = Math.floor(cast.length / size);
        expect(after.slice(0, full)).toEqual(before.slice(0, full));
      }),
    );
  });
});
