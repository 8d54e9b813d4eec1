import * as z from "zod";
import { Id, Instant } from "./common.js";
import { Entrant } from "./entrant.js";
import { EditionSummary, Kind } from "./suite.js";
import { WhatCounts } from "./what-counts.js";
import { BrokenRule, UndeliveredRule } from "./voting.js";
import { CompetitorVersion, Delivery } from "./wall.js";

export const Standing = z
  .object({
    entrant: Entrant.pick({
      ...{ id: true, key: true, name: true, maker: true, glyph: true, sample: true, predecessor: true },
    }),
    /** On the Elo-like scale; null without ballots. */
    rating: z.number().nullable(),
    /** Half-width of the 95 % interval; null when there are too few voters or prompts for one. */
    halfWidth: z.number().nullable(),
    /** Best and worst rank that the ballots support, 1-based; null without ballots. */
    rankRange: z.tuple([z.int(), z.int()]).nullable(),
    /** Index of the connected group; ratings across groups are not comparable. */
    component: z.int(),
    ballots: z.int(),
    worksShare: z.number().nullable(),
    version: CompetitorVersion,
    delivery: Delivery,
    cleanShare: z.number().nullable(),
    costPerEntryUsd: z.number().nullable(),
    medianTotalMs: z.number().nullable(),
    tokensPerEntry: z.number().nullable().describe("Output tokens of an answer, reasoning included; the mean."),
    tokensPerSecond: z.number().nullable().describe("Output tokens of all answers over the time that they took."),
  })
  .meta({ id: "Standing" });
export type Standing = z.infer<typeof Standing>;

const howMany = z.number().nullable();

/** What it would take, roughly, to tell one from the next. */
export const Forecast = z
  .object({
    firstId: Id.describe("A version's."),
    secondId: Id,
    /** More ballots, when voters and prompts grow in step; low and high by one standard error of the difference. Null: no number. */
    ballots: z.object({ low: howMany, likely: howMany, high: howMany }),
    voters: howMany.describe("How many more voters that is, if the difference is as it looks."),
    prompts: howMany,
    needs: z.enum(["ballots", "voters", "prompts", "voters and prompts"]),
  })
  .meta({ id: "Forecast" });
export type Forecast = z.infer<typeof Forecast>;

/** How far an entrant stands above its predecessor. */
export const Succession = z
  .object({
    newerId: Id.describe("A version's."),
    olderId: Id,
    points: z.number().nullable().describe("Rating points; null where the ballots do not connect them."),
    halfWidth: z
      .number()
      .nullable()
      .describe("Of the difference's own 95 % interval; null with too few voters or prompts."),
  })
  .meta({ id: "Succession" });
export type Succession = z.infer<typeof Succession>;

export const Standings = z
  .object({
    edition: EditionSummary,
    counts: WhatCounts,
    methodVersion: z.string(),
    ballots: z.int(),
    sampleBallots: z.int(),
    voters: z.int(),
    prompts: z.int(),
    components: z.int(),
    /** Rating points by which the left place is favoured, with the half-width of its naive 95 % interval. */
    side: z.object({ points: z.number(), halfWidth: z.number() }).nullable(),
    forecasts: z.array(Forecast).describe("Of neighbours that are not told apart, the best first."),
    succession: z
      .array(Succession)
      .describe("Every entrant with its predecessor, and every version with the one before."),
    rows: z.array(Standing),
    sources: z
      .array(
        z.object({
          panelId: Id,
          title: z.string(),
          edition: z.int().describe("The number of the edition that the panel was made for."),
          ballots: z.int(),
          unseen: z.int().describe("Of them, those that count without having been shown."),
          firstAt: Instant,
          lastAt: Instant,
          brokenRule: BrokenRule,
          undeliveredRule: UndeliveredRule,
        }),
      )
      .describe(
        "Where the ballots come from: panels of any edition that shares a wording, and how they treat what shows nothing.",
      ),
    formerVersions: z
      .int()
      .describe("Older set-ups with answers, which are rated only where all versions are asked for."),
    setAside: z.int().describe("Ballots that do not count, because a take was redone or another model answered."),
    /** Runs of neighbours [first, last] (row indices) no two of which can be told apart. */
    brackets: z.array(z.tuple([z.int(), z.int()])),
    headToHead: z
      .array(z.tuple([z.int(), z.number().nullable(), z.number().nullable()]))
      .describe(
        "Of rows 0 and 1, 0 and 2 … 1 and 2 …: their ballots, the share of those that leans to the first row, an even one counting half, and that share as the ratings expect it; null without ballots, or where two cannot be compared.",
      ),
    circles: z
      .array(z.tuple([z.int(), z.int(), z.int()]))
      .describe("Row indices: the first beat the second, the second the third, the third the first."),
    countedAt: Instant,
  })
  .meta({ id: "Standings" });
