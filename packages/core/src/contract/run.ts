import * as z from "zod";
import { Id, Instant } from "./common.js";
import { FailureCause, Outcome } from "./generation.js";

/** How a run goes about its cells. */
export const RunOptions = z
  .strictObject({
    order: z
      .enum(["round-robin", "prompt", "entrant"])
      .default("round-robin")
      .describe("Which cells come first: every entrant's in turn, prompt by prompt, or entrant by entrant."),
    continuations: z.int().min(0).max(10).default(3).describe("How often an answer cut at the limit is continued."),
    refusalRetries: z
      .int()
      .min(0)
      .max(5)
      .default(1)
      .describe("How often a refusal or an empty answer is asked for again."),
    mendRounds: z.int().min(0).max(5).default(0).describe("How often an entry's own errors are fed back."),
  })
  .meta({ id: "RunOptions" });
export type RunOptions = z.infer<typeof RunOptions>;

export const RunInput = z
  .strictObject({
    editionId: Id,
    entrantIds: z.array(Id).min(1, "choose at least one entrant").max(200),
    promptIds: z.array(Id).min(1, "choose at least one prompt").max(200),
    takes: z.int().min(1).max(20).default(1),
    budgetUsd: z.number().positive().max(1_000_000).optional().describe("Nothing more is sent before this is passed."),
    options: RunOptions.prefault({}),
    acceptedWhy: z
      .string()
      .trim()
      .min(3)
      .max(500)
      .optional()
      .describe("Why entrants with unlike settings are compared."),
  })
  .meta({ id: "RunInput" });
export type RunInput = z.infer<typeof RunInput>;
/** As a caller writes it, with what has a default left out. */
export type RunRequest = z.input<typeof RunInput>;

export const Unlike = z.object({ setting: z.string(), message: z.string() }).meta({ id: "Unlike" });
export type Unlike = z.infer<typeof Unlike>;

/** What a run would do and cost, before it is started. */
export const RunPlan = z
  .object({
    wanted: z.int(),
    existing: z.int().describe("Cells and takes that have a generation already."),
    missing: z.int(),
    byEntrant: z.array(
      z.object({
        entrantId: Id,
        missing: z.int(),
        inputTokens: z.number(),
        outputTokens: z.number(),
        costUsd: z.number().nullable().describe("Null when the entrant's prices are not known."),
        seconds: z.number().describe("At its endpoint's concurrency, alone."),
        basis: z.enum(["earlier answers", "defaults"]),
      }),
    ),
    costUsd: z.number().describe("Of the entrants whose prices are known."),
    unpriced: z.array(Id),
    seconds: z.number(),
    unlike: z.array(Unlike),
  })
  .meta({ id: "RunPlan" });
export type RunPlan = z.infer<typeof RunPlan>;

export const RunCounts = z
  .object({
    total: z.int(),
    waiting: z.int().describe("For the turn before."),
    queued: z.int(),
    running: z.int(),
    answered: z.int(),
    failed: z.int(),
    cancelled: z.int(),
    held: z.int().describe("Not sent, because the budget does not cover them."),
    untaken: z.int().describe("Answered, but their page could not be taken out on our side."),
    recorded: z.int().describe("Entries whose recording is there."),
    toRecord: z.int().describe("Entries that have something to record."),
  })
  .meta({ id: "RunCounts" });
export type RunCounts = z.infer<typeof RunCounts>;

export const Run = z
  .object({
    id: Id,
    editionId: Id,
    number: z.int(),
    takes: z.int(),
    options: RunOptions,
    budgetUsd: z.number().nullable(),
    createdAt: Instant,
    pausedAt: Instant.nullable(),
    cancelledAt: Instant.nullable(),
    purpose: z.enum(["takes", "redo", "mends", "correction"]),
    redoReason: z.string().nullable().describe("Why takes were asked for again, where the run is a redo."),
    counts: RunCounts,
    costUsd: z.number(),
    inputTokens: z.number(),
    outputTokens: z.number(),
  })
  .meta({ id: "Run" });
export type Run = z.infer<typeof Run>;

/** Progress of one row or column of a run. */
const Progress = z.object({ total: z.int(), answered: z.int(), failed: z.int(), running: z.int() });

export const RunDetail = z
  .object({
    ...Run.shape,
    acceptedWhy: z.string().nullable(),
    unlike: z.array(Unlike),
    outcomes: z.array(z.object({ outcome: Outcome, count: z.int() })),
    failures: z
      .array(
        z.object({
          cause: FailureCause,
          outcome: Outcome.nullable().describe("Null while it is still tried again."),
          message: z.string().describe("The first line of what the endpoint said."),
          remedy: z.string(),
          count: z.int(),
          generationIds: z.array(Id).describe("At most 500 of them, for retrying these."),
          places: z.array(
            z.object({ promptTitle: z.string(), entrantName: z.string(), take: z.int(), attempts: z.int() }),
          ),
        }),
      )
      .describe("By cause and first line, most frequent first."),
    byEntrant: z.array(
      z.object({
        entrantId: Id,
        name: z.string(),
        glyph: z.int(),
        ...Progress.shape,
        costUsd: z.number(),
        medianTotalMs: z.number().nullable(),
        mismatched: z.int().describe("Answers from a model that reports another name than was asked for."),
      }),
    ),
    byPrompt: z.array(z.object({ promptId: Id, title: z.string(), ...Progress.shape })),
    pace: z.object({
      answersPerMinute: z.number().nullable(),
      tokensPerSecond: z.number().nullable(),
      remainingSeconds: z.number().nullable(),
    }),
    endpoints: z.array(
      z.object({
        id: Id,
        baseUrl: z.string(),
        inFlight: z.int(),
        concurrency: z.int(),
        paused: z
          .array(z.object({ model: z.string(), until: Instant, reason: z.string() }))
          .describe("Models that fail in a row there, and are left alone until then."),
      }),
    ),
  })
  .meta({ id: "RunDetail" });
export type RunDetail = z.infer<typeof RunDetail>;

/** Which of a run's generations to send again: those given, or all that failed or were cancelled or held. */
export const RunRetry = z.strictObject({ generationIds: z.array(Id).max(500).optional() }).meta({ id: "RunRetry" });
export const RunChange = z
  .strictObject({ budgetUsd: z.number().positive().max(1_000_000).nullable() })
  .meta({ id: "RunChange" });
