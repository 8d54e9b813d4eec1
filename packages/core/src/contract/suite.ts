import * as z from "zod";
import { Id, Instant, Key, Sha256, YamlText } from "./common.js";
import { readChord } from "./keys.js";

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
      .union(
        [
          z.literal("forbidden"),
          z.literal("allowed"),
          z.array(LibraryName).min(1).max(20),
          z.strictObject({ use: z.array(LibraryName).min(1).max(20).describe("To be used, and no others.") }),
        ],
        { error: "must be forbidden, allowed, a list as in [three, d3], or {use: [three]} with a list" },
      )
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
const Point = z.strictObject({ x: z.number().min(0).max(3840), y: z.number().min(0).max(2160) }).describe("CSS px");
/** Something on the page, found as a person using a screen reader would find it. */
const ByName = z.strictObject({
  name: z.string().min(1).max(200).describe("Its accessible name, or a part of it."),
  role: z.string().min(1).max(40).optional().describe("Its role, as in button or slider."),
});

/** Where an input goes: a place of the viewport, or something found by its accessible name. */
export const Target = z.union([Point, ByName]);
export type Target = z.infer<typeof Target>;

/** One timed input of a walkthrough. */
export const WalkthroughStep = z
  .union([
    z.strictObject({
      atMs,
      key: z
        .string()
        .min(1)
        .max(32)
        .describe("KeyboardEvent.key, as in ArrowRight, Space or a; with what is held meanwhile, as in Control+z."),
      holdMs: z.int().min(0).max(30_000).default(0),
    }),
    z.strictObject({ atMs, type: z.string().min(1).max(500).describe("Text that is typed where the focus is.") }),
    z.strictObject({ atMs, paste: z.string().min(1).max(5000).describe("Text that is pasted where the focus is.") }),
    z.strictObject({
      atMs,
      click: Target,
      with: z.enum(["double", "right"]).optional().describe("Twice, or by the right button."),
    }),
    z.strictObject({ atMs, tap: Target.describe("By a finger.") }),
    z.strictObject({
      atMs,
      swipe: z.strictObject({ from: Target, to: Target }).describe("By a finger."),
      holdMs: z.int().min(0).max(30_000).default(300).describe("How long it takes."),
    }),
    z.strictObject({
      atMs,
      reload: z.literal(true).describe("Loads the page again, as a person would: does it keep?"),
    }),
    z.strictObject({
      atMs,
      drag: z.strictObject({ from: Target, to: Target }),
      holdMs: z.int().min(0).max(30_000).default(400).describe("How long the drag takes."),
    }),
    z.strictObject({
      atMs,
      move: Target,
      holdMs: z.int().min(0).max(30_000).default(0).describe("How long it takes."),
    }),
    z.strictObject({
      atMs,
      wheel: z.strictObject({
        at: Target,
        byX: z.number().min(-10_000).max(10_000).default(0),
        byY: z.number().min(-10_000).max(10_000).default(0).describe("CSS px; positive scrolls down."),
      }),
    }),
    z.strictObject({
      atMs,
      resize: Viewport.describe("The window's new size, to see how the page adapts."),
    }),
  ])
  .meta({ id: "WalkthroughStep" });
export type WalkthroughStep = z.infer<typeof WalkthroughStep>;

const watchText = z.string().min(1).max(200);
/** What a person should check, and by what it can be seen. */
export const Watchpoint = z
  .union([
    watchText,
    z.strictObject({ text: watchText, evidence: z.enum(["picture", "motion", "controls", "text", "log", "code"]) }),
  ])
  .meta({ id: "Watchpoint" });
export type Watchpoint = z.infer<typeof Watchpoint>;
export const watchpointText = (watchpoint: Watchpoint): string =>
  typeof watchpoint === "string" ? watchpoint : watchpoint.text;

const promptText = z.string().min(1).max(20_000);

