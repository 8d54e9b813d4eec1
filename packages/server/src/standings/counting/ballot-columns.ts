/** Bytes that one ballot takes as the database sends it: `BALLOTS_OF_VOTERS`. */
export const BALLOT_BYTES = 22;

/** Signs of one ballot, added up. */
export const SIGNS = { leftWorks: 1, rightWorks: 2, isUnseen: 4 } as const;

/** Ballots that may count, as columns of numbers; voters, wordings and versions are meant by numbers that the caller gives them. */
interface Columns {
  voter: Int32Array;
  wording: Int32Array;
  left: Int32Array;
  right: Int32Array;
  lean: Int8Array;
  signs: Uint8Array;
  /** Milliseconds since 1970. */
  at: Float64Array;
}

const makeColumns = (length: number): Columns => ({
  voter: new Int32Array(length),
  wording: new Int32Array(length),
  left: new Int32Array(length),
  right: new Int32Array(length),
  lean: new Int8Array(length),
  signs: new Uint8Array(length),
  at: new Float64Array(length),
});
const NAMES = Object.keys(makeColumns(0)) as (keyof Columns)[];
/** Room is made for so much more than is needed. */
const GROWTH = 1.5;

/** What of all ballots is looked at: by wording and by version the number that it has there, −1 for one that is left out. */
export interface Selection {
  promptOf: Int32Array;
  competitorOf: Int32Array;
  /** By voter the number that it has there. */
  voterOf: Int32Array;
}

/** The ballots that a selection is about, as they are rated. */
export interface SelectedBallots {
  voter: Int32Array;
  prompt: Int32Array;
  left: Int32Array;
  right: Int32Array;
  /** 1 (left by far) to 5 (right by far). */
  outcome: Int32Array;
  leftFailures: Int32Array;
  rightFailures: Int32Array;
  isUnseen: Uint8Array;
  at: Float64Array;
}

/** Holds the ballots of a Tourney in some twenty bytes each, so that what changes is a voter's ballots and not all. */
export class BallotColumns {
  private columns = makeColumns(1024);
  length = 0;

  /** Puts what the database sent of some voters in the place of what there was of them. */
  replace(sent: readonly { voter: number; bytes: Buffer }[]): void {
    const gone = new Set(sent.map(({ voter }) => voter));
    this.keep((voter) => !gone.has(voter));
    const more = sent.reduce((sum, { bytes }) => sum + bytes.length / BALLOT_BYTES, 0);
    this.makeRoom(this.length + more);
    for (const { voter, bytes } of sent)
      for (let at = 0; at < bytes.length; at += BALLOT_BYTES) this.add(voter, bytes, at);
  }

  select({ promptOf, competitorOf, voterOf }: Selection): SelectedBallots {
    const { columns, length } = this;
    const places = new Int32Array(length);
    let n = 0;
    for (let b = 0; b < length; b++)
      if (
        promptOf[columns.wording[b]!]! >= 0 &&
        competitorOf[columns.left[b]!]! >= 0 &&
        competitorOf[columns.right[b]!]! >= 0
      )
        places[n++] = b;
    const found: SelectedBallots = {
      ...{ voter: new Int32Array(n), prompt: new Int32Array(n), left: new Int32Array(n), right: new Int32Array(n) },
      ...{ outcome: new Int32Array(n), leftFailures: new Int32Array(n), rightFailures: new Int32Array(n) },
      ...{ isUnseen: new Uint8Array(n), at: new Float64Array(n) },
    };
    for (let to = 0; to < n; to++) {
      const b = places[to]!;
      const signs = columns.signs[b]!;
      found.voter[to] = voterOf[columns.voter[b]!]!;
      found.prompt[to] = promptOf[columns.wording[b]!]!;
      found.left[to] = competitorOf[columns.left[b]!]!;
      found.right[to] = competitorOf[columns.right[b]!]!;
      found.outcome[to] = columns.lean[b]! + 3;
      found.leftFailures[to] = 1 - (signs & SIGNS.leftWorks) / SIGNS.leftWorks;
      found.rightFailures[to] = 1 - (signs & SIGNS.rightWorks) / SIGNS.rightWorks;
      found.isUnseen[to] = (signs & SIGNS.isUnseen) / SIGNS.isUnseen;
      found.at[to] = columns.at[b]!;
    }
    return found;
  }

  private add(voter: number, bytes: Buffer, at: number): void {
    const { columns } = this;
    const b = this.length++;
    columns.voter[b] = voter;
    columns.wording[b] = bytes.readInt32BE(at);
    columns.left[b] = bytes.readInt32BE(at + 4);
    columns.right[b] = bytes.readInt32BE(at + 8);
    const packed = bytes.readInt16BE(at + 12);
    columns.lean[b] = (packed >> 8) - 2;
    columns.signs[b] = packed & 0xff;
    columns.at[b] = bytes.readInt32BE(at + 14) * 2 ** 32 + bytes.readUInt32BE(at + 18);
  }

  /** What one voter cast lies together, so that it goes in a few long moves. */
  private keep(isKept: (voter: number) => boolean): void {
    const { columns, length } = this;
    let n = 0;
    for (let start = 0; start < length;) {
      const voter = columns.voter[start]!;
      let end = start + 1;
      while (end < length && columns.voter[end] === voter) end++;
      if (isKept(voter)) {
        this.move(n, start, end);
        n += end - start;
      }
      start = end;
    }
    this.length = n;
  }

  private move(to: number, start: number, end: number): void {
    if (to !== start) for (const name of NAMES) this.columns[name].copyWithin(to, start, end);
  }

  private makeRoom(length: number): void {
    if (length <= this.columns.voter.length) return;
    const larger = makeColumns(Math.ceil(length * GROWTH));
    for (const name of NAMES) larger[name].set(this.columns[name].subarray(0, this.length));
    this.columns = larger;
  }
}
