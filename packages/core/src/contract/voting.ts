import * as z from "zod";
import { Id, Instant } from "./common.js";
import { Contest } from "./contest.js";
import { Kind, Viewport } from "./suite.js";

/** What becomes of entries that are blank or crashed: shown like any other, counted as lost without being shown, or left out. */
export const BrokenRule = z.enum(["pair", "lose", "leave_out"]).meta({ id: "BrokenRule" });
export type BrokenRule = z.infer<typeof BrokenRule>;

/** What becomes of a place for which a model delivered no page: it loses without being shown, or is left out. */
export const UndeliveredRule = z.enum(["lose", "leave_out"]).meta({ id: "UndeliveredRule" });
export type UndeliveredRule = z.infer<typeof UndeliveredRule>;

/** What of a panel can be changed while it votes. */
export const PanelChange = z
  .strictObject({
    title: z.string().trim().min(1, "give the panel a name").max(80),
    quota: z.int().min(1).max(1000).default(20),
    message: z.string().trim().max(2000).default(""),
    closesAt: Instant.nullable()
      .default(null)
      .describe("No ballot is taken after this; null: open until it is closed."),
    asksReasons: z.boolean().default(true),
    brokenRule: BrokenRule.default("pair"),
    undeliveredRule: UndeliveredRule.default("lose"),
    promptIds: z.array(Id).min(1, "choose at least one prompt").nullable().default(null).describe("Null: all."),
    entrantIds: z.array(Id).min(2, "choose at least two entrants").nullable().default(null).describe("Null: all."),
  })
  .meta({ id: "PanelChange" });
export type PanelChange = z.infer<typeof PanelChange>;

/** A panel to be made. What it puts against what stays as it is: its ballots would mean two things. */
export const PanelInput = z
  .strictObject({
    editionId: Id,
    ...PanelChange.shape,
    contest: Contest.default("entrants"),
    step: z
      .int()
      .min(1)
      .max(10)
      .default(1)
      .describe(
        "In `rounds` and `mended` the pages after so many mends at most, in `turn_pages` those after this turn.",
      ),
    newcomerId: Id.nullable()
      .default(null)
      .describe("In the contest between entrants: the one that stands in every bout, to be placed among the others."),
  })
  .refine(({ contest, newcomerId }) => newcomerId === null || contest === "entrants", {
    path: ["newcomerId"],
    message: "a newcomer is placed among entrants: choose that contest",
  })
  .meta({ id: "PanelInput" });
export type PanelInput = z.infer<typeof PanelInput>;

export const PanelVoter = z
  .object({
    id: Id,
    name: z.string(),
    sample: z.boolean(),
    isLead: z.boolean().describe("Voted while signed in as the lead, who may have seen outputs with their names."),
    url: z.url().nullable().describe("The voter's personal invitation; null for one who came by the open link."),
    revoked: z.boolean(),
    leftOut: z
      .string()
      .nullable()
      .describe("Why this voter's ballots are left out of the ratings; null when they count."),
    ballots: z.int(),
    skipped: z.int(),
    sharesPlaceWith: z
      .int()
      .describe("Other voters of the panel who came by the open link from the same network address."),
    lastBallotAt: Instant.nullable(),
  })
  .meta({ id: "PanelVoter" });
export type PanelVoter = z.infer<typeof PanelVoter>;

export const Panel = z
  .object({
    id: Id,
    ...PanelInput.shape,
    url: z.url().describe("The open invitation: it makes a voter on first use."),
    linkOpen: z.boolean().describe("Whether the open invitation still makes voters."),
    joinsRefused: z.int().describe("Of those who came by it: too many from one network address."),
    sample: z.boolean(),
    createdAt: Instant,
    ballots: z.int(),
    voters: z.array(PanelVoter),
  })
  .meta({ id: "Panel" });
export type Panel = z.infer<typeof Panel>;

/** Personal invitations to make, one for each name; a name may be empty. */
export const Invitations = z
  .strictObject({ names: z.array(z.string().trim().max(60)).min(1, "name at least one voter").max(500) })
  .meta({ id: "Invitations" });

export const LeftOut = z.strictObject({ why: z.string().trim().min(1, "say why").max(300) }).meta({ id: "LeftOut" });

/** Why a bout was passed over. */
export const SkipReason = z
  .enum(["cannot judge", "not shown properly", "knows who made it", "rather not"])
  .meta({ id: "SkipReason" });
export type SkipReason = z.infer<typeof SkipReason>;

/** An unguessable token in an address: at least 128 random bits, base64url. */
export const Token = z.string().regex(/^[A-Za-z0-9_-]{22,64}$/);

export const VoterInput = z
  .strictObject({ name: z.string().trim().max(60).default(""), sample: z.boolean().default(false) })
  .meta({ id: "VoterInput" });