const Turn = z.strictObject({ text: promptText });
const StarterFile = z.strictObject({ path: z.string().min(1).max(200), text: z.string().max(200_000) });

/** One task of the suite, as written in a suite file. */
export const PromptDefinition = z
  .strictObject({
    key: Key,
    title: z.string().min(1).max(80),
    kind: Kind,
    summary: z.string().min(1).max(160).describe("The task in one line; voters read it above the stages."),
    text: promptText.describe("What is sent to the models, word for word."),
    turns: z.array(Turn).max(8).default([]).describe("Follow-up requests on the output before, as in: now animate it."),
    starterFiles: z
      .array(StarterFile)
      .max(20)
      .default([])
      .describe("Files that models are sent after the text, and that an output may leave as they are."),
    variantOf: z
      .strictObject({ prompt: Key, change: z.string().min(1).max(300).describe("What is worded otherwise.") })
      .optional(),
    tags: z.array(Key).max(20).default([]),
    rules: Rules.prefault({}),
    viewport: Viewport.default({ width: 1280, height: 800 }),
    furtherViewports: z.array(Viewport).max(4).default([]),
    seconds: z.number().min(1).max(60).default(6).describe("Seconds of page time to record."),
    motion: z.boolean().describe("Whether something is expected to move by itself."),
    walkthrough: z.array(WalkthroughStep).max(100).default([]),
    watchpoints: z.array(Watchpoint).min(1).max(20).describe("What a person should check."),
  })
  .superRefine((prompt, context) => {
    const complain = (path: (string | number)[], message: string) =>
      context.addIssue({ code: "custom", path, message });
    prompt.walkthrough.forEach((step, index) => {
      if (step.atMs > prompt.seconds * 1000)
        complain(["walkthrough", index, "atMs"], `is after the end of the recording (${prompt.seconds} s)`);
      for (const { path, point } of listPoints(step)) {
        if (point.x >= prompt.viewport.width || point.y >= prompt.viewport.height)
          complain(
            ["walkthrough", index, ...path],
            `is outside the viewport (${prompt.viewport.width} × ${prompt.viewport.height})`,
          );
      }
    });
    prompt.starterFiles.forEach(({ path }, index) => {
      if (!isPlainPath(path))
        complain(["starterFiles", index, "path"], "is not a plain relative path, as in data/ferries.json");
      if (prompt.starterFiles.findIndex((other) => other.path.toLowerCase() === path.toLowerCase()) < index)
        complain(["starterFiles", index, "path"], `"${path}" is there twice`);
    });
    if (prompt.variantOf?.prompt === prompt.key) complain(["variantOf", "prompt"], "names the prompt itself");
  })
  .meta({ id: "PromptDefinition" });
export type PromptDefinition = z.infer<typeof PromptDefinition>;

/** What models are sent for a prompt. An edition that keeps a prompt's wording keeps its answers, entries and ballots. */
export const Wording = z
  .object({
    text: promptText,
    turns: z.array(Turn),
    starterFiles: z.array(StarterFile),
    rules: Rules,
    viewport: Viewport,
    form: z.enum(["html", "svg", "html or svg"]).describe("What sort of file is asked for."),
  })
  .meta({ id: "Wording" });
export type Wording = z.infer<typeof Wording>;

/** How a page is recorded. Another recipe makes recordings stale, not answers. */
export type Recipe = Pick<
  PromptDefinition,
  "kind" | "viewport" | "furtherViewports" | "seconds" | "motion" | "walkthrough"
>;

const isPlainPath = (path: string): boolean =>
  path.split("/").every((part) => /^[\w@][\w@. -]*$/.test(part) && !part.startsWith("..") && part !== "__proto__");

/** The places by position that a step names, with the path to each. */
function listPoints(step: WalkthroughStep): { path: string[]; point: z.infer<typeof Point> }[] {
  return listTargets(step).flatMap(({ path, target }) => ("x" in target ? [{ path, point: target }] : []));
}

