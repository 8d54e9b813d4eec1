import * as z from "zod";
import { Id, Instant, Sha256 } from "./common.js";
import { Kind, Viewport, WalkthroughStep } from "./suite.js";

/**
 * Changes whenever recordings made before and after cannot be compared. A recording of another version shows as stale
 * until it is made anew.
 */
export const RENDERER_VERSION = "7";

export const RenderOutcome = z
  .enum(["ok", "crashed", "hung", "memory", "navigated", "failed"])
  .meta({ id: "RenderOutcome" });
export type RenderOutcome = z.infer<typeof RenderOutcome>;

/** What the page was doing when it stopped answering. */
export const HungIn = z.enum(["load", "timer", "frame", "input", "worker"]).meta({ id: "HungIn" });
export type HungIn = z.infer<typeof HungIn>;

export const PictureFile = z.string().describe("Name of a WebP file: beside the report, or in the blob store.");

export const Frame = z
  .object({
    atMs: z.int().describe("Page time."),
    sha256: Sha256.describe("Of the picture without loss, as the browser gave it (PNG): the same for the same pixels."),
    file: PictureFile,
    thumbnail: PictureFile.describe("The same picture, 320 px wide."),
    preview: PictureFile.optional().describe("The same picture, 640 px wide; of the poster only."),
  })
  .meta({ id: "Frame" });
export type Frame = z.infer<typeof Frame>;

/** All frames of a clip in one picture, row by row from the top left. */
export const Sprite = z
  .object({ file: PictureFile, columns: z.int(), frameWidth: z.int(), frameHeight: z.int() })
  .meta({ id: "Sprite" });
export type Sprite = z.infer<typeof Sprite>;

export const FindingRule = z.enum([
  "blank",
  "still",
  "exception",
  "crashed",
  "hung",
  "dead_control",
  "unreadable_text",
  "overflow",
  "missing_control",
  "needs_device",
  "missing_asset",
  "library_missing",
  "blocked_request",
  "navigated",
  "popup",
  "dialog",
  "slow_frames",
  "tall_page",
  "goes_wrong",
  "accessibility",
  "unstable",
]);
export type FindingRule = z.infer<typeof FindingRule>;

export const Finding = z
  .object({
    rule: FindingRule,
    version: z.int().default(1).describe("Of the rule: a change of what it calls wrong is a new one."),
    severity: z.enum(["error", "warning", "note"]),
    message: z.string(),
    atMs: z.int().nullable(),
    evidence: z.string().describe("What shows it: a place in the code, an element, an address, a figure."),
    followsFrom: z
      .string()
      .nullable()
      .default(null)
      .describe("What it is a consequence of, where that is no fault of the page: a library that is missing here."),
  })
  .meta({ id: "Finding" });
export type Finding = z.infer<typeof Finding>;

export const LogLine = z
  .object({
    atMs: z.int(),
    level: z.enum(["debug", "info", "warning", "error"]),
    text: z.string(),
    source: z
      .enum(["console", "exception", "browser", "recorder"])
      .describe("The page's console, what it threw, what the browser said of it, or the recorder's own remarks."),
    /** Where it happened, as in index.html:142, or null. */
    where: z.string().nullable(),
  })
  .meta({ id: "LogLine" });
export type LogLine = z.infer<typeof LogLine>;

export const BlockedRequest = z
  .object({
    url: z.string(),
    type: z.string(),
    library: z.string().nullable().default(null).describe("The library it asked for, where the address tells."),
  })
  .meta({ id: "BlockedRequest" });
export type BlockedRequest = z.infer<typeof BlockedRequest>;

/** A request for a library that was answered from the shelf. */
export const Substitution = z
  .object({
    url: z.string(),
    asked: z.string().describe("Library and version as the page named them."),
    served: z.string().describe("Library and version that it got."),
    exact: z.boolean().describe("Whether the version is one that the page's own words allow."),
  })
  .meta({ id: "Substitution" });
export type Substitution = z.infer<typeof Substitution>;

/** What one input of the walkthrough came to. */
export const StepResult = z
  .object({
    atMs: z.int(),
    input: WalkthroughStep,
    origin: z.enum(["prompt", "default"]).describe("Written in the suite, or tried because nothing is written there."),
    effect: z
      .enum(["changed", "none", "not_found", "not_judged"])
      .describe("Whether the page answered: by its document or its pixels, against the same clip without the input."),
    control: z.string().nullable().describe("What was aimed at, as in: button “Plan crossing”."),
    before: PictureFile.nullable().describe("640 px wide, right before the input."),
    after: PictureFile.nullable().describe("640 px wide, when its effect should be seen."),
  })
  .meta({ id: "StepResult" });
export type StepResult = z.infer<typeof StepResult>;

/** Something on the page that can be worked, and whether it answers. */
export const ControlResult = z
  .object({
    control: z.string().describe("As in: button “Plan crossing”, key ArrowLeft."),
    state: z.enum(["answers", "dead", "not_tried"]),
  })
  .meta({ id: "ControlResult" });
export type ControlResult = z.infer<typeof ControlResult>;

/** The same page recorded again and compared. */
export const Stability = z
  .object({
    recordings: z.int().describe("How many were compared, this one included."),
    isStable: z.boolean(),
    differing: z.array(z.string()).describe("What was not the same: frames by their time, the outcome, the log."),
  })
  .meta({ id: "Stability" });
export type Stability = z.infer<typeof Stability>;

/** A short run on the machine's own clock. It tells of this machine, and of what else it was doing. */
export const RealTime = z
  .object({
    seconds: z.number(),
    frames: z.int(),
    p50Ms: z.number().describe("Median interval between two frames."),
    p95Ms: z.number(),
  })
  .meta({ id: "RealTime" });
