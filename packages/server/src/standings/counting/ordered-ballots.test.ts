import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { rateBallots } from "@tourney/core/ratings";
import type { CountedVoter } from "./ballot-reader.js";
import { countOrder } from "./count-ballots.js";
import { type CountOrder, JoinedBallots, OrderedBallots } from "./ordered-ballots.js";
import { SIGNS, unpackBallots } from "./unpacked-ballots.js";
import { type SentBallot, toSentBytes } from "../../../test-support/sent-bytes.js";

const VOTERS = 4;
const idsOf = (name: string, count: number) => Array.from({ length: count }, (_, number) => `${name}${number}`);
const WORDINGS = idsOf("wording", 3);
const VERSIONS = idsOf("version", 4);
const orderOf = (wordingIds: readonly string[], versionIds: readonly string[]): CountOrder => ({
  wordingIds,
  competitors: versionIds.map((id, number) => ({
    entrant: { id: `of ${id}`, key: id, name: id } as CountOrder["competitors"][number]["entrant"],
    version: { id, number: number + 1, isPresent: true } as CountOrder["competitors"][number]["version"],
  })),
});
// Not in the order in which they are read, and not all of them.
const ORDER = orderOf(["wording2", "wording0"], ["version3", "version0", "version1"]);

const ballot = fc
  .record({
    wording: fc.nat(WORDINGS.length - 1),
    left: fc.nat(VERSIONS.length - 1),
    right: fc.nat(VERSIONS.length - 1),
    lean: fc.integer({ min: -2, max: 2 }),
    signs: fc.nat(SIGNS.leftWorks + SIGNS.rightWorks + SIGNS.isUnseen),
    at: fc.integer({ min: 0, max: 2 ** 31 - 1 }),
  })
  .filter(({ left, right }) => left !== right);
const change = fc.uniqueArray(fc.record({ voter: fc.nat(VOTERS - 1), ballots: fc.array(ballot, { maxLength: 6 }) }), {
  selector: ({ voter }) => voter,
});

/** What a reader holds; the voter with the highest number was made first. */
function makeReader() {
  const voters: CountedVoter[] = [];
  return {
    state: 0,
    voters,
    wordings: { ids: WORDINGS },
    versions: { ids: VERSIONS },
    hold(voter: number, ballots: readonly SentBallot[]) {
      this.voters[voter] = {
        ...{ id: `voter${voter}`, panelId: `panel${voter % 2}`, sample: voter === 0, createdAt: -voter },
        ballots: unpackBallots(toSentBytes(ballots), { wordings: WORDINGS.length, versions: VERSIONS.length }),
        changedIn: this.state,
        mark: null,
      };
    },
  };
}
type Reader = ReturnType<typeof makeReader>;
const asReader = (reader: Reader) => reader as unknown as Parameters<OrderedBallots["update"]>[0];

function countAnew(reader: Reader, order = ORDER) {
  const ordered = new OrderedBallots(order);
  ordered.update(asReader(reader));
  return { parts: ordered.list(), count: countOrder(ordered.list(), order) };
}

describe("ballots of an order", () => {
  it("come to the same when one voter after the other votes as when all are read at once, in whatever order they are sent", () => {
    fc.assert(
      fc.property(fc.array(change, { maxLength: 8 }), (changes) => {
        const reader = makeReader();
        for (let voter = 0; voter < VOTERS; voter++) reader.hold(voter, []);
        const ordered = new OrderedBallots(ORDER);
        const joined = new JoinedBallots(ORDER);
        const expected = new Map<number, readonly SentBallot[]>();
        for (const some of changes) {
          reader.state++;
          for (const { voter, ballots } of some) {
            reader.hold(voter, ballots);
            expected.set(voter, ballots);
          }
          ordered.update(asReader(reader));
          // Nothing of it is left in the next count, which is made in the same room.
          countOrder(ordered.list(), ORDER, joined);
        }
        const turned = makeReader();
        for (let voter = 0; voter < VOTERS; voter++) turned.hold(voter, (expected.get(voter) ?? []).toReversed());
        const { count, parts } = countAnew(turned);
        const now = countOrder(ordered.list(), ORDER, joined);
        expect({ ...now, countedAt: count.countedAt }).toEqual(count);

        const wordings = WORDINGS.map((id) => ORDER.wordingIds.indexOf(id));
        const versions = VERSIONS.map((id) => ORDER.competitors.findIndex(({ version }) => version.id === id));
        const counted = [...expected]
          .toSorted(([a], [b]) => b - a)
          .flatMap(([voter, ballots]) =>
            ballots
              .filter(({ wording, left, right }) => ![wordings[wording], versions[left], versions[right]].includes(-1))
              .map((own) => ({ ...own, voter })),
          );
        const byHand = {
          voter: counted.map(({ voter }) => VOTERS - voter),
          prompt: counted.map(({ wording }) => wordings[wording]!),
          left: counted.map(({ left }) => versions[left]!),
          right: counted.map(({ right }) => versions[right]!),
          outcome: counted.map(({ lean }) => lean + 3),
        };
        const { ratings } = rateBallots(ORDER.competitors.length, byHand);
        expect(now.ratings.entrants).toEqual(ratings.entrants);
        expect(joined.join(parts).outcome.length).toBe(counted.length);
        expect(now.counted.sampleBallots).toBe(counted.filter(({ voter }) => voter === 0).length);
        for (const { panelId, ballots, unseen, firstAt, lastAt } of now.sources) {
          const own = counted.filter(({ voter }) => `panel${voter % 2}` === panelId);
          expect(ballots).toBe(own.length);
          expect(unseen).toBe(own.filter(({ signs }) => (signs & SIGNS.isUnseen) !== 0).length);
          expect([firstAt, lastAt]).toEqual([
            Math.min(...own.map(({ at }) => at)),
            Math.max(...own.map(({ at }) => at)),
          ]);
        }
        for (const { version, worksShare, ballots } of now.counted.rows) {
          const number = VERSIONS.indexOf(version.id);
          const failures = counted.filter(
            ({ left, right, signs }) =>
              (left === number && (signs & SIGNS.leftWorks) === 0) ||
              (right === number && (signs & SIGNS.rightWorks) === 0),
          );
          expect(worksShare).toBe(ballots === 0 ? null : (ballots - failures.length) / ballots);
        }
      }),
    );
  });

  it("have the same digest whatever else is selected, and another one for every other ballot", () => {
    const one: SentBallot = { wording: 0, left: 0, right: 1, lean: -2, signs: 3, at: 5 };
    const digestOf = (ballots: readonly SentBallot[], order = ORDER) => {
      const reader = makeReader();
      reader.hold(0, ballots);
      return countAnew(reader, order).count.digest;
    };
    const digest = digestOf([one]);
    expect(digestOf([one], orderOf(["wording0", "wording1"], ["version0", "version1", "version2"]))).toBe(digest);
    expect(digestOf([{ ...one, wording: 1 }, one])).toBe(digest);
    const others = [{ wording: 2 }, { left: 3 }, { right: 3 }, { lean: 1 }].map((more) =>
      digestOf([{ ...one, ...more }]),
    );
    expect(new Set([digest, digestOf([one, one]), digestOf([]), ...others]).size).toBe(7);
  });
});
