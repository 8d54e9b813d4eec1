import * as z from "zod";
import { Id, Instant } from "./common.js";
import { defineOperation } from "./operation.js";

/** What ballots are cast for: the first so many told apart from each other and from the rest, or all intervals no wider than so many points. */
export const StoppingGoal = z
  .discriminatedUnion("kind", [
    z.strictObject({ kind: z.literal("first"), count: z.int().min(1).max(20) }),
    z.strictObject({ kind: z.literal("within"), points: z.int().min(5).max(500) }),
  ])
  .meta({ id: "StoppingGoal" });
export type StoppingGoal = z.infer<typeof StoppingGoal>;

export const StoppingPlanInput = z
  .strictObject({
    goal: StoppingGoal,
    mostBallots: z.int().min(10).max(1_000_000).describe("Of those that count; the last look is at so many."),
    looks: z.int().min(1).max(10).describe("How often it is looked whether the goal is met, evenly spaced."),
  })
  .meta({ id: "StoppingPlanInput" });
export type StoppingPlanInput = z.infer<typeof StoppingPlanInput>;

export const StoppingPlan = z
  .object({
    id: Id,
    ...StoppingPlanInput.shape,
    ballotsBefore: z.int().describe("Ballots that counted when it was set: no look is at so few."),
    setAt: Instant,
    givenUpAt: Instant.nullable(),
  })
  .meta({ id: "StoppingPlan" });
export type StoppingPlan = z.infer<typeof StoppingPlan>;

export const StoppingLook = z.object({
  ballots: z.int(),
  isMet: z.boolean().nullable().describe("Null while there are not so many ballots."),
  reached: z
    .number()
    .nullable()
    .describe("Of the first so many, how many are told apart; or the widest interval's half-width in points."),
});
export type StoppingLook = z.infer<typeof StoppingLook>;

/** The plan that holds, and what its looks came to. */
export const StoppingState = z
  .object({
    plan: StoppingPlan.nullable(),
    earlier: z.array(StoppingPlan).describe("Plans that were given up, the newest first."),
    ballots: z.int().describe("That count now."),
    looks: z.array(StoppingLook),
    metAfter: z.int().nullable().describe("The ballots of the first look at which the goal was met."),
    isOver: z.boolean().describe("It is met, or all looks are taken."),
  })
  .meta({ id: "StoppingState" });
export type StoppingState = z.infer<typeof StoppingState>;

const editionParams = z.object({ editionId: Id });

export const STOPPING_OPERATIONS = {
  getStopping: defineOperation({
    id: "getStopping",
    method: "get",
    path: "/api/editions/:editionId/stopping",
    summary: "The stopping plan of the edition, and what its looks came to",
    params: editionParams,
    response: StoppingState,
  }),
  setStopping: defineOperation({
    id: "setStopping",
    method: "post",
    path: "/api/editions/:editionId/stopping",
    summary: "Set a stopping plan before the ballots are cast; one that holds must be given up first",
    params: editionParams,
    body: StoppingPlanInput,
    response: StoppingState,
    status: 201,
  }),
  giveUpStopping: defineOperation({
    id: "giveUpStopping",
    method: "put",
    path: "/api/stopping-plans/:planId",
    summary: "Give a stopping plan up, or take it up again while no other holds",
    params: z.object({ planId: Id }),
    body: z.strictObject({ givenUp: z.boolean() }),
    response: StoppingPlan,
  }),
} as const;
