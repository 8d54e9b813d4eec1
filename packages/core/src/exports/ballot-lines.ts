import { BALLOT_COLUMNS } from "../ballot-table/index.js";

/** A ballot as it leaves Tourney: first what it is rated by, then what a reader may want to know of it. */
export interface ExportedBallot {
  /** A pseudonym, the same in every export: names are not unique. */
  voter: string;
  /** Keys of the prompt and of the entrants; an older version of an entrant has its number behind an @. */
  prompt: string;
  kind: string;
  left: string;
  right: string;
  /** From -2, left by far, to 2, right by far, as it is counted. */
  lean: number;
  left_works: boolean;
  right_works: boolean;
  /** When it was cast, ISO 8601 in UTC. */
  at: string;
  /** Why it does not count; empty where it does. */
  not_counted: string;
  ballot: string;
  /** Empty unless names were asked for. */
  voter_name: string;
  panel: string;
  /** Of its voter, from 1. */
  bout: number;
  left_name: string;
  right_name: string;
  left_entry: string;
  right_entry: string;
  /** Why this pair was asked. */
  asked_because: string;
  reasons: readonly string[];
  note: string;
  /** How long the bout was looked at. */
  seconds: number;
  /** Decided by a rule, without having been shown. */
  unseen: boolean;
  /** The same pair once more, with the sides exchanged. */
  repeat: boolean;
  /** As it was voted: a choice of what counts can let pages that show nothing lose. */
  voted_lean: number;
  /** Made up for a demo. */
  sample: boolean;
  /** Of the voter's browser, in CSS pixels, as 1280×800; what pointed; frames a second. Empty where it is not known. */
  window: string;
  pointer: string;
  frame_rate: number | "";
}

/** The columns of a table of ballots, in their order: `./tourney rate` reads the first, and passes over the others. */
export const EXPORT_COLUMNS = [
  ...BALLOT_COLUMNS,
  ...(["ballot", "voter_name", "panel", "bout", "left_name", "right_name", "left_entry", "right_entry"] as const),
  ...(["asked_because", "reasons", "note", "seconds", "unseen", "repeat", "voted_lean", "sample"] as const),
  ...(["window", "pointer", "frame_rate"] as const),
] as const satisfies readonly (keyof ExportedBallot)[];

/** Spreadsheets run a cell that begins like this. */
const RUNS = /^[=+\-@\t\r]/;

/** A text as a cell that no spreadsheet runs: with an apostrophe in front, which a spreadsheet takes for "this is text". */
export const defuse = (text: string): string => (RUNS.test(text) ? `'${text}` : text);

/** The cells of a ballot in the order of the columns, its texts defused; numbers stay numbers. */
export const toCells = (ballot: ExportedBallot): string[] =>
  EXPORT_COLUMNS.map((column) => {
    const value = ballot[column];
    if (typeof value === "string") return defuse(value);
    return typeof value === "object" ? defuse(value.join("; ")) : String(value);
  });

/** A competitor by its key; an older version of it with its number. */
export const keyOfVersion = (key: string, { number, isPresent }: { number: number; isPresent: boolean }): string =>
  isPresent ? key : `${key}@${number}`;
