import * as z from "zod";
import { Id, Instant } from "./common.js";
import { defineOperation } from "./operation.js";

/** Which takes are to be asked for again, and why: one cell, a row, a column, or all of an edition. */
export const RedoRequest = z
  .strictObject({
    editionId: Id,
    promptId: Id.optional().describe("All prompts unless given."),
    entrantId: Id.optional().describe("All entrants unless given."),
    take: z.int().min(1).max(100).optional().describe("All takes unless given."),
    only: z.enum(["all", "mismatched"]).default("all").describe("Or those that another model answered."),
    reason: z.string().trim().min(3, "say why in a few words").max(500),
  })
  .meta({ id: "RedoRequest" });
export type RedoRequest = z.infer<typeof RedoRequest>;

export const Redo = z
  .object({
    id: Id,
    editionId: Id,
    reason: z.string(),
    createdAt: Instant,
    undoneAt: Instant.nullable(),
    runId: Id.nullable().describe("The run that asks again; null where all answers were by hand."),
    superseded: z.int().describe("Takes whose answer was set aside."),
    ballots: z.int().describe("Ballots that were set aside with them."),
  })
  .meta({ id: "Redo" });
export type Redo = z.infer<typeof Redo>;

/** What can be done with answers that should not stand as they are. */
export const REDO_OPERATIONS = {
  redoTakes: defineOperation({
    id: "redoTakes",
    method: "post",
    path: "/api/redos",
    summary: "Ask for takes again, with a reason; the old answers are superseded and stay readable",
    body: RedoRequest,
    response: Redo,
    status: 201,
  }),
  listRedos: defineOperation({
    id: "listRedos",
    method: "get",
    path: "/api/editions/:editionId/redos",
    summary: "The redos of an edition, newest first",
    params: z.object({ editionId: Id }),
    response: z.array(Redo),
  }),
  undoRedo: defineOperation({
    id: "undoRedo",
    method: "post",
    path: "/api/redos/:redoId/undo",
    summary: "Let the old answers and their ballots hold again",
    params: z.object({ redoId: Id }),
    response: Redo,
  }),
} as const;
