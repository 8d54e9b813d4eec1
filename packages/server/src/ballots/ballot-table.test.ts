import { Reason } from "@tourney/core/contract";
import fc from "fast-check";
import { expect, it } from "vitest";
import { signReader, SENT_BYTES, type Sign, SIGN_PLACES } from "./ballot-queries.sql.js";
import { findUnknown, keyOf, readVoterBallots, sortEntries, tabulate, type VoterBallots } from "./ballot-table.js";

const uuid = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, "0")}`;
const VOTERS = [uuid(91), uuid(92), uuid(93)];
const ENTRIES = [0, 1, 2, 3].map((n) => ({ id: uuid(20 + n), versionId: uuid(30 + n), entrantId: uuid(40 + n) }));
const PLACES = new Map(ENTRIES.map(({ id }, place) => [keyOf(id), place]));

const sign = (name: Sign) => fc.nat(SIGN_PLACES[name].mask);
const ballot = fc.record({
  voter: fc.nat(2),
  castMs: fc.oneof(
    fc.integer({ min: 1_700_000_000_000, max: 1_700_300_000_000 }),
    // Many in the same few seconds.
    fc.integer({ min: 1_700_000_000_000, max: 1_700_000_003_000 }),
  ),
  prompt: fc.nat(2),
  left: fc.nat(3),
  right: fc.nat(3),
  dwellMs: fc.nat(2_000_000_000),
  reasons: fc.nat(2 ** Reason.options.length - 1),
  signs: fc.record({
    ...{ lean: fc.nat(4), leftWorks: sign("leftWorks"), rightWorks: sign("rightWorks"), pointer: sign("pointer") },
    ...{
      isAutomatic: sign("isAutomatic"),
      isRated: sign("isRated"),
      window: sign("window"),
    },
    "frame rate": sign("frame rate"),
  }),
});
type Ballot = typeof ballot extends fc.Arbitrary<infer T> ? T : never;
const signNames = Object.keys(SIGN_PLACES) as Sign[];

const secondOf = (castMs: number) => Math.floor(castMs / 1000);

/** As the database writes it. */
function toBytes({ castMs, prompt, left, right, dwellMs, signs, reasons }: Ballot): Buffer {
  const bytes = Buffer.alloc(SENT_BYTES);
  [left, right].forEach((place, side) => bytes.write(ENTRIES[place]!.id.replaceAll("-", ""), side * 16, "hex"));
  [secondOf(castMs), prompt, dwellMs].forEach((value, index) => bytes.writeInt32BE(value, 32 + index * 4));
  bytes.writeInt16BE(
    signNames.reduce((sum, name) => sum + signs[name] * 2 ** SIGN_PLACES[name].shift, 0),
    44,
  );
  bytes.writeInt16BE(reasons, 46);
  bytes.writeInt16BE(castMs % 1000, 48);
  return bytes;
}

it("reads what was sent, in the order in which it was cast, each with its id", () => {
  fc.assert(
    fc.property(fc.uniqueArray(ballot, { selector: ({ castMs }) => castMs, maxLength: 30 }), (ballots) => {
      const inTime = ballots.toSorted((a, b) => a.castMs - b.castMs);
      // Voters come in whatever order; those of each in the order in which they were cast.
      const sent = [2, 0, 1].map((voter): [string, VoterBallots] => {
        const own = inTime.filter((one) => one.voter === voter);
        const bytes = Buffer.concat(own.map(toBytes));
        return [VOTERS[voter]!, readVoterBallots({ bytes, ids: own.map(({ castMs }) => `of ${castMs}`) }, PLACES, 3)];
      });
      const { voterIds, ids, columns } = tabulate(new Map(sent), [], sortEntries(ENTRIES));
      expect(voterIds).toEqual(VOTERS);
      expect(ids).toEqual(inTime.map(({ castMs }) => `of ${castMs}`));
      expect(Array.from(columns.at)).toEqual(inTime.map(({ castMs }) => secondOf(castMs)));
      for (const name of ["voter", "prompt", "left", "right", "dwellMs", "reasons"] as const)
        expect(Array.from(columns[name])).toEqual(inTime.map((one) => one[name]));
      for (const name of signNames)
        expect(Array.from(columns.signs, signReader(name))).toEqual(inTime.map(({ signs }) => signs[name]));
    }),
  );
});

it("ballots of one millisecond come by voter, and a voter's own as they were cast", () => {
  const one = { castMs: 1_700_000_000_000, prompt: 0, left: 0, right: 1, reasons: 0 };
  const signs = Object.fromEntries(signNames.map((name) => [name, 0])) as Ballot["signs"];
  const of = (voter: number, dwells: number[]): [string, VoterBallots] => {
    const bytes = Buffer.concat(dwells.map((dwellMs) => toBytes({ ...one, voter, dwellMs, signs })));
    return [VOTERS[voter]!, readVoterBallots({ bytes, ids: [] }, PLACES, 1)];
  };
  const tables = [
    [of(1, [3, 4]), of(0, [9, 1])],
    [of(0, [9, 1]), of(1, [3, 4])],
  ].map((sent) => tabulate(new Map(sent), [], sortEntries(ENTRIES)));
  for (const { columns } of tables) expect(Array.from(columns.dwellMs)).toEqual([9, 1, 3, 4]);
});

it("an entry that has no place yet is found by its id, and none is read without a place", () => {
  const bytes = Buffer.alloc(SENT_BYTES * 2);
  const [known, unknown] = [ENTRIES[0]!.id, "0fedcba9-8765-4321-8abc-def012345678"];
  [known, unknown, unknown, known].forEach((id, side) =>
    bytes.write(id.replaceAll("-", ""), Math.floor(side / 2) * SENT_BYTES + (side % 2) * 16, "hex"),
  );
  expect(findUnknown(bytes, PLACES)).toEqual([unknown]);
  expect(() => readVoterBallots({ bytes, ids: [] }, PLACES, 1)).toThrow(RangeError);
});

it("entries stand in the order of their ids, whichever was named first", () => {
  const [a, b, c] = ENTRIES;
  const { entries, placeOf } = sortEntries([c!, a!, b!]);
  expect(entries).toEqual([a, b, c]);
  expect(Array.from(placeOf)).toEqual([2, 0, 1]);
});

it("all signs fit into the number that is sent", () => {
  const last = Object.values(SIGN_PLACES).at(-1)!;
  expect((last.mask << last.shift) | ((1 << last.shift) - 1)).toBeLessThan(2 ** 15);
});
