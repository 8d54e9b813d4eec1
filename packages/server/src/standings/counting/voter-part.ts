import { createHash } from "node:crypto";
import { PRODUCT_OPTIONS } from "@tourney/core/ratings";

/** Bytes that one ballot takes as the database sends it: `BALLOTS_OF_VOTERS`. */
export const BALLOT_BYTES = 22;

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
  prompt: Int32Array;
  left: Int32Array;
  right: Int32Array;
  /** 1 (left by far) to 5 (right by far). */
  outcome: Int32Array;
  /** Who was marked as not working, once a ballot. */
  failed: number[];
  unseen: number;
  /** Milliseconds since 1970. */
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
    const at = bytes.readInt32BE(from + 14) * 2 ** 32 + bytes.readUInt32BE(from + 18);
    firstAt = Math.min(firstAt, at);
    lastAt = Math.max(lastAt, at);
  }
  const columns = unpack(keys.subarray(0, n).sort(), versionIds.length);
  return { ...columns, failed, unseen, firstAt, lastAt, digest: digest(columns, selection) };
}

type Columns = Pick<VoterPart, "prompt" | "left" | "right" | "outcome">;

function unpack(keys: Float64Array, competitors: number): Columns {
  const empty = () => new Int32Array(keys.length);
  const columns = { prompt: empty(), left: empty(), right: empty(), outcome: empty() };
  for (const [b, key] of keys.entries()) {
    const sides = Math.floor(key / K);
    const lefts = Math.floor(sides / competitors);
    columns.outcome[b] = key - sides * K + 1;
    columns.right[b] = sides - lefts * competitors;
    columns.prompt[b] = Math.floor(lefts / competitors);
    columns.left[b] = lefts - columns.prompt[b] * competitors;
  }
  return columns;
}

/** SHA-256 of ballots in order, by the ids of wordings and versions. */
function digest({ prompt, left, right, outcome }: Columns, { wordingIds, versionIds }: Selection): string {
  const hash = createHash("sha256");
  // Of what no ballot names nothing is told, so that it changes nothing.
  const tell = (columns: readonly Int32Array[], ids: readonly string[]): void => {
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
    for (const column of columns) hash.update(column.map((number) => placeOf[number]!));
  };
  tell([prompt], wordingIds);
  tell([left, right], versionIds);
  return hash.update(outcome).digest("hex");
}
