import { createHash } from "node:crypto";
import { makeNumbers, type Numbers, PRODUCT_OPTIONS } from "@tourney/core/ratings";

/** Bytes that one ballot takes as the database sends it: `BALLOTS_OF_VOTERS`. */
export const BALLOT_BYTES = 18;

/** Signs of one ballot, added up. */
export const SIGNS = { leftWorks: 1, rightWorks: 2, isUnseen: 4 } as const;

/** What of all ballots is looked at: by wording and by version the number that it has there, −1 for one that is left out. */
export interface Selection {
  promptOf: Int32Array;
  competitorOf: Int32Array;
  /** As they are numbered. */
  wordingIds: readonly string[];
  versionIds: readonly string[];
}

/** What one voter's ballots of a selection come to; in order of their prompts, and on each of their sides and outcome. */
export interface VoterPart {
  prompt: Numbers;
  left: Numbers;
  right: Numbers;
  /** 1 (left by far) to 5 (right by far). */
  outcome: Numbers;
  /** Who was marked as not working, once a ballot. */
  failed: number[];
  unseen: number;
  /** Seconds since 1970. */
  firstAt: number;
  lastAt: number;
  /** Names the ballots whatever order they came in, and whatever else is selected beside them. */
  digest: string;
}

const { K } = PRODUCT_OPTIONS;
/** A lean of 0, which is even, is the outcome in the middle. */
const MIDDLE = (K + 1) / 2;

/** Reads what the database sent of a voter. */
export function readVoterPart(bytes: Buffer, selection: Selection): VoterPart {
  const { promptOf, competitorOf, versionIds } = selection;
  const failed: number[] = [];
  let [unseen, firstAt, lastAt] = [0, Infinity, -Infinity];
  // A ballot in one number, so that sorting the numbers sorts the ballots.
  const keys = new Float64Array(bytes.length / BALLOT_BYTES);
  let n = 0;
  for (let from = 0; from < bytes.length; from += BALLOT_BYTES) {
    const prompt = promptOf[bytes.readInt32BE(from)]!;
    const left = competitorOf[bytes.readInt32BE(from + 4)]!;
    const right = competitorOf[bytes.readInt32BE(from + 8)]!;
    if (prompt < 0 || left < 0 || right < 0) continue;
    const signs = bytes[from + 13]!;
    const outcome = bytes[from + 12]! - 2 + MIDDLE;
    keys[n++] = ((prompt * versionIds.length + left) * versionIds.length + right) * K + outcome - 1;
    if ((signs & SIGNS.leftWorks) === 0) failed.push(left);
    if ((signs & SIGNS.rightWorks) === 0) failed.push(right);
    if ((signs & SIGNS.isUnseen) !== 0) unseen++;
    const at = bytes.readUInt32BE(from + 14);
    firstAt = Math.min(firstAt, at);
    lastAt = Math.max(lastAt, at);
  }
  const columns = unpack(keys.subarray(0, n).sort(), selection);
  return { ...columns, failed, unseen, firstAt, lastAt, digest: digest(columns, selection) };
}

type Columns = Pick<VoterPart, "prompt" | "left" | "right" | "outcome">;

function unpack(keys: Float64Array, { wordingIds, versionIds }: Selection): Columns {
  const competitors = versionIds.length;
  const [prompt, outcome] = [makeNumbers(keys.length, wordingIds.length), makeNumbers(keys.length, K + 1)];
  const [left, right] = [makeNumbers(keys.length, competitors), makeNumbers(keys.length, competitors)];
  for (const [b, key] of keys.entries()) {
    const sides = Math.floor(key / K);
    const lefts = Math.floor(sides / competitors);
    outcome[b] = key - sides * K + 1;
    right[b] = sides - lefts * competitors;
    prompt[b] = Math.floor(lefts / competitors);
    left[b] = lefts - prompt[b] * competitors;
  }
  return { prompt, left, right, outcome };
}

/** SHA-256 of ballots in order, by the ids of wordings and versions. */
function digest({ prompt, left, right, outcome }: Columns, { wordingIds, versionIds }: Selection): string {
  const hash = createHash("sha256");
  // Of what no ballot names nothing is told, so that it changes nothing.
  const tell = (columns: readonly Numbers[], ids: readonly string[]): void => {
    const isUsed = new Uint8Array(ids.length);
    for (const column of columns) for (const number of column) isUsed[number] = 1;
    const placeOf = new Int32Array(ids.length);
    let place = 0;
    for (const [number, id] of ids.entries()) {
      if (isUsed[number] === 0) continue;
      placeOf[number] = place++;
      hash.update(` ${id}`);
    }
    hash.update("\n");
    for (const column of columns) hash.update(widen(column, (number) => placeOf[number]!));
  };
  tell([prompt], wordingIds);
  tell([left, right], versionIds);
  return hash.update(widen(outcome, (number) => number)).digest("hex");
}

/** The digest must not hang on how many bytes a number takes. */
function widen(column: Numbers, toNumber: (number: number) => number): Int32Array {
  const wide = new Int32Array(column.length);
  for (let b = 0; b < column.length; b++) wide[b] = toNumber(column[b]!);
  return wide;
}
