import * as z from "zod";
import { Id, Instant, Sha256 } from "./common.js";
import { ArtifactFacts } from "./extraction.js";
import { Failure, FollowUp, GenerationState, Timings, Usage } from "./generation.js";
import { Render } from "./render.js";
import { Prompt } from "./suite.js";
import { Entrant } from "./entrant.js";

export const Verdict = z.enum(["ok", "truncated", "refusal", "empty", "no_artifact"]).meta({ id: "Verdict" });
export type Verdict = z.infer<typeof Verdict>;

export const ArtifactKind = z.enum(["html", "svg", "files", "component", "none"]);
export type ArtifactKind = z.infer<typeof ArtifactKind>;

/** One decision of the extraction: what was seen, what was done with it, and why. */
export const TraceStep = z
  .object({
    part: z.string().describe("Which fence or part, as in “fence 2 (html, lines 14–96)”."),
    action: z.enum(["taken", "skipped", "joined", "noted"]),
    why: z.string(),
  })
  .meta({ id: "TraceStep" });
export type TraceStep = z.infer<typeof TraceStep>;

export const EntryFile = z.object({ path: z.string(), bytes: z.int(), sha256: Sha256 }).meta({ id: "EntryFile" });
export type EntryFile = z.infer<typeof EntryFile>;

/** A job for the render worker is made from this: everything it needs, so that it reads no other table. */
export const EntrySummary = z
  .object({
    id: Id,
    verdict: Verdict,
    kind: ArtifactKind,
    entryPath: z.string().nullable(),
    files: z.array(EntryFile),
    take: z.int(),
    turn: z.int(),
    round: z.int().describe("0 is the first shot; follow-ups are counted from 1."),
    mends: z.int().describe("Of its rounds, those that fed its own errors back."),
    corrections: z.int().describe("Of its rounds, those in the lead's words."),
  })
  .meta({ id: "EntrySummary" });
export type EntrySummary = z.infer<typeof EntrySummary>;

export const EntryDetail = z
  .object({
    ...EntrySummary.shape,
    editionId: Id.describe(
      "The edition whose prompt is shown with it: the one that was asked for, or the newest that has its wording.",
    ),
    prompt: Prompt,
    entrant: Entrant.pick({ id: true, key: true, name: true, maker: true, glyph: true, sample: true }),
    version: z.object({
      id: Id,
      number: z.int(),
      isPresent: z
        .boolean()
        .describe(
          "Whether the entrant is set up like this now; answers of an older set-up are neither voted on nor rated.",
        ),
      model: z.string(),
    }),
    superseded: z
      .object({ at: Instant, why: z.string(), holdsId: Id.nullable().describe("The entry that holds in its place.") })
      .nullable()
      .describe("Set where the take was redone: another answer holds, and this one stays readable."),
    redone: z
      .object({ redoId: Id, why: z.string(), undone: z.boolean() })
      .nullable()
      .describe("Set where this answer was asked for by a redo."),
    mismatch: z
      .object({ accepted: z.boolean() })
      .nullable()
      .describe("Set where another model answered than was asked for: no voter is shown it until the lead accepts it."),
    handHelp: z
      .string()
      .nullable()
      .describe("How a person helped it along; it then does not count as working by itself."),
    offTask: z.string().nullable().describe("Why the lead says that it is not what was asked for."),
    trace: z.array(TraceStep),
    facts: ArtifactFacts,
    handMended: z.object({ from: Id, diff: z.string() }).nullable(),
    rounds: z
      .array(
        z.object({
          entryId: Id.nullable(),
          turn: z.int(),
          round: z.int(),
          mends: z.int(),
          corrections: z.int(),
          handMended: z.boolean(),
          followUp: FollowUp.nullable(),
          state: GenerationState,
          errors: z.int().describe("Findings that are errors, in its newest recording."),
        }),
      )
      .describe("Everything made for this prompt, entrant and take, in order."),
    fileTexts: z.array(z.object({ path: z.string(), text: z.string() })),
    leftOut: z.string().nullable().describe("Why no voter is shown this entry; null when voters are."),
    liveUrl: z.string().nullable().describe("The output on the exhibit origin, for a sandboxed frame."),
    render: Render.nullable(),
    generation: z.object({
      id: Id,
      state: GenerationState,
      byHand: z.boolean(),
      answer: z.string(),
      reasoning: z.string().nullable().describe("What the model thought before it answered, where the endpoint tells."),
      admissions: z
        .array(z.string())
        .describe("Sentences in which the answer itself says that something was left out."),
      finishReason: z.string().nullable(),
      requestedModel: z.string(),
      reportedModel: z.string().nullable(),
      request: z.unknown(),
      usage: Usage.nullable(),
      timings: Timings.nullable(),
      costUsd: z.number().nullable(),
      attempts: z.int(),
      failures: z.array(Failure),
      answeredAt: Instant.nullable(),
    }),
  })
  .meta({ id: "EntryDetail" });
