import * as z from "zod";
import { Id, Instant } from "./common.js";

/** What the endpoint counted. Null where it did not say. */
export const Usage = z
  .object({ inputTokens: z.int().nullable(), outputTokens: z.int().nullable() })
  .meta({ id: "Usage" });
export type Usage = z.infer<typeof Usage>;

/** Milliseconds from the moment the request was sent. */
export const Timings = z.object({ firstTokenMs: z.number().nullable(), totalMs: z.number() }).meta({ id: "Timings" });
export type Timings = z.infer<typeof Timings>;

/** Why a generation did not end with an answer. */
export const FailureCause = z.enum([
  "unreachable",
  "unauthorized",
  "rate_limited",
  "server_error",
  "bad_request",
  "timeout",
  "cut_stream",
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

export const GenerationState = z.enum(["queued", "running", "answered", "failed", "cancelled"]);
export type GenerationState = z.infer<typeof GenerationState>;

/** The payload of a `generate` job. */
export const GenerateJob = z.strictObject({ generationId: Id });

/** The payload of an `extract` job: an answer is stored and its artifact is to be taken out. */
export const ExtractJob = z.strictObject({ generationId: Id });
