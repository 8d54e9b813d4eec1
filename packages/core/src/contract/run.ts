import * as z from "zod";
import { Id, Instant } from "./common.js";
import { Failure } from "./generation.js";

export const RunInput = z
  .strictObject({
    editionId: Id,
    entrantIds: z.array(Id).min(1, "choose at least one entrant").max(200),
    promptIds: z.array(Id).min(1, "choose at least one prompt").max(200),
    takes: z.int().min(1).max(20).default(1),
  })
  .meta({ id: "RunInput" });
export type RunInput = z.infer<typeof RunInput>;

export const RunCounts = z
  .object({
    total: z.int(),
    queued: z.int(),
    running: z.int(),
    answered: z.int(),
    failed: z.int(),
    cancelled: z.int(),
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
    createdAt: Instant,
    cancelledAt: Instant.nullable(),
    counts: RunCounts,
    costUsd: z.number(),
    inputTokens: z.int(),
    outputTokens: z.int(),
  })
  .meta({ id: "Run" });
export type Run = z.infer<typeof Run>;

export const RunDetail = z
  .object({
    ...Run.shape,
    failures: z.array(
      z.object({
        generationId: Id,
        promptTitle: z.string(),
        entrantName: z.string(),
        take: z.int(),
        attempts: z.int(),
        failure: Failure,
      }),
    ),
    byEntrant: z.array(
      z.object({
        entrantId: Id,
        name: z.string(),
        glyph: z.int(),
        answered: z.int(),
        total: z.int(),
        costUsd: z.number(),
        medianTotalMs: z.number().nullable(),
      }),
    ),
  })
  .meta({ id: "RunDetail" });
export type RunDetail = z.infer<typeof RunDetail>;