export type Standings = z.infer<typeof Standings>;

/** What feeding errors back came to, and the lead's corrections, of one competitor. A place is a prompt and a take. */
export const Mending = z
  .object({
    versionId: Id,
    places: z.int().describe("Whose first shot can be told clean or not."),
    firstClean: z
      .tuple([z.int(), z.int(), z.int(), z.int()])
      .describe("Of them, those whose first clean page came after none, one, two, or more mends."),
    mended: z.int().describe("Places that were not clean at first and had a mend asked."),
    mendedAgain: z.int().describe("Of them, those that had another mend asked."),
    corrected: z.int().describe("Places that had a correction in the lead's words."),
    cleanBefore: z.int().describe("Of those, clean before it."),
    cleanAfter: z.int().describe("Of those, clean after the last."),
  })
  .meta({ id: "Mending" });
export type Mending = z.infer<typeof Mending>;

/** How far the demo's sample data are that are being made. */
export const DemoProgress = z
  .object({
    rows: z.int().describe("Of the wall."),
    rowsReady: z.int().describe("On which people can vote."),
    toRecord: z.int(),
    recorded: z.int(),
    ballots: z.int(),
    ballotsPlanned: z.int(),
    remainingSeconds: z.number().nullable().describe("Null until the pace is known."),
  })
  .meta({ id: "DemoProgress" });
export type DemoProgress = z.infer<typeof DemoProgress>;

/** Whether all that Tourney needs is there. */
export const Health = z
  .object({
    room: z.object({
      freeBytes: z.number().describe("Left on the disk of the data."),
      isLow: z.boolean().describe("Nothing new is asked or recorded until there is more."),
    }),
    recorders: z.int().describe("Processes that record pages and live."),
    demo: DemoProgress.nullable().describe("Null where no sample data are being made."),
  })
  .meta({ id: "Health" });
export type Health = z.infer<typeof Health>;

/** The live state of each step of the job. */
export const Course = z
  .object({
    title: z.string().nullable(),
    sample: z.boolean(),
    edition: EditionSummary.nullable(),
    entrants: z.int(),
    cells: z.object({ total: z.int(), answered: z.int(), failed: z.int(), open: z.int(), costUsd: z.number() }),
    needLook: z.int(),
    ballots: z.int(),
    voters: z.int(),
    leaders: z.array(z.string()).describe("The leader, or everyone it cannot be told apart from."),
    next: z.enum(["suite", "entrants", "runs", "wall", "voting", "standings"]),
  })
  .meta({ id: "Course" });
export type Course = z.infer<typeof Course>;

/** An entrant on one prompt or on prompts of one category. */
const RatedThere = z.object({
  versionId: Id,
  rating: z.number().describe("Drawn towards the rating over all prompts, the more the fewer ballots there are."),
  error: z.number().describe("Standard error in rating points, by the model alone; on a prompt, of the departure."),
  ballots: z.int(),
});

/** How entrants are rated on each prompt, and on the prompts of each kind and tag. */
export const PromptRatings = z
  .object({
    overall: z.array(z.object({ versionId: Id, rating: z.number().nullable() })),
    prompts: z.array(
      z.object({
        promptId: Id,
        ballots: z.int(),
        evenShare: z.number().nullable().describe("Of its ballots, 0–1."),
        agreement: z
          .number()
          .nullable()
          .describe("Share of deciding ballots on the side that most took, over pairs with two of them or more."),
        ratings: z.array(RatedThere),
      }),
    ),
    categories: z
      .array(
        z.object({
          of: z.enum(["kind", "tag"]),
          name: z.string(),
          prompts: z.int(),
          ballots: z.int(),
          ratings: z.array(RatedThere),
        }),
      )
      .describe("Those that some prompts have and others have not."),
  })
  .meta({ id: "PromptRatings" });