export type EntryDetail = z.infer<typeof EntryDetail>;

/** One typed follow-up that is sent alike to all entrants of a prompt, or to some, which is then said with it. */
export const Correction = z
  .strictObject({
    text: z.string().trim().min(3).max(20_000),
    take: z.int().min(1).max(100).default(1),
    entrantIds: z.array(Id).min(1).max(200).optional().describe("All that have answered unless given."),
  })
  .meta({ id: "Correction" });

/** Which entries are to be mended: one, or a row, a column or all of an edition. */
export const MendRequest = z
  .strictObject({
    editionId: Id,
    entryId: Id.optional(),
    promptId: Id.optional(),
    entrantId: Id.optional(),
    take: z.int().min(1).max(100).default(1),
  })
  .meta({ id: "MendRequest" });
export type MendRequest = z.infer<typeof MendRequest>;

/** What the lead notes of an answer besides what was measured. Null takes a note away. */
export const AnswerMarks = z
  .strictObject({
    handHelp: z.string().trim().min(3).max(500).nullable(),
    offTask: z.string().trim().min(3).max(500).nullable(),
  })
  .meta({ id: "AnswerMarks" });
export type AnswerMarks = z.infer<typeof AnswerMarks>;

/** Files of an entry as a person changed them; those that are left out stay as they are. */
export const EntryEdit = z
  .strictObject({
    files: z
      .array(z.strictObject({ path: z.string().min(1).max(200), text: z.string().max(4_000_000) }))
      .min(1)
      .max(100),
  })
  .meta({ id: "EntryEdit" });
export type EntryEdit = z.infer<typeof EntryEdit>;

export const HandAnswer = z
  .strictObject({
    promptKey: z.string().min(1),
    entrantKey: z.string().min(1),
    take: z.int().min(1).max(100).default(1),
    turn: z.int().min(1).max(9).default(1).describe("Which turn of the prompt it answers."),
    text: z.string().min(1, "the answer is empty").max(4_000_000),
    inputTokens: z.int().min(0).max(1_000_000_000).optional(),
    outputTokens: z.int().min(0).max(1_000_000_000).optional().describe("Reasoning included."),
    minutes: z.number().positive().max(100_000).optional().describe("How long the answer took."),
    costUsd: z.number().min(0).max(1_000_000).optional(),
    reportedModel: z.string().trim().min(1).max(200).optional().describe("The model that says it answered."),
  })
  .meta({ id: "HandAnswer" });
export type HandAnswer = z.infer<typeof HandAnswer>;
export const HandAnswerResult = z
  .object({ entryId: Id, verdict: Verdict, created: z.boolean() })
  .meta({ id: "HandAnswerResult" });
export type HandAnswerResult = z.infer<typeof HandAnswerResult>;

/** What became of each answer of an imported file. */
export const AnswersImportResult = z
  .object({
    taken: z.array(z.object({ source: z.string(), entryId: Id, verdict: Verdict, created: z.boolean() })),
    refused: z.array(z.object({ source: z.string(), why: z.string() })),
  })
  .meta({ id: "AnswersImportResult" });
export type AnswersImportResult = z.infer<typeof AnswersImportResult>;
