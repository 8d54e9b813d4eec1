import * as z from "zod";
import { Id, Instant } from "./common.js";

/** What the endpoint counted. Null where it did not say. */
export const Usage = z
  .object({
    inputTokens: z.int().nullable(),
    outputTokens: z.int().nullable().describe("Reasoning included."),
    cachedInputTokens: z.int().nullable().default(null),
    reasoningTokens: z.int().nullable().default(null),
  })
  .meta({ id: "Usage" });
export type Usage = z.infer<typeof Usage>;

/** Milliseconds; of a continued answer the first token is that of its first part, and the total that of all parts. */
export const Timings = z
  .object({
    queuedMs: z.number().nullable().default(null).describe("From being planned to being sent."),
    firstTokenMs: z.number().nullable().describe("Until the first token of any sort, reasoning included."),
    firstTextMs: z.number().nullable().default(null).describe("Until the first token of the answer itself."),
    totalMs: z.number(),
  })
  .meta({ id: "Timings" });
export type Timings = z.infer<typeof Timings>;

/** Why a generation did not end with an answer. */
export const FailureCause = z.enum([
  "unreachable",
  "unauthorized",
  "rate_limited",
  "server_error",
  "bad_request",
  "timeout",
  "stalled",
  "cut_stream",
  "lost",
  "bad_response",
  "key_missing",
  "storage",
  "internal",
]);
export type FailureCause = z.infer<typeof FailureCause>;

export const Failure = z
  .object({
    cause: FailureCause,
    message: z.string().describe("What the endpoint said, or what stopped the request."),
    remedy: z.string(),
    httpStatus: z.int().nullable(),
    at: Instant,
  })
  .meta({ id: "Failure" });
export type Failure = z.infer<typeof Failure>;

/**
 * `waiting` for the turn before it, `queued`, `admitted` to its endpoint, `running`, then `answered`, `failed` or
 * `cancelled`; `held` when the run's budget does not cover it.
 */
export const GenerationState = z.enum([
  "waiting",
  "queued",
  "admitted",
  "running",
  "answered",
  "failed",
  "cancelled",
  "held",
]);
export type GenerationState = z.infer<typeof GenerationState>;

/** What became of a generation in the end. `untaken`: answered, but its page could not be taken out on our side. */
export const Outcome = z
  .enum([
    "answered",
    "truncated",
    "refused",
    "empty",
    "no_artifact",
    "wrong_thing",
    "stalled",
    "rate_limited",
    "endpoint_down",
    "rejected",
    "over_budget",
    "cancelled",
    "untaken",
  ])
  .meta({ id: "Outcome" });
export type Outcome = z.infer<typeof Outcome>;

/** Why a request was sent: `retry` after a failure, `repeat` after a process died, `again` after a refusal. */
export const AttemptPurpose = z.enum(["first", "retry", "repeat", "continuation", "again"]);
export type AttemptPurpose = z.infer<typeof AttemptPurpose>;

/** One request to an endpoint and what came of it. */
export const Attempt = z
  .object({
    number: z.int(),
    purpose: AttemptPurpose,
    request: z.unknown().describe("The body as it was sent; keys are in a header and never part of it."),
    sentAt: Instant,
    endedAt: Instant.nullable(),
    outcome: z.union([z.literal("answered"), FailureCause]).nullable(),
    message: z.string().nullable(),
    remedy: z.string().nullable(),
    httpStatus: z.int().nullable(),
    headers: z
      .record(z.string(), z.string())
      .nullable()
      .describe("Those that matter: limits, request ids, processing time."),
    textLength: z.int().describe("Characters that came, also of a stream that broke off."),
    usage: Usage.nullable(),
    firstTokenMs: z.number().nullable(),
    firstTextMs: z.number().nullable(),
    totalMs: z.number().nullable(),
    finishReason: z.string().nullable(),
    reportedModel: z.string().nullable(),
    costUsd: z.number().nullable(),
    costIsEstimate: z.boolean(),
  })
  .meta({ id: "Attempt" });
export type Attempt = z.infer<typeof Attempt>;

/** A turn after the first answer: errors fed back, or what the lead typed. */
export const FollowUp = z
  .object({
    kind: z.enum(["mend", "correction"]),
    text: z.string().min(1).max(40_000),
    toSome: z.boolean().optional().describe("Whether a correction went to some entrants only."),
  })
  .meta({ id: "FollowUp" });
export type FollowUp = z.infer<typeof FollowUp>;

/** The payload of a `dispatch` job, which admits waiting generations to their endpoints. */
export const DispatchJob = z.strictObject({});

/** The payload of a `generate` job. */
export const GenerateJob = z.strictObject({ generationId: Id });

/** The payload of an `extract` job: an answer is stored and its artifact is to be taken out. */
export const ExtractJob = z.strictObject({ generationId: Id });
