import { type Kind, Reason } from "@tourney/core/contract";
import type * as z from "zod";
import { BALLOT_BYTES, type PromptRow, type SentRow, type SideRow } from "./report-queries.sql.js";

/** A ballot as the report on voting looks at it. */
export interface ReportBallot {
  voterId: string;
  promptId: string;
  kind: Kind;
  leftEntryId: string;
  rightEntryId: string;
  leftVersionId: string;
  rightVersionId: string;
  leftEntrantId: string;
  rightEntrantId: string;
  /** Whether both entrants are set up now as they were then. */
  isPresent: boolean;
  lean: number;
  reasons: readonly Reason[];
  dwellMs: number;
  isAutomatic: boolean;
}

/** Every set of reasons, by its bits: as many as there are, however many ballots give them. */
const REASONS = Array.from({ length: 1 << Reason.options.length }, (_, bits) =>
  Reason.options.filter((_reason, bit) => (bits & (1 << bit)) !== 0),
);

/** The ballots that the database sent, in the order in which they were cast. */
export function readReportBallots(
  sent: readonly z.infer<typeof SentRow>[],
  prompts: readonly z.infer<typeof PromptRow>[],
  sides: readonly z.infer<typeof SideRow>[],
): ReportBallot[] {
  const ballots: ReportBallot[] = [];
  const castAt: number[] = [];
  for (const { voterId, bytes } of sent)
    for (let from = 0; from < bytes.length; from += BALLOT_BYTES) {
      // Microseconds since 1970 are whole numbers of a double for centuries.
      castAt.push(Number(bytes.readBigInt64BE(from)));
      ballots.push(readBallot(voterId, bytes, from + 8));
    }
  const order = Uint32Array.from(ballots, (_, index) => index).sort((a, b) => castAt[a]! - castAt[b]!);
  return Array.from(order, (index) => ballots[index]!);

  function readBallot(voterId: string, bytes: Buffer, from: number): ReportBallot {
    const prompt = prompts[bytes.readInt32BE(from)]!;
    const left = sides[bytes.readInt32BE(from + 4)]!;
    const right = sides[bytes.readInt32BE(from + 8)]!;
    const lean = bytes.readInt16BE(from + 16);
    // Written out: copied from smaller objects, a ballot takes twenty times as long.
    return {
      voterId,
      promptId: prompt.id,
      kind: prompt.kind,
      leftEntryId: left.entryId,
      leftVersionId: left.versionId,
      leftEntrantId: left.entrantId,
      rightEntryId: right.entryId,
      rightVersionId: right.versionId,
      rightEntrantId: right.entrantId,
      isPresent: left.isPresent && right.isPresent,
      lean: (lean >> 1) - 2,
      reasons: REASONS[bytes.readInt16BE(from + 18)]!,
      dwellMs: bytes.readInt32BE(from + 12),
      isAutomatic: (lean & 1) === 1,
    };
  }
}
