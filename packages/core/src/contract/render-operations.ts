import * as z from "zod";
import { Id, Instant } from "./common.js";
import { defineOperation } from "./operation.js";

/** Which recordings are to be made anew. */
export const RenderScope = z
  .strictObject({
    editionId: Id,
    promptId: Id.optional().describe("Of this prompt only."),
    entrantId: Id.optional().describe("Of this entrant only."),
    only: z
      .enum(["all", "stale", "failed"])
      .default("all")
      .describe("All, those made by an older renderer, or those that could not be made."),
  })
  .meta({ id: "RenderScope" });
export type RenderScope = z.infer<typeof RenderScope>;

export const RendersQueued = z.object({ queued: z.int() }).meta({ id: "RendersQueued" });

/** A process that works on the queue. */
export const Worker = z
  .object({
    id: Id,
    kind: z.enum(["server", "generate", "render"]),
    host: z.string(),
    pid: z.int(),
    capacity: z.int(),
    rendererVersion: z.string().nullable(),
    startedAt: Instant,
    seenAt: Instant,
  })
  .meta({ id: "Worker" });
export type Worker = z.infer<typeof Worker>;

export const RenderQueue = z
  .object({
    workers: z.array(Worker),
    waiting: z.int().describe("Recordings that nobody has begun."),
    running: z.int(),
    stale: z.int().describe("Newest recordings made by an older renderer."),
    failed: z.int().describe("Recordings that could not be made."),
    recordedLastMinute: z.int(),
  })
  .meta({ id: "RenderQueue" });
export type RenderQueue = z.infer<typeof RenderQueue>;

/** What can be done with recordings. */
export const RENDER_OPERATIONS = {
  renderAgain: defineOperation({
    id: "renderAgain",
    method: "post",
    path: "/api/renders",
    summary: "Record anew a row, a column or all of an edition's entries; older recordings are kept",
    body: RenderScope,
    response: RendersQueued,
    status: 201,
  }),
  getRenderQueue: defineOperation({
    id: "getRenderQueue",
    method: "get",
    path: "/api/editions/:editionId/render-queue",
    summary: "Who works on the queue, and what of an edition is still to be recorded",
    params: z.object({ editionId: Id }),
    response: RenderQueue,
  }),
};

export const renderParams = z.object({ renderId: Id });
