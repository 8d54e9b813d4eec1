import * as z from "zod";
import { Id, Instant, Sha256 } from "./common.js";
import { defineOperation } from "./operation.js";
import { Standing } from "./standings.js";
import { StandingsViewInput, WhatCounts } from "./what-counts.js";

/** Standings as they were at a moment: the figures, what counted, by which method, and a digest of the ballots. They never change. */
export const StandingsSnapshot = z
  .object({
    id: Id,
    editionId: Id,
    name: z.string(),
    counts: WhatCounts,
    methodVersion: z.string(),
    inputDigest: Sha256.describe("Of the ballots as they were counted: equal digests, equal ballots."),
    ballots: z.int(),
    takenAt: Instant,
    removedAt: Instant.nullable(),
  })
  .meta({ id: "StandingsSnapshot" });
export type StandingsSnapshot = z.output<typeof StandingsSnapshot>;

/** What standings said of an entrant on one side of a comparison. */
const Figures = Standing.pick({ rating: true, halfWidth: true, rankRange: true, ballots: true });

/** What changed about a ballot between two moments. */
export const BallotChange = z
  .object({
    ballotId: Id,
    change: z.enum(["counts now", "counts no more", "counts otherwise"]),
    why: z.string(),
    castAt: Instant,
    voterName: z.string(),
    promptKey: z.string(),
    leftName: z.string(),
    rightName: z.string(),
    leftEntryId: Id,
    rightEntryId: Id,
    lean: z.int().describe("As it counts now, or did."),
  })
  .meta({ id: "BallotChange" });
export type BallotChange = z.infer<typeof BallotChange>;

const Side = StandingsSnapshot.pick({
  ...{ name: true, counts: true, methodVersion: true, inputDigest: true, ballots: true, takenAt: true },
});

/** Two moments of standings, and which ballots made the difference. */
export const StandingsChanges = z
  .object({
    from: Side,
    to: Side,
    isSameMethod: z.boolean(),
    isSameChoice: z.boolean().describe("Whether the same is chosen to count."),
    rows: z
      .array(
        z.object({
          ...Standing.pick({ entrant: true, version: true }).shape,
          from: Figures.nullable().describe("Null where it was not among the entrants."),
          to: Figures.nullable(),
        }),
      )
      .describe("In the order of the later one."),
    reasons: z
      .array(z.object({ change: BallotChange.shape.change, why: z.string(), ballots: z.int() }))
      .describe("How many ballots changed, by why; the most first."),
    ballots: z.array(BallotChange).describe("The newest of them, up to 100."),
  })
  .meta({ id: "StandingsChanges" });
export type StandingsChanges = z.output<typeof StandingsChanges>;

const editionParams = z.object({ editionId: Id });
const snapshotParams = z.object({ snapshotId: Id });

export const SNAPSHOT_OPERATIONS = {
  listSnapshots: defineOperation({
    id: "listSnapshots",
    method: "get",
    path: "/api/editions/:editionId/snapshots",
    summary: "Snapshots of the edition's standings, the newest first",
    params: editionParams,
    response: z.array(StandingsSnapshot),
  }),
  takeSnapshot: defineOperation({
    id: "takeSnapshot",
    method: "post",
    path: "/api/editions/:editionId/snapshots",
    summary: "Keep the standings as they are now, by a choice of what counts",
    params: editionParams,
    body: StandingsViewInput,
    response: StandingsSnapshot,
    status: 201,
  }),
  setSnapshot: defineOperation({
    id: "setSnapshot",
    method: "put",
    path: "/api/snapshots/:snapshotId",
    summary: "Remove a snapshot from the list, or put it back",
    params: snapshotParams,
    body: z.strictObject({ removed: z.boolean() }),
    response: StandingsSnapshot,
  }),
  getChanges: defineOperation({
    id: "getChanges",
    method: "get",
    path: "/api/snapshots/:snapshotId/changes",
    summary: "What changed since a snapshot, until another or now, and because of which ballots",
    params: snapshotParams,
    query: z.object({ until: Id.optional().describe("A later snapshot of the edition; now unless given.") }),
    response: StandingsChanges,
  }),
} as const;
