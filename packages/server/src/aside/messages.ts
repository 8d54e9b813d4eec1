import type { API } from "@tourney/core/contract";
import type { ErrorCode } from "@tourney/core/errors";
import type { DatabaseConnection } from "@tourney/store";
import type * as z from "zod";

/** Operations that read many ballots and take their time: they are answered by a process aside. */
export type AsideName =
  | "getVotingReport"
  | "getStandings"
  | "getStandingsBasis"
  | "getRatingsBySeeing"
  | "getRatingsOverTime"
  | "getContests"
  | "getStopping";

export interface AsideCall<Name extends AsideName> {
  params: z.output<(typeof API)[Name]["params"]>;
  query: z.output<(typeof API)[Name]["query"]>;
}

/** What the process is sent: first where the database is, and where it writes down the ballots that it holds; then what is asked. */
export type Message = { connection: DatabaseConnection; ballotsDir: string } | Asked;
export interface Asked {
  id: number;
  name: AsideName;
  call: object;
  /** Parts that need not be sent again, by their names. */
  held: readonly string[];
}
/** An error as it can be sent between processes. */
interface SentError {
  code: ErrorCode;
  message: string;
  reason: string;
  remedy: string;
  /** Empty for an error of our own. */
  stack: string;
}
/** An answer as it goes over the wire, and what is asked for after it, by its name: packed, or null where whoever asks holds it. */
export interface AnswerText {
  text: string;
  parts: readonly (readonly [name: string, packed: Uint8Array | null])[];
}
export type Answer = { id: number } & (AnswerText | { error: SentError });

/** A statement for what is answered aside ends after this. */
export const LONGEST_STATEMENT_MS = 60_000;
