import { makeNumbers, type Numbers } from "@tourney/core/ratings";

/** Bytes that one ballot takes as the database sends it: `BALLOTS_OF_VOTERS`. */
export const BALLOT_BYTES = 18;

/** Signs of one ballot, added up. */
export const SIGNS = { leftWorks: 1, rightWorks: 2, isUnseen: 4 } as const;
const SIGNS_END = 8;

/** The ballots of one voter as the database sends them, in columns of half as many bytes. */
export interface UnpackedBallots {
  /** By the numbers of the reader. */
  wording: Numbers;
  left: Numbers;
  right: Numbers;
  /** −2 (left by far) to 2 (right by far), and signs: `leanOf`, `hasSign`. */
  verdict: Uint8Array;
  /** Seconds since 1970. */
  at: Uint32Array;
}

export const leanOf = (verdict: number): number => Math.floor(verdict / SIGNS_END) - 2;
export const hasSign = (verdict: number, sign: keyof typeof SIGNS): boolean => (verdict & SIGNS[sign]) !== 0;

/** @param counts how many wordings and versions there are */
export function unpackBallots(bytes: Buffer, counts: { wordings: number; versions: number }): UnpackedBallots {
  const length = bytes.length / BALLOT_BYTES;
  const ballots: UnpackedBallots = {
    wording: makeNumbers(length, counts.wordings),
    ...{ left: makeNumbers(length, counts.versions), right: makeNumbers(length, counts.versions) },
    ...{ verdict: new Uint8Array(length), at: new Uint32Array(length) },
  };
  for (let b = 0, from = 0; b < length; b++, from += BALLOT_BYTES) {
    ballots.wording[b] = bytes.readInt32BE(from);
    ballots.left[b] = bytes.readInt32BE(from + 4);
    ballots.right[b] = bytes.readInt32BE(from + 8);
    ballots.verdict[b] = bytes[from + 12]! * SIGNS_END + bytes[from + 13]!;
    ballots.at[b] = bytes.readUInt32BE(from + 14);
  }
  return ballots;
}

/** Whether two voters, or one at two times, cast the same ballots in the same order. */
export const areSame = (some: UnpackedBallots, others: UnpackedBallots): boolean =>
  (["wording", "left", "right", "verdict", "at"] as const).every((name) => areEqual(some[name], others[name]));

const areEqual = (some: ArrayLike<number>, others: ArrayLike<number>): boolean => {
  if (some.length !== others.length) return false;
  for (let b = 0; b < some.length; b++) if (some[b] !== others[b]) return false;
  return true;
};
