import { BALLOT_BYTES } from "../src/standings/counting/unpacked-ballots.js";

export interface SentBallot {
  wording: number;
  left: number;
  right: number;
  lean: number;
  signs: number;
  at: number;
}

/** Ballots as the database sends them to be counted. */
export function toSentBytes(ballots: readonly SentBallot[]): Buffer {
  const bytes = Buffer.alloc(ballots.length * BALLOT_BYTES);
  for (const [index, { wording, left, right, lean, signs, at }] of ballots.entries()) {
    const start = index * BALLOT_BYTES;
    bytes.writeInt32BE(wording, start);
    bytes.writeInt32BE(left, start + 4);
    bytes.writeInt32BE(right, start + 8);
    bytes.writeInt16BE((lean + 2) * 256 + signs, start + 12);
    bytes.writeUInt32BE(at, start + 14);
  }
  return bytes;
}
