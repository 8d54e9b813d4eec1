import { Reason } from "@tourney/core/contract";
import type * as z from "zod";
import { BALLOT_BYTES, type PromptRow, type SentRow, type SideRow } from "./report-queries.sql.js";

type Prompt = z.infer<typeof PromptRow>;
type Side = z.infer<typeof SideRow>;

/** Ballots as the report on voting looks at them, in the order in which they were cast: columns, since a million objects would fill the memory. */
export interface ReportBallots {
  voterIds: readonly string[];
  prompts: readonly Prompt[];
  sides: readonly Side[];
  /** Numbers in these lists. */
  voter: Int32Array;
  prompt: Int32Array;
  left: Int32Array;
  right: Int32Array;
  /** −2 (left by far) to 2 (right by far). */
  lean: Int8Array;
  dwellMs: Int32Array;
  isAutomatic: Uint8Array;
  /** By the bits of `REASONS`. */
  reasons: Int16Array;
}

/** Every set of reasons, by its bits: as many as there are, however many ballots give them. */
export const REASONS: readonly (readonly Reason[])[] = Array.from({ length: 1 << Reason.options.length }, (_, bits) =>
  Reason.options.filter((_reason, bit) => (bits & (1 << bit)) !== 0),
);

/** The ballots that the database sent, in the order in which they were cast. */
export function readReportBallots(
  sent: readonly z.infer<typeof SentRow>[],
  prompts: readonly Prompt[],
  sides: readonly Side[],
): ReportBallots {
  const starts = new Int32Array(sent.length + 1);
  for (const [voter, { bytes }] of sent.entries()) starts[voter + 1] = starts[voter]! + bytes.length / BALLOT_BYTES;
  const count = starts[sent.length]!;
  const castAt = new Float64Array(count);
  const voterOf = new Int32Array(count);
  for (const [voter, { bytes }] of sent.entries()) {
    voterOf.fill(voter, starts[voter], starts[voter + 1]);
    // Microseconds since 1970 are whole numbers of a double for centuries.
    for (let b = starts[voter]!, from = 0; from < bytes.length; b++, from += BALLOT_BYTES)
      castAt[b] = Number(bytes.readBigInt64BE(from));
  }
  const order = Uint32Array.from({ length: count }, (_, b) => b).sort((a, b) => castAt[a]! - castAt[b]!);
  const ballots = {
    ...{ voterIds: sent.map(({ voterId }) => voterId), prompts, sides },
    ...{ voter: new Int32Array(count), prompt: new Int32Array(count) },
    ...{ left: new Int32Array(count), right: new Int32Array(count), lean: new Int8Array(count) },
    ...{ dwellMs: new Int32Array(count), isAutomatic: new Uint8Array(count), reasons: new Int16Array(count) },
  };
  for (const [place, b] of order.entries()) {
    const voter = voterOf[b]!;
    const { bytes } = sent[voter]!;
    const from = (b - starts[voter]!) * BALLOT_BYTES;
    const lean = bytes.readInt16BE(from + 24);
    ballots.voter[place] = voter;
    ballots.prompt[place] = bytes.readInt32BE(from + 8);
    ballots.left[place] = bytes.readInt32BE(from + 12);
    ballots.right[place] = bytes.readInt32BE(from + 16);
    ballots.dwellMs[place] = bytes.readInt32BE(from + 20);
    ballots.lean[place] = (lean >> 1) - 2;
    ballots.isAutomatic[place] = lean & 1;
    ballots.reasons[place] = bytes.readInt16BE(from + 26);
  }
  return ballots;
}