/** What a step is aimed at, with the path to each in the step. */
export function listTargets(step: WalkthroughStep): { path: string[]; target: Target }[] {
  if ("click" in step) return [{ path: ["click"], target: step.click }];
  if ("move" in step) return [{ path: ["move"], target: step.move }];
  if ("wheel" in step) return [{ path: ["wheel", "at"], target: step.wheel.at }];
  if ("tap" in step) return [{ path: ["tap"], target: step.tap }];
  const path = "drag" in step ? step.drag : "swipe" in step ? step.swipe : null;
  if (path === null) return [];
  const name = "drag" in step ? "drag" : "swipe";
  return [
    { path: [name, "from"], target: path.from },
    { path: [name, "to"], target: path.to },
  ];
}

/** Stands in a mend template for the errors that were found. */
export const MEND_PLACEHOLDER = "{errors}";
export const DEFAULT_MEND_TEMPLATE = `I opened what you made in a browser, and it reported:

${MEND_PLACEHOLDER}

Correct this and answer with the whole file, or all files, again.`;

/** A suite file of the present version: see docs/formats/suite.md. */
export const PresentSuiteDefinition = z
  .strictObject({
    format: z.literal("tourney-suite/2"),
    key: Key,
    title: z.string().min(1).max(80),
    description: z.string().max(2000).default(""),
    sample: z.boolean().default(false).describe("Marks everything made from this suite as sample data on screen."),
    mendTemplate: z
      .string()
      .min(1)
      .max(4000)
      .refine((text) => text.includes(MEND_PLACEHOLDER), `must hold ${MEND_PLACEHOLDER}, where the errors are put in`)
      .default(DEFAULT_MEND_TEMPLATE)
      .describe("What is sent when an entry's own errors are fed back: the same words for every entrant."),
    prompts: z.array(PromptDefinition).min(1).max(500),
  })
  .superRefine((suite, context) => {
    const complain = (path: (string | number)[], message: string) =>
      context.addIssue({ code: "custom", path, message });
    const places = new Map<string, number>();
    suite.prompts.forEach((prompt, index) => {
      const first = places.get(prompt.key);
      if (first !== undefined)
        complain(["prompts", index, "key"], `"${prompt.key}" is already the key of prompt ${first + 1}`);
      else places.set(prompt.key, index);
    });
    suite.prompts.forEach(({ walkthrough }, index) =>
      walkthrough.forEach((step, at) => {
        if ("key" in step && readChord(step.key) === null)
          complain(
            ["prompts", index, "walkthrough", at, "key"],
            `there is no key "${step.key}"; keys are called as in ArrowRight, Space, Delete, a, ? or Control+z`,
          );
      }),
    );
    suite.prompts.forEach(({ key, variantOf }, index) => {
      if (variantOf === undefined || variantOf.prompt === key) return;
      const path = ["prompts", index, "variantOf", "prompt"];
      if (!places.has(variantOf.prompt)) complain(path, `there is no prompt "${variantOf.prompt}"`);
      else if (isCircular(suite.prompts, key, places)) complain(path, "leads back to the prompt itself");
    });
  })
  .meta({ id: "SuiteDefinition" });

/** A suite file of any version, read as the present one. Version 1 called a prompt's turns `stages`. */
export const SuiteDefinition = z.preprocess(upgradeSuiteFile, PresentSuiteDefinition);
export type SuiteDefinition = z.infer<typeof SuiteDefinition>;

function upgradeSuiteFile(file: unknown): unknown {
  if (!isRecord(file) || file["format"] !== "tourney-suite/1") return file;
  const { prompts } = file;
  return {
    ...file,
    format: "tourney-suite/2",
    prompts: Array.isArray(prompts) ? prompts.map(upgradePrompt) : prompts,
  };
}