export const BoothState = z
  .object({
    panelTitle: z.string(),
    message: z.string(),
    quota: z.int(),
    done: z.int(),
    known: z.boolean().describe("Whether this browser is already a voter of the panel."),
    isLead: z.boolean().describe("Whether the lead is signed in in this browser: voting is not blind then."),
    closed: z.boolean(),
    asksReasons: z.boolean(),
    ownUrl: z.url().nullable().describe("With which this voter goes on in another browser."),
    sample: z.boolean(),
  })
  .meta({ id: "BoothState" });
export type BoothState = z.infer<typeof BoothState>;

/** A bout as the voter receives it: the task and two addresses, and nothing about who made what. */
export const Bout = z
  .object({
    token: Token,
    ordinal: z.int().positive(),
    prompt: z.object({
      title: z.string(),
      kind: Kind,
      summary: z.string(),
      text: z.string(),
      turns: z.array(z.string()).describe("What was asked after it, in order."),
      watchpoints: z.array(z.string()),
      motion: z.boolean().describe("Whether the text or a later turn asks for something that moves by itself."),
      viewport: Viewport,
    }),
    leftUrl: z.url(),
    rightUrl: z.url(),
    leftRecordingUrl: z.url(),
    rightRecordingUrl: z.url(),
    leftNeeds: z.array(z.string()).describe("What the page asks a machine for, as in: Asks for a camera."),
    rightNeeds: z.array(z.string()),
  })
  .meta({ id: "Bout" });
export type Bout = z.infer<typeof Bout>;

export const BoothQueue = z
  .object({
    quota: z.int(),
    done: z.int(),
    canTakeBack: z.boolean(),
    bouts: z.array(Bout).max(2).describe("The bout to vote on and the next one, for loading ahead."),
    exhausted: z.boolean().describe("Every pair that could be shown has been."),
  })
  .meta({ id: "BoothQueue" });
export type BoothQueue = z.infer<typeof BoothQueue>;

export const Reason = z.enum(["looks", "motion", "controls", "follows-prompt", "legible", "bugs"]);
export type Reason = z.infer<typeof Reason>;

/** What a voter saw the pages with. It is kept with the ballot, to see whether ratings differ by it, and shown in the booth nowhere. */
export const SeenWith = z
  .strictObject({
    width: z.int().min(0).max(100_000).describe("Of the window, in CSS pixels."),
    height: z.int().min(0).max(100_000),
    pointer: z.enum(["mouse", "touch", "pen", "none"]),
    frameRate: z.int().min(0).max(1000).nullable().describe("Frames a second; null where too few were drawn to tell."),
  })
  .meta({ id: "SeenWith" });
export type SeenWith = z.infer<typeof SeenWith>;

export const BallotInput = z
  .strictObject({
    /** −2 left by far … 0 even … 2 right by far. */
    lean: z.int().min(-2).max(2),
    leftWorks: z.boolean().default(true),
    rightWorks: z.boolean().default(true),
    reasons: z.array(Reason).max(6).default([]),
    note: z.string().trim().max(2000).default(""),
    /** From both stages being visible to the confirmed choice, in milliseconds. */
    dwellMs: z.int().min(0).max(86_400_000),
    /** Whether the voter used either page: clicked into it, or gave it the keyboard. */
    leftTouched: z.boolean().default(false),
    rightTouched: z.boolean().default(false),
    seenWith: SeenWith.nullable().default(null),
  })
  .meta({ id: "BallotInput" });
export type BallotInput = z.infer<typeof BallotInput>;

/** Done so far, and what comes next, so that no second question is needed. */
export const BallotReceipt = z
  .object({ done: z.int(), quota: z.int(), queue: BoothQueue })
  .meta({ id: "BallotReceipt" });
export type BallotReceipt = z.infer<typeof BallotReceipt>;

const Share = z.object({ share: z.number(), low: z.number(), high: z.number(), of: z.int() });

/** How far a voter can be relied on. Each figure is null where there is nothing to count. */
export const VoterReliability = z
  .object({
    voterId: Id,
    panelTitle: z.string(),
    name: z.string(),
    sample: z.boolean(),
    ballots: z.int(),
    leftShare: Share.nullable().describe("Of decisive ballots, those for the left; Wilson 95 % interval."),
    evenShare: z.number().nullable(),
    selfAgreement: z.object({ share: z.number(), of: z.int() }).nullable().describe("On bouts shown twice."),
    agreement: Share.nullable().describe(
      "Of decisive ballots, those that agree with ratings fitted without this voter.",
    ),
    medianDwellMs: z.number().nullable(),
    flags: z.array(z.string()).describe("What the evidence makes doubtful, in words with figures."),
    leftOut: z.string().nullable(),
  })
  .meta({ id: "VoterReliability" });
