import { makeNumbers, type Numbers, orderBy } from "@tourney/core/ratings";
import { type BallotEntry, SENT_BYTES } from "./ballot-queries.sql.js";

/** The ballots on an edition's wordings that are not voided, in the order in which they were cast: columns, since a million objects would fill the memory. */
export interface BallotTable {
  voterIds: readonly string[];
  wordingIds: readonly string[];
  entries: readonly BallotEntry[];
  /** Where they are asked for; empty otherwise. */
  ids: readonly string[];
  columns: BallotTableColumns;
}

/** Voter, prompt and sides are places in the lists; `at` is in seconds since 1970; `signReader` reads the signs. */
export interface BallotTableColumns {
  voter: Numbers;
  prompt: Numbers;
  left: Numbers;
  right: Numbers;
  at: Int32Array;
  dwellMs: Int32Array;
  signs: Uint16Array;
  reasons: Uint16Array;
}

/** A voter's ballots, in the order in which they were cast; sides are places among the entries as they were read. */
export interface VoterBallots extends Omit<BallotTableColumns, "voter"> {
  /** Of the second. By them alone is it known who of two voters was first. */
  ms: Uint16Array;
  ids: readonly string[];
}

/** A UUID as the sixteen characters that its bytes are: found in a map sooner than by its text. */
export const keyOf = (id: string): string => Buffer.from(id.replaceAll("-", ""), "hex").toString("latin1");

/** The id of which a key is made. */
const idOf = (key: string): string =>
  Buffer.from(key, "latin1")
    .toString("hex")
    .replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, "$1-$2-$3-$4-$5");

/** Ids of the entries that ballots name, as the database sent them, and that have no place yet. */
export function findUnknown(bytes: Buffer, placeOf: ReadonlyMap<string, number>): string[] {
  const unknown = new Set<string>();
  for (let from = 0; from < bytes.length; from += SENT_BYTES)
    for (const side of [from, from + 16]) {
      const key = bytes.toString("latin1", side, side + 16);
      if (!placeOf.has(key)) unknown.add(key);
    }
  return [...unknown].map(idOf);
}

/**
 * Reads the ballots of a voter as the database sent them.
 *
 * @param placeOf by `keyOf` the place of each entry
 * @param wordings how many there are
 * @throws RangeError where a ballot names an entry that has no place
 */
export function readVoterBallots(
  { bytes, ids }: { bytes: Buffer; ids: readonly string[] },
  placeOf: ReadonlyMap<string, number>,
  wordings: number,
): VoterBallots {
  const length = bytes.length / SENT_BYTES;
  const own = {
    ...makeColumns(length, { prompts: wordings, sides: placeOf.size }),
    ms: new Uint16Array(length),
  };
  for (let from = 0, b = 0; from < bytes.length; from += SENT_BYTES, b++) {
    const left = placeOf.get(bytes.toString("latin1", from, from + 16));
    const right = placeOf.get(bytes.toString("latin1", from + 16, from + 32));
    if (left === undefined || right === undefined) throw new RangeError("A ballot names an entry without a place.");
    own.left[b] = left;
    own.right[b] = right;
    own.at[b] = bytes.readInt32BE(from + 32);
    own.prompt[b] = bytes.readInt32BE(from + 36);
    own.dwellMs[b] = bytes.readInt32BE(from + 40);
    own.signs[b] = bytes.readUInt16BE(from + 44);
    own.reasons[b] = bytes.readUInt16BE(from + 46);
    own.ms[b] = bytes.readUInt16BE(from + 48);
  }
  return { ...own, ids };
}

/** @param most how many prompts and sides are told apart */
const makeColumns = (length: number, most: { prompts: number; sides: number }) => ({
  prompt: makeNumbers(length, most.prompts),
  left: makeNumbers(length, most.sides),
  right: makeNumbers(length, most.sides),
  at: new Int32Array(length),
  dwellMs: new Int32Array(length),
  signs: new Uint16Array(length),
  reasons: new Uint16Array(length),
});

/** Entries in the order of their ids, whichever was named first, and by the place of each before it the one that it has there. */
export function sortEntries(entries: readonly BallotEntry[]): { entries: BallotEntry[]; placeOf: Int32Array } {
  const order = [...entries.keys()].sort((a, b) => (entries[a]!.id < entries[b]!.id ? -1 : 1));
  const placeOf = new Int32Array(entries.length);
  for (const [place, before] of order.entries()) placeOf[before] = place;
  return { entries: order.map((before) => entries[before]!), placeOf };
}

/** Puts the ballots of all voters in one order: by the millisecond, then by the voter's id. */
export function tabulate(
  ballotsOf: ReadonlyMap<string, VoterBallots>,
  wordingIds: readonly string[],
  { entries, placeOf }: ReturnType<typeof sortEntries>,
): BallotTable {
  const voters = [...ballotsOf].toSorted(([a], [b]) => (a < b ? -1 : 1));
  const order = orderInTime(voters.map(([, own]) => own));
  const placeOfBallot = new Int32Array(order.length);
  for (let place = 0; place < order.length; place++) placeOfBallot[order[place]!] = place;
  const most = { prompts: wordingIds.length, sides: entries.length };
  const columns: BallotTableColumns = {
    voter: makeNumbers(order.length, voters.length),
    ...makeColumns(order.length, most),
  };
  const { voter, prompt, left, right, at, dwellMs, signs, reasons } = columns;
  let b = 0;
  for (const [number, [, own]] of voters.entries())
    for (let from = 0; from < own.at.length; from++, b++) {
      const place = placeOfBallot[b]!;
      voter[place] = number;
      prompt[place] = own.prompt[from]!;
      left[place] = placeOf[own.left[from]!]!;
      right[place] = placeOf[own.right[from]!]!;
      at[place] = own.at[from]!;
      dwellMs[place] = own.dwellMs[from]!;
      signs[place] = own.signs[from]!;
      reasons[place] = own.reasons[from]!;
    }
  const ids = voters.flatMap(([, own]) => own.ids);
  return {
    ...{ voterIds: voters.map(([id]) => id), wordingIds, entries },
    ids: ids.length === 0 ? [] : Array.from(order, (place) => ids[place]!),
    columns,
  };
}

const MINUTE_S = 60;

/** Times are too large to be sorted by counting; minutes, and milliseconds of a minute, are not. */
function orderInTime(timesOf: readonly Pick<VoterBallots, "at" | "ms">[]): Int32Array {
  let [count, first, last] = [0, Infinity, 0];
  // Those of each voter are in order.
  for (const { at } of timesOf) {
    count += at.length;
    first = Math.min(first, at[0] ?? Infinity);
    last = Math.max(last, at.at(-1) ?? 0);
  }
  const minutes = makeNumbers(count, (last - first) / MINUTE_S + 1);
  const milliseconds = makeNumbers(count, MINUTE_S * 1000);
  let b = 0;
  for (const { at, ms } of timesOf)
    for (let from = 0; from < at.length; from++, b++) {
      const since = at[from]! - first;
      minutes[b] = Math.floor(since / MINUTE_S);
      milliseconds[b] = (since - minutes[b]! * MINUTE_S) * 1000 + ms[from]!;
    }
  return orderBy([minutes, milliseconds]);
}