/** A version-1 file that has `turns` has a member that its version does not know: it is left to be refused. */
function upgradePrompt(prompt: unknown): unknown {
  if (!isRecord(prompt) || !("stages" in prompt) || "turns" in prompt) return prompt;
  return Object.fromEntries(Object.entries(prompt).map(([key, value]) => [key === "stages" ? "turns" : key, value]));
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);

function isCircular(
  prompts: readonly { key: string; variantOf?: { prompt: string } | undefined }[],
  start: string,
  places: ReadonlyMap<string, number>,
): boolean {
  let key: string | undefined = start;
  for (let steps = 0; steps <= prompts.length; steps++) {
    const place = places.get(key);
    key = place === undefined ? undefined : prompts[place]!.variantOf?.prompt;
    if (key === undefined) return false;
    if (key === start) return true;
  }
  return false;
}

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
    generations: z.int(),
    sample: z.boolean(),
    archived: z.boolean().describe("Of the suite: it is kept, and out of the way."),
    frozenAt: Instant,
  })
  .meta({ id: "EditionSummary" });
export type EditionSummary = z.infer<typeof EditionSummary>;

export const Edition = z.object({ ...EditionSummary.shape, prompts: z.array(Prompt) }).meta({ id: "Edition" });
export type Edition = z.infer<typeof Edition>;

/** The part of a prompt that a member belongs to. */
export const PromptPart = z.enum(["wording", "recipe", "briefing"]);
export type PromptPart = z.infer<typeof PromptPart>;

const FieldChange = z.object({ field: z.string(), before: z.string(), after: z.string() });
/** What changed from one edition of a suite to another. */
export const SuiteDifference = z
  .object({
    head: z.array(FieldChange).describe("Members of the suite itself."),
    added: z.array(z.string()).describe("Keys of prompts."),
    removed: z.array(z.string()),
    reordered: z.boolean(),
    changed: z.array(
      z.object({
        key: z.string(),
        title: z.string(),
        fields: z.array(FieldChange),
        parts: z
          .array(PromptPart)
          .describe("Models are asked again for a new wording; pages are recorded again by a new recipe."),
      }),
    ),
    kept: z.int().describe("Prompts whose wording is unchanged: they keep their answers and ballots."),
  })
  .meta({ id: "SuiteDifference" });
export type SuiteDifference = z.infer<typeof SuiteDifference>;

/** What importing a file would do, before it is taken. */
export const SuitePreview = z
  .object({
    digest: Sha256.describe("Of what was read: give it with the import, and nothing else is frozen."),
    suiteKey: z.string(),
    suiteTitle: z.string(),
    promptCount: z.int(),
    nextNumber: z.int(),
    sameAs: z.int().nullable().describe("The edition that has just this content already."),
    against: z.int().nullable().describe("The newest edition, which the difference is from."),
    difference: SuiteDifference.nullable(),
  })
  .meta({ id: "SuitePreview" });
export type SuitePreview = z.infer<typeof SuitePreview>;

export const SuiteFile = z.object({ yaml: z.string() }).meta({ id: "SuiteFile" });

/** Text of a suite file that is being worked on; it may be wrong for the time being. */
export const SuiteDraft = z
  .object({ suiteKey: Key, yaml: z.string(), savedAt: Instant, basedOn: z.int().nullable() })
  .meta({ id: "SuiteDraft" });
export type SuiteDraft = z.infer<typeof SuiteDraft>;

export const SuiteText = z.strictObject({ yaml: YamlText }).meta({ id: "SuiteText" });
export const SuiteImport = z
  .strictObject({
    yaml: YamlText,
    digest: Sha256.optional().describe("Of the preview that was shown; a suite with another digest is refused."),
  })
  .meta({ id: "SuiteImport" });
export const SuiteImportResult = z
  .object({ edition: Edition, created: z.boolean().describe("false when this very edition was already frozen") })
  .meta({ id: "SuiteImportResult" });
export type SuiteImportResult = z.infer<typeof SuiteImportResult>;
