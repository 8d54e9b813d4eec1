import fc from "fast-check";
import { expect, it } from "vitest";
import { SEEN_GROUPS, type Sign, SIGN_PLACES } from "../ballots/ballot-queries.sql.js";
import { countSeen } from "./count-seen.js";

const VOTERS = ["una", "ines"];
/** The last one is of a version that is not asked for. */
const ENTRIES = ["v-1", "v-2", "v-3"].map((versionId) => ({ id: `entry of ${versionId}`, versionId, entrantId: "e" }));
const VERSIONS = ["v-2", "v-1"];

const sign = (most: number) => fc.nat(most);
const ballot = fc.record({
  ...{ voter: fc.nat(1), left: fc.nat(2), right: fc.nat(2) },
  signs: fc.record({
    ...{ lean: sign(4), isRated: sign(1), window: sign(SEEN_GROUPS.window.length) },
    ...{ pointer: sign(SEEN_GROUPS.pointer.length), "frame rate": sign(SEEN_GROUPS["frame rate"].length) },
  }),
});
type Ballot = typeof ballot extends fc.Arbitrary<infer T> ? T : never;

const addUp = (signs: Ballot["signs"]) =>
  Object.entries(signs).reduce((sum, [name, value]) => sum + value * 2 ** SIGN_PLACES[name as Sign].shift, 0);
const tableOf = (ballots: readonly Ballot[]) => ({
  ...{ voterIds: VOTERS, wordingIds: ["w"], entries: ENTRIES, ids: [] },
  columns: {
    ...{ voter: Uint8Array.from(ballots, ({ voter }) => voter), prompt: new Uint8Array(ballots.length) },
    ...{ left: Uint8Array.from(ballots, ({ left }) => left), right: Uint8Array.from(ballots, ({ right }) => right) },
    ...{ at: new Int32Array(ballots.length), dwellMs: new Int32Array(ballots.length) },
    ...{ signs: Uint16Array.from(ballots, ({ signs }) => addUp(signs)), reasons: new Uint16Array(ballots.length) },
  },
});

/** One ballot after the other, by what it says. */
function listSeen(ballots: readonly Ballot[], sort: keyof typeof SEEN_GROUPS): string[] {
  return ballots.flatMap(({ voter, left, right, signs }) => {
    const name = SEEN_GROUPS[sort][signs[sort] - 1];
    const counts = name !== undefined && signs.isRated === 1 && voter === 0 && left < 2 && right < 2;
    const sides = [left, right].map((side) => VERSIONS.indexOf(ENTRIES[side]!.versionId));
    return counts ? [[sort, name, ...sides, signs.lean - 2].join()] : [];
  });
}

it("counts each ballot once by each thing that it was seen with, and in one order", () => {
  fc.assert(
    fc.property(fc.array(ballot, { maxLength: 60 }), (ballots) => {
      const counted = countSeen(tableOf(ballots), { versionIds: VERSIONS, leftOut: new Set(["ines"]) });
      const listed = counted.flatMap(({ by, name, left, right, lean, n }) =>
        Array.from({ length: n }, () => [by, name, left, right, lean].join()),
      );
      const expected = (["window", "pointer", "frame rate"] as const).flatMap((sort) => listSeen(ballots, sort));
      expect(listed.toSorted()).toEqual(expected.toSorted());
      expect(countSeen(tableOf(ballots.toReversed()), { versionIds: VERSIONS, leftOut: new Set(["ines"]) })).toEqual(
        counted,
      );
    }),
  );
});
