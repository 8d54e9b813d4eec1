import * as z from "zod";
import { Id, Instant } from "./common.js";
import { Entrant } from "./entrant.js";
import { Verdict } from "./entry.js";
import { Finding, Frame, PictureFile, Sprite } from "./render.js";
import { EditionSummary, Prompt } from "./suite.js";

/** The state a cell shows; each is recognisable without colour. */
export const CellState = z.enum([
  "missing",
  "queued",
  "running",
  "held",
  "recording",
  "recorded",
  "failed",
  "refused",
  "no_artifact",
]);
export type CellState = z.infer<typeof CellState>;

/**
 * What is rated and stands in a column: an entrant as it is set up now, or as it was once. What an older version answered is told apart from what
 * the present one answers.
 */
export const CompetitorVersion = z
  .object({
    id: Id,
    number: z.int(),
    isPresent: z.boolean(),
    until: Instant.nullable().describe("When another set-up followed; null for the present one."),
  })
  .meta({ id: "CompetitorVersion" });
export type CompetitorVersion = z.infer<typeof CompetitorVersion>;

/** How many places of a competitor ended in what. */
export const Delivery = z
  .object({
    pages: z.int().describe("With a page, whether or not it works."),
    none: z.int().describe("Without a page by the model's doing: refused, nothing usable, cut off."),
    owed: z.int().describe("Without a page by the host's doing: failed for good, cancelled, held."),
  })
  .meta({ id: "Delivery" });
export type Delivery = z.infer<typeof Delivery>;

export const WallCell = z
  .object({
    promptId: Id,
    entrantId: Id,
    versionId: Id,
    take: z.int(),
    state: CellState,
    detail: z.string().nullable().describe("One line that says why, where something is wrong."),
    mismatch: z.boolean().describe("Another model answered than was asked for."),
    keptFromVoters: z.boolean().describe("No voter is shown it, because of that, until the lead accepts it."),
    entryId: Id.nullable(),
    verdict: Verdict.nullable(),
    answeredAt: Instant.nullable(),
    stale: z
      .enum(["renderer", "recipe"])
      .nullable()
      .describe("Recorded by an older renderer or another recipe: not to be compared with newer recordings."),
    picture: PictureFile.nullable().describe(
      "From the middle of its recording, 320 px wide; the first is often of a page that has only begun.",
    ),
    motion: z
      .array(z.number())
      .describe("Share of pixels that change from one frame to the next, 0–1, to three decimals."),
    findings: z
      .array(Finding.pick({ rule: true, severity: true, message: true }))
      .describe("One of each rule, without notes: what may be wrong."),
    entries: z.int().describe("How many entries there are in this place: takes, turns, rounds, mended by hand."),
  })
  .meta({ id: "WallCell" });
export type WallCell = z.infer<typeof WallCell>;

export const Wall = z
  .object({
    edition: EditionSummary,
    prompts: z.array(
      Prompt.pick({ id: true, key: true, title: true, kind: true, viewport: true, seconds: true, tags: true }),
    ),
    entrants: z.array(
      z.object({
        ...Entrant.pick({ id: true, key: true, name: true, maker: true, glyph: true, sample: true }).shape,
        version: CompetitorVersion,
        byHand: z.boolean(),
        retired: z.boolean(),
        delivery: Delivery,
        cleanShare: z
          .number()
          .nullable()
          .describe("Share of recorded first shots without an error finding that were not helped by hand, 0–1."),
        medianTotalMs: z.number().nullable(),
        costPerEntryUsd: z.number().nullable(),
      }),
    ),
    formerVersions: z
      .int()
      .describe("Older set-ups with answers, which have columns only where all versions are asked for."),
    takes: z.int().describe("The most takes that any cell has."),
    take: z.int().describe("The take that the cells are of."),
    rounds: z.int().describe("The highest number of a round that any cell has; 0 where there are first shots only."),
    round: z.int().describe("The round that the cells are of; 0 is the first shot."),
    cells: z.array(WallCell).describe("Of one take and round, without those that are missing."),
  })
  .meta({ id: "Wall" });
export type Wall = z.infer<typeof Wall>;

export const WallAnswer = Wall.extend({
  cursor: z.string().describe("Names the wall as it is now, to ask what has changed since."),
  since: z
    .string()
    .nullable()
    .describe(
      "The cursor that was asked by: only cells that are others than in that wall are there. Null where all are.",
    ),
  emptied: z
    .array(WallCell.pick({ promptId: true, versionId: true }))
    .describe("Places whose cells are not there any more, where `since` is given."),
}).meta({ id: "WallAnswer" });
export type WallAnswer = z.infer<typeof WallAnswer>;

export const Strip = z
  .object({
    frames: z.array(Frame.pick({ atMs: true, file: true, thumbnail: true })),
    sprite: Sprite.nullable().describe("All thumbnails in one picture; null where they differ in size."),
  })
  .describe("All pictures of a cell's recording, to be gone through; none where there is no recording.")
  .meta({ id: "Strip" });
export type Strip = z.infer<typeof Strip>;
/** One picture of a strip. */
export type StripFrame = Strip["frames"][number];

export const WallQuery = z.object({
  take: z.coerce.number().int().min(1).max(100).default(1),
  round: z.coerce.number().int().min(0).max(100).default(0),
  versions: z.enum(["present", "all"]).default("present"),
  since: z.string().max(60).optional().describe("The cursor of the wall that the caller holds."),
});

/** What a run is planned on: how much of each cell is there, without any of it. */
export const Grid = z
  .object({
    editionId: Id,
    prompts: z.array(Prompt.pick({ id: true, title: true, kind: true })),
    entrants: z.array(
      z.object({
        ...Entrant.pick({ id: true, name: true, glyph: true }).shape,
        byHand: z.boolean(),
        retired: z.boolean(),
      }),
    ),
    there: z.array(z.array(z.int())).describe("Takes that exist already, by prompt and then by entrant."),
  })
  .meta({ id: "Grid" });
export type Grid = z.infer<typeof Grid>;
