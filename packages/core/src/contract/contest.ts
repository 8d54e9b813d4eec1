import * as z from "zod";
import { Id } from "./common.js";

/**
 * What a panel puts against what. `entrants` makes the ratings; `mended` and `turn_pages` are all entrants' pages after some mends, or after an earlier turn; in all others an entrant meets itself: for a prompt as it stands and
 * for a variant of it, in two takes, mended and as its first shot, in one turn and the turn before.
 */
export const Contest = z
  .enum(["entrants", "hints", "takes", "rounds", "turns", "mended", "turn_pages"])
  .meta({ id: "Contest" });
export type Contest = z.infer<typeof Contest>;

/** What ballots between two forms of a page came to. */
export const FormTally = z.object({
  ballots: z.int(),
  better: z.int().describe("For the later form: the variant, mended, the later turn."),
  even: z.int(),
  worse: z.int(),
  points: z
    .number()
    .nullable()
    .describe("How far the later form stands above the earlier one, in rating points; null without ballots."),
  halfWidth: z
    .number()
    .nullable()
    .describe("Of its 95 % interval for prompts and voters like these; null with too few of either."),
  halfWidthHere: z
    .number()
    .nullable()
    .describe("Of its 95 % interval on these very prompts, by voters alone; null with fewer than two."),
});
export type FormTally = z.infer<typeof FormTally>;

/** What one contest of an entrant against itself came to. */
export const FormContest = z
  .object({
    contest: Contest.extract(["hints", "rounds", "turns"]),
    all: FormTally,
    entrants: z.array(z.object({ versionId: Id, ...FormTally.shape })),
    prompts: z
      .array(z.object({ promptId: Id, form: z.string().describe("The later one."), ...FormTally.shape }))
      .describe("By prompt and what was asked about."),
  })
  .meta({ id: "FormContest" });
export type FormContest = z.infer<typeof FormContest>;

/** How far takes of one entrant are from each other. */
export const TakesContest = z
  .object({
    ballots: z.int(),
    distance: z.number().describe("Mean notches from even between two takes of one entrant, 0 to 2."),
    distanceBetween: z.number().nullable().describe("The same between two entrants, from the ballots that are rated."),
    share: z
      .object({ share: z.number(), low: z.number(), high: z.number() })
      .nullable()
      .describe(
        "Of the variance by which two entrants' pages differ for voters, the part that is luck of the draw; 95 % interval by prompts. Null where too few pairs were seen by two voters.",
      ),
    entrants: z.array(z.object({ versionId: Id, ballots: z.int(), distance: z.number() })),
    drift: z
      .array(
        z.object({ versionId: Id, days: z.number().describe("Between the takes, the median."), ...FormTally.shape }),
      )
      .describe("Takes that were asked for two weeks apart or more: the later form is the later take."),
  })
  .meta({ id: "TakesContest" });
export type TakesContest = z.infer<typeof TakesContest>;

/** Ratings of pages after so many mends, or after an earlier turn, apart from the ratings of first shots. */
export const PagesContest = z
  .object({
    pages: z.string().describe("As the standings can be asked for them: `mended-1`, `turn-2`."),
    ballots: z.int(),
    rows: z
      .array(
        z.object({
          versionId: Id,
          rating: z.number(),
          halfWidth: z.number().nullable(),
          rankRange: z.tuple([z.int(), z.int()]).nullable(),
          ballots: z.int(),
        }),
      )
      .describe("The best first."),
  })
  .meta({ id: "PagesContest" });
export type PagesContest = z.infer<typeof PagesContest>;

/** How surely a newcomer stood where, after how many of its panel's ballots. */
export const Placement = z
  .object({
    versionId: Id,
    of: z.int().describe("Entrants that are rated."),
    steps: z.array(
      z.object({
        ballots: z.int(),
        rankRange: z.tuple([z.int(), z.int()]).nullable(),
        rating: z.number().nullable(),
        halfWidth: z.number().nullable(),
      }),
    ),
    placedAfter: z
      .int()
      .nullable()
      .describe("The ballots from which on its ranks are three or fewer; null while they are more."),
  })
  .meta({ id: "Placement" });
export type Placement = z.infer<typeof Placement>;

/** What the contests beside the ratings came to; those without a ballot are missing. */
export const ContestResults = z
  .object({
    forms: z.array(FormContest),
    takes: TakesContest.nullable(),
    pages: z.array(PagesContest),
    newcomers: z.array(Placement),
  })
  .meta({ id: "ContestResults" });
export type ContestResults = z.infer<typeof ContestResults>;
