import * as z from "zod";
import { Id, Instant, Sha256 } from "./common.js";
import { Viewport, WalkthroughStep } from "./suite.js";

export const RenderOutcome = z
  .enum(["ok", "crashed", "hung", "memory", "navigated", "failed"])
  .meta({ id: "RenderOutcome" });
export type RenderOutcome = z.infer<typeof RenderOutcome>;

export const Frame = z
  .object({
    atMs: z.int().describe("Page time."),
    sha256: Sha256.describe("Of the raw RGBA pixels."),
    file: z.string().describe("Name of the WebP file: beside the report, or in the blob store."),
    thumbnail: z.string().describe("Name of the same picture, 320 px wide."),
  })
  .meta({ id: "Frame" });
export type Frame = z.infer<typeof Frame>;

export const FindingRule = z.enum(["blank", "still", "exception", "crashed", "hung", "blocked_request", "navigated"]);
export type FindingRule = z.infer<typeof FindingRule>;

export const Finding = z
  .object({
    rule: FindingRule,
    severity: z.enum(["error", "warning", "note"]),
    message: z.string(),
    atMs: z.int().nullable(),
    evidence: z.string(),
  })
  .meta({ id: "Finding" });
export type Finding = z.infer<typeof Finding>;

export const LogLine = z
  .object({
    atMs: z.int(),
    level: z.enum(["debug", "info", "warning", "error"]),
    text: z.string(),
    source: z.enum(["console", "exception"]),
    /** Where it happened, as in index.html:142, or null. */
    where: z.string().nullable(),
  })
  .meta({ id: "LogLine" });
export type LogLine = z.infer<typeof LogLine>;

export const BlockedRequest = z.object({ url: z.string(), type: z.string() }).meta({ id: "BlockedRequest" });
export type BlockedRequest = z.infer<typeof BlockedRequest>;

/** What contained the page while it was recorded. */
export const Isolation = z
  .object({
    sandbox: z.boolean(),
    unprivilegedUser: z.boolean(),
    networkNamespace: z.boolean(),
    memory: z
      .enum(["cgroup", "watched"])
      .nullable()
      .default(null)
      .describe("What held its memory: the kernel, or a look at its processes every tenth of a second."),
  })
  .meta({ id: "Isolation" });
export type Isolation = z.infer<typeof Isolation>;

export const Metrics = z
  .object({
    wallMs: z.number(),
    /** Share of pixels that changed between frame i and i+1, 0–1. */
    motion: z.array(z.number()),
    domNodes: z.int().nullable(),
  })
  .meta({ id: "Metrics" });

/** The page as it looks at another size: opened anew there, and left alone. */
export const FurtherView = z.object({ viewport: Viewport, frame: Frame }).meta({ id: "FurtherView" });
export type FurtherView = z.infer<typeof FurtherView>;

/** The result of one headless recording; also what `./tourney render --json` prints. */
export const Recording = z
  .object({
    rendererVersion: z.string(),
    outcome: RenderOutcome,
    outcomeDetail: z.string().nullable(),
    clock: z.enum(["begin-frame"]),
    isolation: Isolation,
    viewport: Viewport,
    seconds: z.number(),
    seed: z.int(),
    frames: z.array(Frame),
    views: z
      .array(FurtherView)
      .default([])
      .describe("At the prompt's further viewports; one that could not be taken is left out."),
    findings: z.array(Finding),
    console: z.array(LogLine),
    requests: z.array(BlockedRequest),
    metrics: Metrics,
  })
  .meta({ id: "Recording" });
export type Recording = z.infer<typeof Recording>;

export const Render = z
  .object({
    id: Id,
    state: z.enum(["queued", "recorded", "failed"]),
    recording: Recording.nullable(),
    error: z.string().nullable(),
    finishedAt: Instant.nullable(),
  })
  .meta({ id: "Render" });
export type Render = z.infer<typeof Render>;

/** How a page is to be recorded. */
export const RecordingPlan = z.strictObject({
  viewport: Viewport,
  seconds: z.number().min(1).max(60),
  frames: z.int().min(2).max(120),
  seed: z.int(),
  motionExpected: z.boolean(),
  furtherViewports: z.array(Viewport).max(4).default([]),
  walkthrough: z.array(WalkthroughStep),
});
export type RecordingPlan = z.infer<typeof RecordingPlan>;

/** The payload of a `render` job: everything the worker needs, so that it reads no table but the queue. */
export const RenderJob = z.strictObject({
  renderId: Id,
  entryPath: z.string(),
  files: z.array(z.strictObject({ path: z.string(), bytes: z.int(), sha256: Sha256 })),
  plan: RecordingPlan,
});
export type RenderJob = z.infer<typeof RenderJob>;

/** The payload of a `render-finished` job: what the worker sends back to the server through the queue. */
export const RenderFinishedJob = z.strictObject({
  renderId: Id,
  recording: Recording.nullable(),
  error: z.string().nullable(),
});
export type RenderFinishedJob = z.infer<typeof RenderFinishedJob>;