export type VoterReliability = z.infer<typeof VoterReliability>;

/** Bouts of two entries on which voters lean both ways. */
export const Dispute = z
  .object({
    promptId: Id,
    promptTitle: z.string(),
    firstEntryId: Id,
    secondEntryId: Id,
    firstEntrantId: Id,
    secondEntrantId: Id,
    leans: z.array(z.int()).describe("Each ballot's lean, turned so that the first is left."),
  })
  .meta({ id: "Dispute" });

export const VotingReport = z
  .object({
    ballots: z.int(),
    ballotsLastHour: z.int(),
    hours: z
      .array(z.object({ at: Instant, ballots: z.int() }))
      .describe("Ballots of each of the last 24 hours with any."),
    voters: z.array(VoterReliability),
    thinPairs: z
      .array(z.object({ firstId: Id, secondId: Id, ballots: z.int() }))
      .describe("Pairs of entrants with the fewest ballots, fewest first."),
    promptsWithout: z.array(z.object({ id: Id, title: z.string() })).describe("Prompts that no ballot counts for."),
    disputes: z.array(Dispute),
    reasons: z.array(z.object({ entrantId: Id, kind: Kind, reason: Reason, preferred: z.int(), other: z.int() })),
    skips: z.array(z.object({ reason: SkipReason, count: z.int() })),
    entrants: z.array(
      z.object({ id: Id, name: z.string(), glyph: z.int(), versionId: Id.describe("As it is set up now.") }),
    ),
  })
  .meta({ id: "VotingReport" });
export type VotingReport = z.infer<typeof VotingReport>;

/** Which ballots are listed. */
export const BallotFilter = z.enum(["all", "that count", "with a note", "voided", "set aside"]);
export type BallotFilter = z.infer<typeof BallotFilter>;

/** What ballots are listed of; all of it together. */
export const BallotScope = z.object({
  voterId: Id.optional(),
  ofId: Id.optional().describe("A version that stood on either side."),
  againstId: Id.optional().describe("A version that it stood against."),
  promptId: Id.optional(),
  panelId: Id.optional(),
  contest: Contest.optional().describe("Of it alone; what counts is then what its own figures count."),
  counting: z
    .string()
    .max(20_000)
    .optional()
    .describe("What counts, in the words of the standings' address, as in kind=game&broken=lose: those ballots alone."),
});
export type BallotScope = z.infer<typeof BallotScope>;

/** A ballot as the lead reads it, with the names that the voter did not see. */
export const BallotLine = z
  .object({
    id: Id,
    castAt: Instant,
    ordinal: z.int().describe("The bout's place among the voter's."),
    voterId: Id,
    voterName: z.string(),
    panelTitle: z.string(),
    sample: z.boolean(),
    promptTitle: z.string(),
    leftEntryId: z.uuid(),
    rightEntryId: z.uuid(),
    leftEntrantId: Id,
    rightEntrantId: Id,
    lean: z.int(),
    leftWorks: z.boolean(),
    rightWorks: z.boolean(),
    reasons: z.array(Reason),
    note: z.string(),
    dwellMs: z.int(),
    isAutomatic: z.boolean().describe("Counted without being shown, because one entry shows nothing."),
    isRepeat: z.boolean(),
    contest: Contest.describe("All but those between entrants are kept out of the ratings."),
    leftForm: z.string().describe("Which form of its page stood left, as in: take 2; empty between entrants."),
    rightForm: z.string(),
    seenWith: SeenWith.nullable().describe("Null of ballots that were not cast in the booth, or before it was kept."),
    askedBecause: z.string().describe("Why this pair was put before this voter; no voter reads it."),
    voided: z
      .object({ at: Instant, by: z.enum(["voter", "lead", "redo", "mismatch"]), why: z.string() })
      .nullable()
      .describe("Set when it does not count any more."),
  })
  .meta({ id: "BallotLine" });
export type BallotLine = z.infer<typeof BallotLine>;

export const BallotList = z
  .object({
    ballots: z.array(BallotLine).describe("Newest first, up to 50."),
    total: z.int(),
    before: z.string().nullable().describe("With which the next older ones are asked for; null at the end."),
  })
  .meta({ id: "BallotList" });
export type BallotList = z.infer<typeof BallotList>;

export const AuditLine = z
  .object({
    id: z.int(),
    at: Instant,
    actor: z.enum(["lead", "voter", "tourney"]),
    action: z.string(),
    panelTitle: z.string().nullable(),
    voterName: z.string().nullable(),
    detail: z.record(z.string(), z.unknown()),
  })
  .meta({ id: "AuditLine" });
export type AuditLine = z.infer<typeof AuditLine>;
