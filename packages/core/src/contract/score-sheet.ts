import * as z from "zod";
import { Id, Instant } from "./common.js";
import { defineOperation } from "./operation.js";
import { Kind } from "./suite.js";

export const SheetVerdict = z.enum(["pass", "part", "fail"]).meta({ id: "SheetVerdict" });
export type SheetVerdict = z.infer<typeof SheetVerdict>;

export const WatchpointMark = z.enum(["met", "not_met", "unsure"]).meta({ id: "WatchpointMark" });
export type WatchpointMark = z.infer<typeof WatchpointMark>;

/** Who fills score sheets in: each person's sheets stand apart. */
export const JudgeName = z.string().trim().min(1, "say whose sheet it is").max(60);

const sheetParts = {
  watchpoints: z
    .array(z.strictObject({ text: z.string().min(1).max(500), mark: WatchpointMark }))
    .max(50)
    .describe("Those that were looked at, by their words: a briefing may change."),
  verdict: SheetVerdict.nullable(),
  marks: z.int().min(0).max(10).nullable().describe("Out of ten, where the judge gives marks."),
  note: z.string().max(2000),
  tags: z.array(z.string().trim().min(1).max(40)).max(20).describe("The judge's own words, as in “favourite”."),
};

/** A person's judgement of one entry, as it is sent. */
export const ScoreSheetInput = z
  .strictObject({ ...sheetParts, isBlind: z.boolean().describe("Whether the entrant's name was hidden.") })
  .meta({ id: "ScoreSheetInput" });
export type ScoreSheetInput = z.infer<typeof ScoreSheetInput>;

export const ScoreSheet = z
  .object({
    ...sheetParts,
    entryId: Id,
    judge: JudgeName,
    isBlind: z.boolean().describe("Whether the name was hidden whenever it was filled in."),
    createdAt: Instant,
    updatedAt: Instant,
  })
  .meta({ id: "ScoreSheet" });
export type ScoreSheet = z.infer<typeof ScoreSheet>;

/** A sheet without its words, with the place of its entry: what tallies are made of. */
export const JudgedEntry = z
  .object({
    entryId: Id,
    promptId: Id,
    kind: Kind,
    entrantId: Id,
    versionId: Id,
    take: z.int(),
    turn: z.int(),
    mends: z.int(),
    corrections: z.int(),
    judge: JudgeName,
    isBlind: z.boolean(),
    verdict: SheetVerdict.nullable(),
    marks: z.int().nullable(),
    met: z.int().describe("Watch-points that are met."),
    judgedWatchpoints: z.int().describe("Watch-points that are met or not; those that nobody can tell are left out."),
    tags: z.array(z.string()),
    updatedAt: Instant,
  })
  .meta({ id: "JudgedEntry" });
export type JudgedEntry = z.infer<typeof JudgedEntry>;

/** How often one judge's sheets and the voters prefer the same of two entries. */
export const JudgeAgreement = z
  .object({
    judge: JudgeName,
    pairs: z.int().describe("Pairs of entries of one prompt that both decided."),
    agreed: z.int(),
  })
  .meta({ id: "JudgeAgreement" });
export type JudgeAgreement = z.infer<typeof JudgeAgreement>;

export const Judging = z
  .object({ sheets: z.array(JudgedEntry), agreement: z.array(JudgeAgreement) })
  .meta({ id: "Judging" });
export type Judging = z.infer<typeof Judging>;

const sheetParams = z.object({ entryId: Id, judge: JudgeName });

/** Score sheets: filled in by people, never mixed with ballots. */
export const SHEET_OPERATIONS = {
  listSheets: defineOperation({
    id: "listSheets",
    method: "get",
    path: "/api/entries/:entryId/sheets",
    summary: "Everybody's score sheets of an entry, newest first",
    params: z.object({ entryId: Id }),
    response: z.array(ScoreSheet),
  }),
  saveSheet: defineOperation({
    id: "saveSheet",
    method: "put",
    path: "/api/entries/:entryId/sheets/:judge",
    summary: "Fill in a judge's score sheet of an entry",
    params: sheetParams,
    body: ScoreSheetInput,
    response: ScoreSheet,
  }),
  removeSheet: defineOperation({
    id: "removeSheet",
    method: "delete",
    path: "/api/entries/:entryId/sheets/:judge",
    summary: "Take a judge's score sheet of an entry away",
    params: sheetParams,
    response: z.object({ removed: z.boolean() }),
  }),
  getJudging: defineOperation({
    id: "getJudging",
    method: "get",
    path: "/api/editions/:editionId/judging",
    summary: "All score sheets on an edition's prompts, and how far they agree with the voters",
    params: z.object({ editionId: Id }),
    response: Judging,
  }),
} as const;
