import * as z from "zod";
import { Id, Instant, Key, Sha256 } from "./common.js";

export const Kind = z.enum(["game", "animation", "drawing", "app"]).meta({ id: "Kind" });
export type Kind = z.infer<typeof Kind>;

export const Viewport = z
  .strictObject({ width: z.int().min(200).max(3840), height: z.int().min(200).max(2160) })
  .meta({ id: "Viewport", description: "CSS pixels" });
export type Viewport = z.infer<typeof Viewport>;

const LibraryName = z.string().trim().min(1).max(100);

/** What an output may be made of. */
export const Rules = z
  .strictObject({
    singleFile: z.boolean().default(true).describe("Everything in one HTML or SVG file."),
    libraries: z
      .union([
        z.literal("forbidden"),
        z.literal("allowed"),
        z.array(LibraryName).min(1).max(20),
        z.strictObject({ use: z.array(LibraryName).min(1).max(20).describe("To be used, and no others.") }),
      ])
      .default("forbidden")
      .describe("Third-party libraries: forbidden, allowed, the list of those allowed, or those that are to be used."),
    framework: z.enum(["allowed", "forbidden"]).default("allowed").describe("Component frameworks."),
    language: z
      .enum(["html", "svg", "javascript"])
      .optional()
      .describe("What it must be written in: an HTML page, an SVG file, or scripts in plain JavaScript."),
  })
  .meta({ id: "Rules" });
export type Rules = z.infer<typeof Rules>;

const atMs = z.int().min(0).max(60_000).describe("When, in milliseconds of page time from the first paint.");

/** One timed input of a walkthrough: a key that is pressed or held, or a click at a place of the viewport. */
export const WalkthroughStep = z
  .union([
    z.strictObject({
      atMs,
      key: z.string().min(1).max(32).describe("KeyboardEvent.key, as in ArrowRight, Space or a"),
      holdMs: z.int().min(0).max(30_000).default(0),
    }),
    z.strictObject({ atMs, click: z.strictObject({ x: z.number().min(0), y: z.number().min(0) }).describe("CSS px") }),
  ])
  .meta({ id: "WalkthroughStep" });
export type WalkthroughStep = z.infer<typeof WalkthroughStep>;

/** One task of the suite, as written in a suite file. */
export const PromptDefinition = z
  .strictObject({
    key: Key,
    title: z.string().min(1).max(80),
    kind: Kind,
    summary: z.string().min(1).max(160).describe("The task in one line; voters read it above the stages."),
    text: z.string().min(1).max(20_000).describe("What is sent to the models, word for word."),
    rules: Rules.prefault({}),
    viewport: Viewport.default({ width: 1280, height: 800 }),
    seconds: z.number().min(1).max(60).default(6).describe("Seconds of page time to record."),
    motion: z.boolean().describe("Whether something is expected to move by itself."),
    walkthrough: z.array(WalkthroughStep).max(100).default([]),
    watchpoints: z.array(z.string().min(1).max(200)).min(1).max(20).describe("What a person should check."),
  })
  .superRefine((prompt, context) => {
    prompt.walkthrough.forEach((step, index) => {
      if (step.atMs > prompt.seconds * 1000) {
        context.addIssue({
          code: "custom",
          path: ["walkthrough", index, "atMs"],
          message: `is after the end of the recording (${prompt.seconds} s)`,
        });
      }
      if ("click" in step && (step.click.x >= prompt.viewport.width || step.click.y >= prompt.viewport.height)) {
        context.addIssue({
          code: "custom",
          path: ["walkthrough", index, "click"],
          message: `is outside the viewport (${prompt.viewport.width} × ${prompt.viewport.height})`,
        });
      }
    });
  })
  .meta({ id: "PromptDefinition" });
export type PromptDefinition = z.infer<typeof PromptDefinition>;

/** A suite file: see docs/formats/suite.md. */
export const SuiteDefinition = z
  .strictObject({
    format: z.literal("tourney-suite/1"),
    key: Key,
    title: z.string().min(1).max(80),
    sample: z.boolean().default(false).describe("Marks everything made from this suite as sample data on screen."),
    prompts: z.array(PromptDefinition).min(1).max(200),
  })
  .superRefine((suite, context) => {
    const seen = new Map<string, number>();
    suite.prompts.forEach((prompt, index) => {
      const first = seen.get(prompt.key);
      if (first !== undefined) {
        context.addIssue({
          code: "custom",
          path: ["prompts", index, "key"],
          message: `"${prompt.key}" is already the key of prompt ${first + 1}`,
        });
      } else seen.set(prompt.key, index);
    });
  })
  .meta({ id: "SuiteDefinition" });
export type SuiteDefinition = z.infer<typeof SuiteDefinition>;

export const Prompt = z.object({ id: Id, ...PromptDefinition.shape }).meta({ id: "Prompt" });
export type Prompt = z.infer<typeof Prompt>;

export const EditionSummary = z
  .object({
    id: Id,
    suiteKey: Key,
    suiteTitle: z.string(),
    number: z.int().positive(),
    digest: Sha256,
    promptCount: z.int(),
    sample: z.boolean(),
    frozenAt: Instant,
  })
  .meta({ id: "EditionSummary" });
export type EditionSummary = z.infer<typeof EditionSummary>;

export const Edition = z.object({ ...EditionSummary.shape, prompts: z.array(Prompt) }).meta({ id: "Edition" });
export type Edition = z.infer<typeof Edition>;

export const SuiteImport = z.strictObject({ yaml: z.string().min(1).max(5_000_000) }).meta({ id: "SuiteImport" });
export const SuiteImportResult = z
  .object({ edition: Edition, created: z.boolean().describe("false when this very edition was already frozen") })
  .meta({ id: "SuiteImportResult" });
export type SuiteImportResult = z.infer<typeof SuiteImportResult>;
