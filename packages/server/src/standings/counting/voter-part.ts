import { createHash } from "node:crypto";
import { makeNumbers, type Numbers, PRODUCT_OPTIONS } from "@tourney/core/ratings";
import { hasSign, leanOf, type UnpackedBallots } from "./unpacked-ballots.js";

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

/** Those of a voter's ballots that are in a selection. */
export function selectVoterPart(ballots: UnpackedBallots, selection: Selection): VoterPart {
  const { promptOf, competitorOf, versionIds } = selection;
  const failed: number[] = [];
  let [unseen, firstAt, lastAt] = [0, Infinity, -Infinity];
  // A ballot in one number, so that sorting the numbers sorts the ballots.
  const keys = new Float64Array(ballots.verdict.length);
  let n = 0;
  for (let b = 0; b < keys.length; b++) {
    const prompt = promptOf[ballots.wording[b]!]!;
    const left = competitorOf[ballots.left[b]!]!;
    const right = competitorOf[ballots.right[b]!]!;
    if (prompt < 0 || left < 0 || right < 0) continue;
    const verdict = ballots.verdict[b]!;
    const outcome = leanOf(verdict) + MIDDLE;
    keys[n++] = ((prompt * versionIds.length + left) * versionIds.length + right) * K + outcome - 1;
    if (!hasSign(verdict, "leftWorks")) failed.push(left);
    if (!hasSign(verdict, "rightWorks")) failed.push(right);
    if (hasSign(verdict, "isUnseen")) unseen++;
    firstAt = Math.min(firstAt, ballots.at[b]!);
    lastAt = Math.max(lastAt, ballots.at[b]!);
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
