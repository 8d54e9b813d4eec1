import { orderBy } from "@tourney/core/ratings";
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

const NAMES = ["voter", "prompt", "left", "right", "at", "dwellMs", "signs", "reasons"] as const;
/** Voter, prompt and sides are places in the lists; `at` is in seconds since 1970; `readSign` reads the signs. */
export type BallotTableColumns = Record<(typeof NAMES)[number], Int32Array>;

/** Of a voter's ballots all but the voter, one after the other, in the order in which they were cast. */
export interface VoterBallots {
  values: Int32Array;
  ids: readonly string[];
}

/** Values that are held of one ballot: left, right, at, prompt, milliseconds, and signs and reasons in one. */
const HELD_VALUES = 6;
const HALF = 16;
const LOW_HALF = 0xffff;

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
 * @throws RangeError where a ballot names an entry that has no place
 */
export function readVoterBallots(
  { bytes, ids }: { bytes: Buffer; ids: readonly string[] },
  placeOf: ReadonlyMap<string, number>,
): VoterBallots {
  const values = new Int32Array((bytes.length / SENT_BYTES) * HELD_VALUES);
  for (let from = 0, to = 0; from < bytes.length; from += SENT_BYTES) {
    const left = placeOf.get(bytes.toString("latin1", from, from + 16));
    const right = placeOf.get(bytes.toString("latin1", from + 16, from + 32));
    if (left === undefined || right === undefined) throw new RangeError("A ballot names an entry without a place.");
    values[to++] = left;
    values[to++] = right;
    values[to++] = bytes.readInt32BE(from + 32);
    values[to++] = bytes.readInt32BE(from + 36);
    values[to++] = bytes.readInt32BE(from + 40);
    values[to++] = bytes.readInt32BE(from + 44);
  }
  return { values, ids };
}

/** Entries in the order of their ids, whichever was named first, and by the place of each before it the one that it has there. */
export function sortEntries(entries: readonly BallotEntry[]): { entries: BallotEntry[]; placeOf: Int32Array } {
  const order = [...entries.keys()].sort((a, b) => (entries[a]!.id < entries[b]!.id ? -1 : 1));
  const placeOf = new Int32Array(entries.length);
  for (const [place, before] of order.entries()) placeOf[before] = place;
  return { entries: order.map((before) => entries[before]!), placeOf };
}

/** Puts the ballots of all voters in one order: by the second, then by the voter's id. */
export function tabulate(
  ballotsOf: ReadonlyMap<string, VoterBallots>,
  wordingIds: readonly string[],
  { entries, placeOf }: ReturnType<typeof sortEntries>,
): BallotTable {
  const voters = [...ballotsOf].toSorted(([a], [b]) => (a < b ? -1 : 1));
  const count = voters.reduce((sum, [, { values }]) => sum + values.length, 0) / HELD_VALUES;
  const columns = toColumns(() => new Int32Array(count));
  const { voter, prompt, left, right, at, dwellMs, signs, reasons } = columns;
  let b = 0;
  for (const [place, [, { values }]] of voters.entries())
    for (let from = 0; from < values.length; from += HELD_VALUES, b++) {
      voter[b] = place;
      left[b] = placeOf[values[from]!]!;
      right[b] = placeOf[values[from + 1]!]!;
      at[b] = values[from + 2]!;
      prompt[b] = values[from + 3]!;
      dwellMs[b] = values[from + 4]!;
      signs[b] = values[from + 5]! >>> HALF;
      reasons[b] = values[from + 5]! & LOW_HALF;
    }
  const order = inTime(at);
  const ids = voters.flatMap(([, own]) => own.ids);
  return {
    ...{ voterIds: voters.map(([id]) => id), wordingIds, entries },
    ids: ids.length === 0 ? [] : Array.from(order, (place) => ids[place]!),
    columns: pickColumns(columns, order),
  };
}

const DAY_S = 86_400;

/** Seconds since 1970 are too large to be sorted by counting; days and seconds of a day are not. */
function inTime(at: Int32Array): Int32Array {
  const [days, seconds] = [new Int32Array(at.length), new Int32Array(at.length)];
  const first = at.reduce((least, second) => Math.min(least, second), Infinity);
  for (let b = 0; b < at.length; b++) {
    const since = at[b]! - first;
    days[b] = Math.floor(since / DAY_S);
    seconds[b] = since - days[b]! * DAY_S;
  }
  return orderBy([days, seconds]);
}

/** Some of the ballots, in the order of their places. */
export const pickColumns = (columns: BallotTableColumns, places: Int32Array): BallotTableColumns =>
  toColumns((name) => pick(columns[name], places));

/** A plain loop, since every column of all ballots goes through it. */
function pick(column: Int32Array, places: Int32Array): Int32Array {
  const picked = new Int32Array(places.length);
  for (let b = 0; b < places.length; b++) picked[b] = column[places[b]!]!;
  return picked;
}

const toColumns = (make: (name: (typeof NAMES)[number]) => Int32Array): BallotTableColumns =>
  Object.fromEntries(NAMES.map((name) => [name, make(name)])) as BallotTableColumns;
