import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { BALLOT_BYTES, BallotColumns, SIGNS } from "./ballot-columns.js";

interface Ballot {
  wording: number;
  left: number;
  right: number;
  lean: number;
  signs: number;
  at: number;
}

/** As the database sends them. */
function toBytes(ballots: readonly Ballot[]): Buffer {
  const bytes = Buffer.alloc(ballots.length * BALLOT_BYTES);
  for (const [index, { wording, left, right, lean, signs, at }] of ballots.entries()) {
    const start = index * BALLOT_BYTES;
    bytes.writeInt32BE(wording, start);
    bytes.writeInt32BE(left, start + 4);
    bytes.writeInt32BE(right, start + 8);
    bytes.writeInt16BE((lean + 2) * 256 + signs, start + 12);
    bytes.writeBigInt64BE(BigInt(at), start + 14);
  }
  return bytes;
}

const VOTERS = 4;
const [WORDINGS, VERSIONS] = [3, 4];
const ballot = fc.record({
  wording: fc.nat(WORDINGS - 1),
  left: fc.nat(VERSIONS - 1),
  right: fc.nat(VERSIONS - 1),
  lean: fc.integer({ min: -2, max: 2 }),
  signs: fc.nat(SIGNS.leftWorks + SIGNS.rightWorks + SIGNS.isUnseen),
  at: fc.integer({ min: 0, max: 2 ** 45 }),
});
const change = fc.uniqueArray(fc.record({ voter: fc.nat(VOTERS - 1), ballots: fc.array(ballot, { maxLength: 6 }) }), {
  selector: ({ voter }) => voter,
});

const EVERYTHING = {
  promptOf: Int32Array.of(0, 1, 2),
  competitorOf: Int32Array.of(0, 1, 2, 3),
  voterOf: Int32Array.of(0, 1, 2, 3),
};

describe("columns of ballots", () => {
  it("hold of each voter what was sent last, however often something changes", () => {
    fc.assert(
      fc.property(fc.array(change, { maxLength: 8 }), (changes) => {
        const columns = new BallotColumns();
        const expected = new Map<number, readonly Ballot[]>();
        for (const some of changes) {
          columns.replace(some.map(({ voter, ballots }) => ({ voter, bytes: toBytes(ballots) })));
          for (const { voter, ballots } of some) expected.set(voter, ballots);
        }
        const found = columns.select(EVERYTHING);
        const rows = Array.from(found.outcome, (outcome, b) =>
          [found.voter[b], found.prompt[b], found.left[b], found.right[b], outcome, found.at[b]].concat([
            found.leftFailures[b],
            found.rightFailures[b],
            found.isUnseen[b],
          ]),
        );
        const wanted = [...expected].flatMap(([voter, ballots]) =>
          ballots.map(({ wording, left, right, lean, signs, at }) => [
            ...[voter, wording, left, right, lean + 3, at],
            ...[Number((signs & 1) === 0), Number((signs & 2) === 0), Number((signs & 4) !== 0)],
          ]),
        );
        const sorted = (list: (number | undefined)[][]) => list.map((row) => row.join(" ")).toSorted();
        expect(sorted(rows)).toEqual(sorted(wanted));
      }),
    );
  });

  it("leave out what is not looked at, and number the rest as it is wanted", () => {
    const columns = new BallotColumns();
    const bytes = toBytes([
      { wording: 0, left: 0, right: 1, lean: -2, signs: 3, at: 5 },
      { wording: 1, left: 0, right: 1, lean: 0, signs: 3, at: 6 },
      { wording: 1, left: 2, right: 0, lean: 2, signs: 1, at: 7 },
    ]);
    columns.replace([{ voter: 2, bytes }]);
    const found = columns.select({
      promptOf: Int32Array.of(-1, 0, 1),
      competitorOf: Int32Array.of(1, -1, 0, 2),
      voterOf: Int32Array.of(9, 9, 7, 9),
    });
    expect(found.outcome).toEqual(Int32Array.of(5));
    expect(found).toMatchObject({
      voter: Int32Array.of(7),
      prompt: Int32Array.of(0),
      left: Int32Array.of(0),
      right: Int32Array.of(1),
      rightFailures: Int32Array.of(1),
      at: Float64Array.of(7),
    });
  });
});
