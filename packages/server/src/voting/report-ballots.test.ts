import { Reason } from "@tourney/core/contract";
import fc from "fast-check";
import { expect, it } from "vitest";
import { readReportBallots, REASONS } from "./report-ballots.js";
import { BALLOT_BYTES } from "./report-queries.sql.js";

const uuid = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, "0")}`;
const PROMPTS = [0, 1, 2].map((n) => ({ id: uuid(n), wordingId: uuid(10 + n), kind: "game" as const }));
const SIDES = [0, 1, 2, 3].map((n) => ({
  ...{ entryId: uuid(20 + n), versionId: uuid(30 + n), entrantId: uuid(40 + n), isPresent: n !== 3 },
}));

const ballot = fc.record({
  voter: fc.nat(2),
  at: fc.bigInt({ min: 1_700_000_000_000_000n, max: 1_900_000_000_000_000n }),
  prompt: fc.nat(2),
  left: fc.nat(3),
  right: fc.nat(3),
  dwellMs: fc.nat(1_000_000),
  lean: fc.integer({ min: -2, max: 2 }),
  isAutomatic: fc.boolean(),
  reasons: fc.subarray([...Reason.options]),
});
type Ballot = typeof ballot extends fc.Arbitrary<infer T> ? T : never;

/** As the database writes it. */
function toBytes({ at, prompt, left, right, dwellMs, lean, isAutomatic, reasons }: Ballot): Buffer {
  const bytes = Buffer.alloc(BALLOT_BYTES);
  bytes.writeBigInt64BE(at, 0);
  [prompt, left, right, dwellMs].forEach((value, index) => bytes.writeInt32BE(value, 8 + index * 4));
  bytes.writeInt16BE((lean + 2) * 2 + Number(isAutomatic), 24);
  bytes.writeInt16BE(
    reasons.reduce((sum, reason) => sum + 2 ** Reason.options.indexOf(reason), 0),
    26,
  );
  return bytes;
}

it("reads what was sent, in the order in which it was cast", () => {
  fc.assert(
    fc.property(fc.uniqueArray(ballot, { selector: ({ at }) => at, maxLength: 30 }), (ballots) => {
      const sent = [0, 1, 2].map((voter) => ({
        voterId: uuid(90 + voter),
        bytes: Buffer.concat(ballots.filter((one) => one.voter === voter).map(toBytes)),
      }));
      const { voterIds, prompts, sides, ...columns } = readReportBallots(sent, PROMPTS, SIDES);
      expect([voterIds, prompts, sides]).toEqual([[0, 1, 2].map((voter) => uuid(90 + voter)), PROMPTS, SIDES]);
      const expected = ballots.toSorted((a, b) => (a.at < b.at ? -1 : 1));
      for (const name of ["voter", "prompt", "left", "right", "lean", "dwellMs"] as const)
        expect(Array.from(columns[name])).toEqual(expected.map((one) => one[name]));
      expect(Array.from(columns.isAutomatic)).toEqual(expected.map(({ isAutomatic }) => Number(isAutomatic)));
      expect(Array.from(columns.reasons, (bits) => REASONS[bits])).toEqual(expected.map(({ reasons }) => reasons));
    }),
  );
});
