import { type BallotColumns, makeNumbers, type Numbers, PRODUCT_OPTIONS } from "@tourney/core/ratings";
import type { Competitor } from "@tourney/core/standings";
import type { BallotReader, CountedVoter } from "./ballot-reader.js";
import { selectVoterPart, type Selection, type VoterPart } from "./voter-part.js";

/** Whose ballots are counted, on which wordings. */
export interface CountOrder {
  wordingIds: readonly string[];
  competitors: readonly Pick<Competitor, "entrant" | "version">[];
}

/** A voter who cast ballots of an order, and what they come to. */
export interface CountedPart extends VoterPart {
  voter: CountedVoter;
}

/** Holds the ballots of one order by voter, sorted for rating. When a voter casts a ballot, `update` sorts that voter's ballots again and leaves the rest as they are. */
export class OrderedBallots {
  private readonly parts = new Map<number, CountedPart>();
  private readonly selection: Selection;
  private readonly placeOfWording: ReadonlyMap<string, number>;
  private readonly placeOfVersion: ReadonlyMap<string, number>;
  private readState = -1;

  constructor({ wordingIds, competitors }: CountOrder) {
    const versionIds = competitors.map(({ version }) => version.id);
    const none = new Int32Array();
    this.selection = { promptOf: none, competitorOf: none, wordingIds, versionIds };
    this.placeOfWording = placesOf(wordingIds);
    this.placeOfVersion = placesOf(versionIds);
  }

  /** Takes over what a reader has read since the last time. */
  update({
    state,
    wordings,
    versions,
    voters,
  }: Pick<BallotReader, "state" | "wordings" | "versions" | "voters">): void {
    if (state === this.readState) return;
    const { selection } = this;
    selection.promptOf = numberMore(selection.promptOf, wordings.ids, this.placeOfWording);
    selection.competitorOf = numberMore(selection.competitorOf, versions.ids, this.placeOfVersion);
    for (const [number, voter] of voters.entries()) {
      if (voter.changedIn <= this.readState) continue;
      const part = selectVoterPart(voter.ballots, selection);
      if (part.outcome.length > 0) this.parts.set(number, { ...part, voter });
      else this.parts.delete(number);
    }
    this.readState = state;
  }

  /** Those who cast any, in an order of their own: by when they were made. */
  list(): CountedPart[] {
    return [...this.parts.values()].sort(
      ({ voter: a }, { voter: b }) => a.createdAt - b.createdAt || (a.id < b.id ? -1 : 1),
    );
  }
}

type Columns = Record<keyof BallotColumns, Numbers>;

/** So much more room is made than is needed, so that a few more ballots need no new one. */
const SPARE = 1.1;

/**
 * Puts the ballots of some voters one after the other, who are numbered as they are listed: in the order in which they are rated. It writes into the same columns each time: new
 * ones for each count would be megabytes of garbage every other second.
 */
export class JoinedBallots {
  private room: Columns;
  private voters = 0;

  constructor(private readonly order: CountOrder) {
    this.room = makeRoom(order, 0, 0);
  }

  /** @returns columns that hold these ballots until the next call */
  join(parts: readonly VoterPart[]): BallotColumns {
    const length = parts.reduce((sum, { outcome }) => sum + outcome.length, 0);
    if (length > this.room.outcome.length || parts.length > this.voters) {
      this.voters = Math.ceil(parts.length * SPARE);
      this.room = makeRoom(this.order, Math.ceil(length * SPARE), this.voters);
    }
    const { voter: voters, prompt, left, right, outcome } = this.room;
    let from = 0;
    for (const [voter, part] of parts.entries()) {
      voters.fill(voter, from, from + part.outcome.length);
      prompt.set(part.prompt, from);
      left.set(part.left, from);
      right.set(part.right, from);
      outcome.set(part.outcome, from);
      from += part.outcome.length;
    }
    const cut = (column: Numbers) => column.subarray(0, length);
    return { voter: cut(voters), prompt: cut(prompt), left: cut(left), right: cut(right), outcome: cut(outcome) };
  }
}

const makeRoom = ({ wordingIds, competitors }: CountOrder, length: number, voters: number): Columns => ({
  voter: makeNumbers(length, voters),
  prompt: makeNumbers(length, wordingIds.length),
  ...{ left: makeNumbers(length, competitors.length), right: makeNumbers(length, competitors.length) },
  outcome: makeNumbers(length, PRODUCT_OPTIONS.K + 1),
});

const placesOf = (ids: readonly string[]) => new Map(ids.map((id, place) => [id, place]));

/** By the place in `all` the place in an order, −1 for what is not there; `all` grows at its end. */
function numberMore(before: Int32Array, all: readonly string[], places: ReadonlyMap<string, number>): Int32Array {
  if (before.length === all.length) return before;
  return Int32Array.from(all, (id) => places.get(id) ?? -1);
}