export type PromptRatings = z.infer<typeof PromptRatings>;
/** A kind or a tag, with the ratings on its prompts. */
export type CategoryRatings = PromptRatings["categories"][number];

/** Ratings by what voters saw the pages with, of all ballots for which that is known. */
export const RatingsBySeeing = z
  .array(
    z.object({
      by: z.enum(["pointer", "window", "frame rate"]),
      name: z.string(),
      ballots: z.int(),
      ratings: z.array(RatedThere).describe("Drawn towards the rating over all groups where ballots are few."),
    }),
  )
  .meta({ id: "RatingsBySeeing" });
export type RatingsBySeeing = z.infer<typeof RatingsBySeeing>;

const numbers = z.array(z.number());
const whole = z.array(z.int());

/** Ballots in columns of equal length. What they are of is meant by its place in the lists of a basis. */
export const BasisPart = z
  .object({
    prompt: whole,
    voter: whole,
    left: whole,
    right: whole,
    lean: whole,
    at: whole.describe("Seconds since 1970."),
    marks: whole.describe(
      "Sum of 1, 2: left, right works; 4, 8: left, right shows nothing; 16, 32: left, right has no page; 64: decided without having been shown.",
    ),
  })
  .meta({ id: "BasisPart" });
export type BasisPart = z.infer<typeof BasisPart>;

/**
 * All that standings are made of, so that another choice of what counts can be counted without asking again. Columns of equal length; prompts, competitors, panels
 * and voters are meant by their places in the lists.
 */
export const StandingsBasis = z
  .object({
    edition: EditionSummary,
    prompts: z.array(
      z.object({
        id: Id,
        key: z.string(),
        title: z.string(),
        kind: Kind,
        tags: z.array(z.string()),
        isVariant: z.boolean(),
      }),
    ),
    competitors: z.array(Standing.pick({ entrant: true, version: true })),
    panels: z.array(
      z.object({
        id: Id,
        title: z.string(),
        edition: z.int(),
        brokenRule: BrokenRule,
        undeliveredRule: UndeliveredRule,
      }),
    ),
    voters: z.array(z.object({ id: Id, name: z.string(), panel: z.int(), sample: z.boolean() })),
    cells: z
      .object({
        prompt: whole,
        competitor: whole,
        pages: whole,
        none: whole,
        owed: whole,
        clean: whole,
        tried: whole,
        costed: whole,
        costUsd: numbers,
        tokens: numbers,
        tokened: whole,
        timedTokens: numbers,
        timedMs: numbers,
        totalsMs: z.array(numbers),
      })
      .describe("The first shots of each competitor on each prompt."),
    ballots: BasisPart.describe("In the order in which they were cast."),
    formerVersions: z.int(),
    pages: WhatCounts.shape.pages,
    otherPages: z.array(z.string()).describe("Pages that panels compared beside first shots, as `mended-1`."),
    setAside: z.int(),
    readAt: Instant,
  })
  .meta({ id: "StandingsBasis" });
export type StandingsBasis = z.infer<typeof StandingsBasis>;

/** Names some ballots by what they are: those that have not changed are not fetched again. */
export const PartName = z.string().regex(/^[\w-]{43}$/);

/** A basis whose ballots are fetched in parts. */
export const PartedBasis = StandingsBasis.omit({ ballots: true })
  .extend({ parts: z.array(PartName).describe("The parts of the ballots: together they are all.") })
  .meta({ id: "PartedBasis" });
export type PartedBasis = z.infer<typeof PartedBasis>;

/** The ratings after the first ballots that count, after more of them, and after all, in the order in which voters cast them. */
export const RatingsOverTime = z
  .object({
    versionIds: z.array(Id),
    steps: z.array(
      z.object({
        ballots: z.int(),
        at: Instant.describe("When the last of them was cast."),
        ratings: z
          .array(z.object({ rating: z.number().nullable(), halfWidth: z.number().nullable() }))
          .describe("In the order of the versions."),
      }),
    ),
  })
  .meta({ id: "RatingsOverTime" });
export type RatingsOverTime = z.infer<typeof RatingsOverTime>;