export type RealTime = z.infer<typeof RealTime>;

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
    domDepth: z.int().nullable().default(null).describe("Elements within one another at the deepest place."),
    firstPaintMs: z.int().nullable().default(null).describe("Page time of the first frame that is not of one colour."),
    framesDrawn: z
      .int()
      .nullable()
      .default(null)
      .describe("Frames that the browser drew; the page was given all of them."),
    framesPerSecond: z
      .number()
      .default(60)
      .describe("Of page time: fewer than 60 where a page is too heavy to be drawn that often."),
    pageHeight: z.int().nullable().default(null).describe("Of the whole page, CSS px."),
    servedBytes: z.int().nullable().default(null).describe("Of all that the page was given, libraries included."),
  })
  .meta({ id: "Metrics" });

/** The page as it looks at another size: opened anew there, and left alone. */
export const FurtherView = z.object({ viewport: Viewport, frame: Frame }).meta({ id: "FurtherView" });
export type FurtherView = z.infer<typeof FurtherView>;

/** A part of a page by its place, CSS px from the page's top. */
export const Section = z
  .object({
    role: z
      .string()
      .describe("Of the landmark, as in navigation; `section`, or `heading` where the page has no landmarks."),
    name: z.string().describe("What it is called, or its first heading; empty where it has neither."),
    top: z.int(),
    height: z.int(),
  })
  .meta({ id: "Section" });
export type Section = z.infer<typeof Section>;

/** A page that goes on below the window, from top to bottom as it is at the end of the clip. */
export const WholePage = z
  .object({
    file: PictureFile,
    thumbnail: PictureFile.describe("The same picture, 320 px wide."),
    width: z.int(),
    height: z.int().describe("Of the picture; less than the page's where that goes on further than is looked at."),
    pageHeight: z.int(),
    sections: z.array(Section),
  })
  .meta({ id: "WholePage" });
export type WholePage = z.infer<typeof WholePage>;

/** What a page took at one moment of a stress test. */
const Strain = z.object({
  frameMs: z.number().describe("Processor time for a frame, on the machine that recorded it."),
  heapMb: z.number().describe("Of its scripts' memory."),
  exceptions: z.int().describe("Since the last one."),
});

/** What a page does when its load is turned up, and when it is left alone for minutes. */
export const StressTest = z
  .object({
    control: z.string().nullable().describe("What was turned up; null where the page has nothing of the kind."),
    levels: z.array(Strain.extend({ load: z.string().describe("As in: 500, or 64 presses.") })),
    isCutShort: z.boolean().describe("Whether it was ended before the control's end, because it took too long."),
    soak: z
      .object({
        samples: z.array(Strain.extend({ atMs: z.int().describe("Page time.") })),
        wrongWords: z.array(z.string()).describe("Such as NaN, in its text at the end."),
        isEmpty: z.boolean().describe("Whether nothing is drawn at the end."),
      })
      .nullable()
      .describe("Left alone, drawn twice a second; null where it ended before."),
  })
  .meta({ id: "StressTest" });
export type StressTest = z.infer<typeof StressTest>;

/** The result of one headless recording; also what `./tourney render --json` prints. */
export const Recording = z
  .object({
    rendererVersion: z.string(),
    outcome: RenderOutcome,
    outcomeDetail: z.string().nullable(),
    hungIn: HungIn.nullable().default(null),
    clock: z
      .enum(["begin-frame", "injected"])
      .describe("The browser's own frames one by one, or a clock put into the page where that cannot be had."),
    isolation: Isolation,
    viewport: Viewport,
    seconds: z.number(),
    seed: z.int(),
    frames: z.array(Frame),
    poster: z.int().default(0).describe("The frame that shows the page best: its place in frames."),
    sprite: Sprite.nullable().default(null),
    steps: z.array(StepResult).default([]),
    controls: z
      .array(ControlResult)
      .default([])
      .describe("What the page offers to be worked by, as far as it was looked for."),
    views: z
      .array(FurtherView)
      .default([])
      .describe("At the prompt's further viewports; one that could not be taken is left out."),
    whole: WholePage.nullable().default(null).describe("Of a page that goes on below the window."),
    stress: StressTest.nullable().default(null).describe("Made when it is asked for."),
    findings: z.array(Finding),
    console: z.array(LogLine),
    requests: z.array(BlockedRequest),
    substitutions: z.array(Substitution).default([]),
    stability: Stability.nullable().default(null),
    realTime: RealTime.nullable().default(null),
    metrics: Metrics,
    shownText: z
      .string()
      .default("")
      .describe("What the page said at the end: its text, shown attributes, what its fields hold; a line each."),
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
  kind: Kind.nullable().default(null).describe("Chooses the inputs to try where the walkthrough is empty."),
  furtherViewports: z.array(Viewport).max(4).default([]),
  walkthrough: z.array(WalkthroughStep),
  repeats: z.int().min(1).max(20).default(1).describe("How often to record it; more than once to compare."),
  repeatFlagged: z.boolean().default(false).describe("Record it once more when something was found."),
  realTime: z.boolean().default(false).describe("Also measure its frame rate on the machine's own clock."),
  stress: z.boolean().default(false).describe("Also turn up its load, and leave it alone for minutes of page time."),
});
export type RecordingPlan = z.infer<typeof RecordingPlan>;

export const RecordAgain = z
  .strictObject({ stress: z.boolean().default(false).describe("Also turn its load up.") })
  .meta({ id: "RecordAgain" });

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
