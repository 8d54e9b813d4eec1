import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { toSentBytes } from "../../../test-support/sent-bytes.js";
import { areSame, hasSign, leanOf, SIGNS, unpackBallots } from "./unpacked-ballots.js";

const COUNTS = { wordings: 300, versions: 70_000 };
const Ballot = fc.record({
  wording: fc.nat(COUNTS.wordings - 1),
  left: fc.nat(COUNTS.versions - 1),
  right: fc.nat(COUNTS.versions - 1),
  lean: fc.integer({ min: -2, max: 2 }),
  signs: fc.nat(SIGNS.leftWorks + SIGNS.rightWorks + SIGNS.isUnseen),
  at: fc.integer({ min: 0, max: 2 ** 32 - 1 }),
});

describe("ballots as they were sent", () => {
  it("are read from their bytes whole", () => {
    fc.assert(
      fc.property(fc.array(Ballot), (ballots) => {
        const columns = unpackBallots(toSentBytes(ballots), COUNTS);
        const read = ballots.map((_, b) => {
          const verdict = columns.verdict[b]!;
          const signs = (["leftWorks", "rightWorks", "isUnseen"] as const).map((sign) =>
            hasSign(verdict, sign) ? SIGNS[sign] : 0,
          );
          return {
            ...{ wording: columns.wording[b], left: columns.left[b], right: columns.right[b], at: columns.at[b] },
            ...{ lean: leanOf(verdict), signs: signs.reduce<number>((sum, sign) => sum + sign, 0) },
          };
        });
        expect(read).toEqual(ballots);
      }),
    );
  });

  it("are the same where their bytes are", () => {
    const Changed = fc.tuple(fc.array(Ballot, { minLength: 1 }), fc.nat(), Ballot);
    fc.assert(
      fc.property(Changed, ([ballots, place, other]) => {
        const changed = ballots.with(place % ballots.length, other);
        const [first, again, second] = [ballots, ballots, changed].map((own) =>
          unpackBallots(toSentBytes(own), COUNTS),
        );
        expect(areSame(first!, again!)).toBe(true);
        expect(areSame(first!, second!)).toBe(toSentBytes(ballots).equals(toSentBytes(changed)));
        expect(areSame(first!, unpackBallots(toSentBytes(ballots.slice(1)), COUNTS))).toBe(false);
      }),
    );
  });
});
