import * as z from "zod";
import { TourneyError } from "../errors.js";
import { fitCategories } from "../ratings/category-ratings.js";
import { playOnlineElo } from "../ratings/online-elo.js";
import { measureAlpha } from "../ratings/ordinal-alpha.js";
import { diagnoseVoters } from "../ratings/voter-diagnostics.js";
import { reportFit } from "./fit-report.js";
import {
  type AlphaFile,
  type CategoryFile,
  type DiagnosticsFile,
  type EloFile,
  type FitFile,
  readBallots,
  readCategoryCounts,
  readSequence,
  SHAPES,
} from "./input.js";

const REPORTS: Record<keyof typeof SHAPES, (file: never) => Record<string, unknown>> = {
  fit: (file: FitFile) => reportFit(file),
  category: ({ input, options }: CategoryFile) => {
    const { entrants, K, categoryNames } = input;
    return {
      ...fitCategories(entrants.length, readCategoryCounts(input.counts), {
        ...options,
        K,
        categoryCount: categoryNames.length,
      }),
    };
  },
  elo: ({ input, options }: EloFile) => ({
    ...playOnlineElo(input.entrants.length, readSequence(input.sequence), { ...options, K: input.K }),
  }),
  diagnostics: ({ input, options }: DiagnosticsFile) => ({
    ...diagnoseVoters(input.entrants.length, readBallots(input.ballots), { ...options, K: input.K }),
  }),
  alpha: ({ input }: AlphaFile) => {
    const units = input.units.map((values) => values.filter((value) => value !== null));
    const K = input.K ?? Math.max(1, ...units.flat());
    const strange = units.flat().find((value) => !Number.isInteger(value) || value < 1 || value > K);
    if (strange !== undefined) {
      throw new TourneyError("INVALID_INPUT", {
        message: `A unit has the value ${strange}.`,
        reason: `Values are whole numbers from 1 to ${K}.`,
        remedy: "Correct the value, or give null where there is none.",
      });
    }
    return {
      nominal: measureAlpha(units, K, "nominal"),
      ordinal: measureAlpha(units, K, "ordinal"),
      interval: measureAlpha(units, K, "interval"),
    };
  },
};

const File = z.object({
  type: z.enum(["fit", "category", "elo", "diagnostics", "alpha"]),
  input: z.record(z.string(), z.unknown()),
  options: z.record(z.string(), z.unknown()).default({}),
});

/**
 * Rates what a file holds (`{type, input, options}`), by the same code that the standings are made with.
 *
 * @param content what was parsed of it.
 * @returns the numbers, and warnings for the reader, as of options that are not known.
 * @throws TourneyError INVALID_INPUT that says what is wrong, and where.
 */
export function rateFile(content: unknown): { report: Record<string, unknown>; warnings: string[] } {
  const { type, input, options: given } = parse(File, content, "");
  // An option of null is one that is not set.
  const options = Object.fromEntries(Object.entries(given).filter(([, value]) => value !== null));
  const shape = SHAPES[type];
  const unknown = Object.keys(options).filter((name) => !(name in shape.options.shape));
  const [inputSchema, optionsSchema]: z.ZodType[] = [shape.input, shape.options];
  const file = { input: parse(inputSchema!, input, "input"), options: parse(optionsSchema!, options, "options") };
  return {
    report: REPORTS[type](file as never),
    warnings: unknown.map((name) => `The option ${name} is not known to ${type} and was ignored.`),
  };
}

function parse<T>(schema: z.ZodType<T>, value: unknown, at: string): T {
  const parsed = schema.safeParse(value);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  const path = [at, ...issue!.path.map(String)].filter((part) => part !== "").join(".");
  throw new TourneyError("INVALID_INPUT", {
    message: `The file is not right${path === "" ? "" : ` at ${path}`}: ${issue!.message}.`,
    reason: "It holds {type, input, options}; type is fit, category, elo, diagnostics or alpha.",
    remedy: "See ./tourney rate --help for what each holds.",
  });
}
