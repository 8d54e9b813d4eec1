import * as z from "zod";
import { Id, Instant, Key, Sha256 } from "./common.js";
import { FailureCause } from "./generation.js";

/** What the format of a run's report is called; another number is another layout. */
export const RUN_REPORT_FORMAT = "tourney-run-report/1";

/** How a run from a script ended. */
export const PipelineEnd = z.enum(["started", "finished", "spent", "endpoint_down", "below_the_bar", "timed_out"]);
export type PipelineEnd = z.infer<typeof PipelineEnd>;

/** What a script reads of each end. 1 is for what could not be done at all, as a wrong file. */
export const EXIT_CODES: Readonly<Record<PipelineEnd, number>> = {
  started: 0,
  finished: 0,
  spent: 3,
  endpoint_down: 4,
  below_the_bar: 5,
  timed_out: 6,
};

/** What became of an entrant's first shots on the prompts that were run. */
export const PipelineEntrant = z
  .object({
    key: Key,
    name: z.string(),
    version: z.int(),
    model: z.string(),
    planned: z.int().describe("Prompts × takes."),
    pages: z.int().describe("Places with a page, whether or not it works."),
    none: z.int().describe("Places without a page by the model's doing: refused, nothing usable, cut off."),
    owed: z
      .int()
      .describe("Places without a page by the host's doing: failed for good, cancelled, held by the budget."),
    clean: z.int().describe("First shots that were recorded without an error and that nobody helped along."),
    tried: z.int().describe("First shots that could be told clean or not."),
    costPerEntryUsd: z.number().nullable(),
    medianSeconds: z.number().nullable(),
    findings: z
      .array(z.object({ rule: z.string(), severity: z.enum(["error", "warning"]), entries: z.int() }))
      .describe("By rule, errors first."),
    failures: z.array(z.object({ cause: FailureCause, message: z.string(), places: z.int() })),
  })
  .meta({ id: "PipelineEntrant" });
export type PipelineEntrant = z.infer<typeof PipelineEntrant>;

/** What `./tourney run --json` prints. */
export const RunReport = z
  .object({
    format: z.literal(RUN_REPORT_FORMAT),
    madeAt: Instant,
    end: PipelineEnd,
    exitCode: z.int(),
    suite: z.object({ key: Key, title: z.string(), edition: z.int(), digest: Sha256 }),
    runs: z
      .array(z.object({ id: Id, number: z.int() }))
      .describe("Started now, or whose failed places were asked again."),
    prompts: z.array(Key),
    takes: z.int(),
    spentUsd: z.number().describe("By those runs, all they ever sent."),
    entrants: z.array(PipelineEntrant),
    bars: z.array(
      z.object({
        text: z.string().describe("As it was given, such as broken>5%."),
        met: z.boolean().describe("False where an entrant fails it."),
        failing: z.array(z.object({ key: Key, value: z.number() })),
      }),
    ),
  })
  .meta({ id: "RunReport" });
export type RunReport = z.infer<typeof RunReport>;
