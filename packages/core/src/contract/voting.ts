import * as z from "zod";
import { Id, Instant } from "./common.js";
import { Kind, Viewport } from "./suite.js";

export const PanelInput = z
  .strictObject({
    editionId: Id,
    title: z.string().trim().min(1, "give the panel a name").max(80),
    quota: z.int().min(1).max(1000).default(20),
    message: z.string().trim().max(2000).default(""),
  })
  .meta({ id: "PanelInput" });
export type PanelInput = z.infer<typeof PanelInput>;

export const Panel = z
  .object({
    id: Id,
    ...PanelInput.shape,
    url: z.url().describe("The open invitation: it makes a voter on first use."),
    sample: z.boolean(),
    createdAt: Instant,
    ballots: z.int(),
    voters: z.array(
      z.object({ id: Id, name: z.string(), sample: z.boolean(), ballots: z.int(), lastBallotAt: Instant.nullable() }),
    ),
  })
  .meta({ id: "Panel" });
export type Panel = z.infer<typeof Panel>;

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
      watchpoints: z.array(z.string()),
      viewport: Viewport,
    }),
    leftUrl: z.url(),
    rightUrl: z.url(),
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
  })
  .meta({ id: "BallotInput" });
export type BallotInput = z.infer<typeof BallotInput>;

export const BallotReceipt = z.object({ done: z.int(), quota: z.int() }).meta({ id: "BallotReceipt" });
