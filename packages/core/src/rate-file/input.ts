import * as z from "zod";
import { TourneyError } from "../errors.js";
import type { BallotColumns, CountColumns } from "../ratings/ballots.js";
import type { CategoryCounts } from "../ratings/category-ratings.js";

/** A column of a million numbers is looked at once, where it is used, and not by a schema. */
const Column = z.custom<readonly number[]>((value) => Array.isArray(value), "must be a list of numbers");
const Names = z.array(z.string()).min(1);
const K = z.int().min(2).max(101).default(5);
const Rows = z.array(z.array(z.unknown()));

const Ballots = z.object({ voter: Column, prompt: Column, left: Column, right: Column, outcome: Column });

const FitInput = z.object({ entrants: Names, K, counts: Rows.optional(), ballots: Ballots.optional() });
const CategoryInput = z.object({ entrants: Names, K, counts: Rows, categoryNames: Names });
const EloInput = z.object({ entrants: Names, K, sequence: Rows });
const DiagnosticsInput = z.object({ entrants: Names, K, ballots: Ballots });
const AlphaInput = z.object({ units: z.array(z.array(z.number().nullable())), K: z.int().min(1).optional() });

const prior = z.number().min(0).default(0);
const FIT_OPTIONS = { ridge: prior, side: z.boolean().default(false), ridgeSide: prior };
const FitOptions = z.object({
  ...FIT_OPTIONS,
  anchor: z.object({ entrant: z.union([z.int().min(0), z.string()]), rating: z.number().optional() }).optional(),
  base: z.number().default(1500),
  scale: z
    .number()
    .positive()
    .default(400 / Math.LN10),
});
const CategoryOptions = z.object({ ...FIT_OPTIONS, ridgeCategory: prior });
const EloOptions = z.object({
  base: z.number().default(1500),
  kFactor: z.number().min(0).default(32),
  sideElo: z.number().default(0),
});
const DiagnosticsOptions = z.object(FIT_OPTIONS);

export type FitFile = { input: z.infer<typeof FitInput>; options: z.infer<typeof FitOptions> };
export type CategoryFile = { input: z.infer<typeof CategoryInput>; options: z.infer<typeof CategoryOptions> };
export type EloFile = { input: z.infer<typeof EloInput>; options: z.infer<typeof EloOptions> };
export type DiagnosticsFile = {
  input: z.infer<typeof DiagnosticsInput>;
  options: z.infer<typeof DiagnosticsOptions>;
};
export type AlphaFile = { input: z.infer<typeof AlphaInput> };

/** What each type of file holds. */
export const SHAPES = {
  fit: { input: FitInput, options: FitOptions },
  category: { input: CategoryInput, options: CategoryOptions },
  elo: { input: EloInput, options: EloOptions },
  diagnostics: { input: DiagnosticsInput, options: DiagnosticsOptions },
  alpha: { input: AlphaInput, options: z.object({}) },
} as const;

function refuse(message: string, remedy: string): never {
  throw new TourneyError("INVALID_INPUT", {
    message,
    reason:
      "Entrants, voters, prompts and categories are whole numbers from 0, outcomes from 1, and every column is as long as the others.",
    remedy,
  });
}

/** Reads rows of numbers as columns. @throws TourneyError INVALID_INPUT that names the row. */
function readRows(rows: readonly (readonly unknown[])[], names: readonly string[]): Float64Array[] {
  const columns = names.map(() => new Float64Array(rows.length));
  for (const [r, row] of rows.entries()) {
    if (row.length !== names.length) {
      refuse(
        `Row ${r + 1} has ${row.length} numbers instead of ${names.length}.`,
        `Give each row as [${names.join(", ")}].`,
      );
    }
    for (const [c, value] of row.entries()) {
      if (typeof value !== "number")
        refuse(
          `Row ${r + 1} has ${JSON.stringify(value)} for its ${names[c]!}, which is no number.`,
          "Correct the row or leave it out.",
        );
      columns[c]![r] = value;
    }
  }
  return columns;
}

export function readCounts(rows: readonly (readonly unknown[])[]): CountColumns {
  const [left, right, outcome, n] = readRows(rows, ["left", "right", "outcome", "n"]);
  return { left: left!, right: right!, outcome: outcome!, n: n! };
}

export function readCategoryCounts(rows: readonly (readonly unknown[])[]): CategoryCounts {
  const [left, right, outcome, category, n] = readRows(rows, ["left", "right", "outcome", "category", "n"]);
  return { left: left!, right: right!, outcome: outcome!, category: category!, n: n! };
}

export function readSequence(rows: readonly (readonly unknown[])[]) {
  const [left, right, outcome] = readRows(rows, ["left", "right", "outcome"]);
  return rows.map((_, r) => ({ left: left![r]!, right: right![r]!, outcome: outcome![r]! }));
}

/** Checks ballots given as columns, voters and prompts here, the rest where they are counted. */
export function readBallots(columns: z.infer<typeof Ballots>): BallotColumns {
  const { length } = columns.outcome;
  const read = (name: keyof typeof columns): Float64Array => {
    const column = columns[name];
    if (column.length !== length)
      refuse(`The column ${name} has ${column.length} rows, outcome has ${length}.`, "Make all columns equally long.");
    const isCluster = name === "voter" || name === "prompt";
    const numbers = new Float64Array(length);
    for (let b = 0; b < length; b++) {
      const value: unknown = column[b];
      const isFine =
        typeof value === "number" && (!isCluster || (Number.isInteger(value) && value >= 0 && value < 2 ** 31));
      if (!isFine)
        refuse(`Ballot ${b + 1} has ${JSON.stringify(value)} for its ${name}.`, "Correct the ballot or leave it out.");
      numbers[b] = value;
    }
    return numbers;
  };
  return {
    voter: Int32Array.from(read("voter")),
    prompt: Int32Array.from(read("prompt")),
    left: read("left"),
    right: read("right"),
    outcome: read("outcome"),
  };
}
